import { useMutation, useQueryClient, useSuspenseQuery } from '@tanstack/react-query'
import { useState } from 'react'
import styled from 'styled-components'
import { Button } from '../ui/Button'
import { Choice, Text } from '../ui/fields'
import { Muted, Note, Panel, Row, Stack } from '../ui/layout'
import { KeptRecord } from './KeptRecord'
import { recordKindsQuery, type CaptureRecord, type RecordKind, type RecordPlace } from './records'

interface Props {
  place: RecordPlace
  /** Instant of the first peg, for rows that stand on the time axis. */
  pegS: number | null
}

type Typed = Record<string, string>

/** What is no trace: drop test, resistances, voltages, the log of what was done; judged and kept with the capture. */
export function RecordsPanel({ place, pegS }: Props) {
  const { data: kinds } = useSuspenseQuery(recordKindsQuery)
  const { data: records } = useSuspenseQuery(place.query)
  const client = useQueryClient()
  const [key, setKey] = useState('')
  const kind = kinds.find((k) => k.key === key)
  const kept = (next: CaptureRecord[]) => client.setQueryData(place.query.queryKey, next)
  const remove = useMutation({ mutationFn: place.remove, onSuccess: kept })
  return (
    <Panel style={{ gridColumn: '1 / -1' }}>
      <h2>Records beside the trace</h2>
      <Stack $gap={12}>
        {records.length === 0 && !kind && (
          <Muted>
            Drop test, swap, spark gap, resistance, voltages, or a log of what was wiggled and when.
          </Muted>
        )}
        {records.map((r) => (
          <KeptRecord key={r.id} record={r} onRemove={() => remove.mutate(r.id)} />
        ))}
        {remove.error && <Note kind="error">{remove.error.message}</Note>}
        <div style={{ width: 260 }}>
          <Choice
            label="Add a record"
            value={key || null}
            onChange={setKey}
            options={kinds.map((k) => ({ key: k.key, text: k.title }))}
          />
        </div>
        {kind && (
          <Entry
            key={kind.key}
            kind={kind}
            place={place}
            pegS={pegS}
            onKept={(next) => {
              kept(next)
              setKey('')
            }}
          />
        )}
      </Stack>
    </Panel>
  )
}

function Entry({
  kind,
  place,
  pegS,
  onKept,
}: {
  kind: RecordKind
  place: RecordPlace
  pegS: number | null
  onKept: (records: CaptureRecord[]) => void
}) {
  const empty = (): Typed =>
    Object.fromEntries(kind.columns.map((c) => [c.key, c.choices.length ? (c.choices[0] ?? '') : '']))
  const [rows, setRows] = useState<Typed[]>([empty()])
  const keep = useMutation({
    mutationFn: () => place.add({ kind: kind.key, rows }),
    onSuccess: onKept,
  })
  const set = (at: number, key: string, value: string) =>
    setRows(rows.map((r, k) => (k === at ? { ...r, [key]: value } : r)))
  return (
    <Stack $gap={8}>
      <Muted>{kind.advice}</Muted>
      {kind.cautions.map((c) => (
        <Caution key={c}>{c}</Caution>
      ))}
      {rows.map((row, k) => (
        <Line key={k}>
          {kind.columns.map((c) =>
            c.choices.length ? (
              <Choice
                key={c.key}
                label={c.title}
                value={row[c.key] ?? null}
                onChange={(v) => set(k, c.key, v)}
                options={c.choices.map((x) => ({ key: x, text: x }))}
              />
            ) : (
              <Text
                key={c.key}
                label={c.unit ? `${c.title}, ${c.unit}` : c.title}
                value={row[c.key] ?? ''}
                onChange={(v) => set(k, c.key, v)}
              />
            ),
          )}
          {kind.timed && (
            <Button
              isDisabled={pegS === null}
              onPress={() => pegS !== null && set(k, 'at_s', pegS.toFixed(3))}
            >
              From peg
            </Button>
          )}
          <Button
            $quiet
            aria-label={`Take row ${k + 1} away`}
            isDisabled={rows.length === 1}
            onPress={() => setRows(rows.filter((_, j) => j !== k))}
          >
            ✕
          </Button>
        </Line>
      ))}
      {keep.error && <Note kind="error">{keep.error.message}</Note>}
      <Row>
        <Button onPress={() => setRows([...rows, empty()])}>Add a row</Button>
        <Button $main isDisabled={keep.isPending} onPress={() => keep.mutate()}>
          Keep the record
        </Button>
      </Row>
    </Stack>
  )
}

const Line = styled.div`
  display: flex;
  flex-wrap: wrap;
  align-items: flex-end;
  gap: 8px;
  > :not(button) {
    flex: 1 1 130px;
    max-width: 220px;
  }
`

const Caution = styled.p`
  padding: 6px 10px;
  border-left: 4px solid ${(p) => p.theme.colour.warnEdge};
  background: ${(p) => p.theme.colour.warn};
  font-size: 13.5px;
`
