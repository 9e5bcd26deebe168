import { useSuspenseQuery } from '@tanstack/react-query'
import { useState } from 'react'
import styled from 'styled-components'
import { factsQuery } from '../../shared/facts'
import { asKept, emptyRow, isWhole, RecordRows, type TypedRow } from '../../shared/RecordRows'
import { recordKindsQuery } from '../../shared/records'
import { Button } from '../../ui/Button'
import { Choice, Fields, Labelled } from '../../ui/fields'
import { Muted, Row, Stack } from '../../ui/layout'
import { Tick, ticked } from '../../ui/Tick'
import type { Evidence, SeenFinding } from './caseState'
import type { Choices } from './queries'
import { place, words } from './words'

const NO_PLACE = 'no place'

export interface Begun {
  test: string
  at: string | null
  conditions: string[]
}

interface Props {
  begun: Begun
  choices: Choices
  places: Record<string, string[]>
  cylinders: number
  onAdd: (evidence: Evidence) => void
}

/** One capture or record being written down: where, under what, and what it showed. */
export function AddEvidence({ begun, choices, places, cylinders, onAdd }: Props) {
  const { data: kinds } = useSuspenseQuery(recordKindsQuery)
  const { data: facts } = useSuspenseQuery(factsQuery)
  const [test, setTest] = useState(begun.test)
  const [at, setAt] = useState(begun.at)
  const [conditions, setConditions] = useState(begun.conditions)
  const [unclear, setUnclear] = useState(false)
  const [found, setFound] = useState<SeenFinding[]>([])
  const kind = kinds.find((k) => k.key === test)
  const circuit = facts.circuits.find((c) => c.code === test)
  const [rows, setRows] = useState<TypedRow[]>(() => (kind ? [emptyRow(kind)] : []))
  const choose = (key: string) => {
    const other = kinds.find((k) => k.key === key)
    setTest(key)
    setAt(null)
    setFound([])
    setUnclear(false)
    setRows(other ? [emptyRow(other)] : [])
  }
  const whole = !kind || (rows.length > 0 && rows.every((r) => isWhole(kind, r)))
  const add = () =>
    onAdd({
      test,
      ...(at ? { at } : {}),
      conditions,
      ...(kind
        ? { rows: rows.map((r) => asKept(kind, r)) }
        : {
            answer: {
              call: found.length ? 'faulty' : unclear ? 'inconclusive' : 'sound',
              findings: found,
              readings: [],
            },
          }),
    })
  return (
    <Stack $gap={10}>
      <Fields $least={200}>
        <Choice
          label="Capture or record"
          value={test}
          options={choices.tests.map((t) => ({ key: t.key, text: t.title }))}
          onChange={choose}
        />
        <Choice
          label="Where"
          value={at ?? NO_PLACE}
          options={[NO_PLACE, ...(places[test] ?? [])].map((p) => ({ key: p, text: place(p) }))}
          onChange={(p) => setAt(p === NO_PLACE ? null : p)}
        />
      </Fields>
      <Labelled label="Under these conditions">
        <Ticks>
          {choices.conditions.map((c) => (
            <Tick
              key={c}
              on={conditions.includes(c)}
              onSet={(on) => setConditions(ticked(conditions, c, on))}
            >
              {words(c)}
            </Tick>
          ))}
        </Ticks>
      </Labelled>
      {kind && <RecordRows kind={kind} rows={rows} onRows={setRows} pegS={null} />}
      {circuit && (
        <Findings
          declared={circuit.findings.filter((f) => f.kind === 'fault')}
          found={found}
          cylinders={cylinders}
          onFound={setFound}
        />
      )}
      {circuit && found.length === 0 && (
        <Tick on={unclear} onSet={setUnclear}>
          The capture cannot tell
        </Tick>
      )}
      <Row>
        <Button $main isDisabled={!whole} onPress={add}>
          Add to the evidence
        </Button>
        {!whole && <Muted>Every needed cell wants its value.</Muted>}
      </Row>
    </Stack>
  )
}

interface FindingsProps {
  declared: { code: string; title: string }[]
  found: SeenFinding[]
  cylinders: number
  onFound: (found: SeenFinding[]) => void
}

const ANY = 'not told'

/** Which findings the capture showed, and the cylinder of the last one ticked. */
function Findings({ declared, found, cylinders, onFound }: FindingsProps) {
  const numbers = Array.from({ length: cylinders }, (_, k) => String(k + 1))
  return (
    <Labelled label="It showed (nothing ticked: sound)">
      <Stack $gap={4}>
        {declared.map((f) => {
          const mine = found.find((x) => x.code === f.code)
          return (
            <Row key={f.code} $gap={12}>
              <Tick
                on={mine !== undefined}
                onSet={(on) =>
                  onFound(
                    on
                      ? [...found, { code: f.code, kind: 'fault', cylinder: null }]
                      : found.filter((x) => x.code !== f.code),
                  )
                }
              >
                {f.title}
              </Tick>
              {mine && (
                <Narrow>
                  <Choice
                    hidden
                    label={`Cylinder of ${f.title}`}
                    value={mine.cylinder === null ? ANY : String(mine.cylinder)}
                    options={[ANY, ...numbers].map((n) => ({
                      key: n,
                      text: n === ANY ? n : `cylinder ${n}`,
                    }))}
                    onChange={(n) =>
                      onFound(
                        found.map((x) => (x === mine ? { ...x, cylinder: n === ANY ? null : Number(n) } : x)),
                      )
                    }
                  />
                </Narrow>
              )}
            </Row>
          )
        })}
      </Stack>
    </Labelled>
  )
}

const Ticks = styled.div`
  display: flex;
  flex-wrap: wrap;
  gap: 2px 14px;
`

const Narrow = styled.div`
  width: 150px;
`
