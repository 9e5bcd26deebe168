import { useSuspenseQuery } from '@tanstack/react-query'
import { useState } from 'react'
import styled from 'styled-components'
import type { Pegs } from '../../plot/types'
import type { Circuit } from '../../shared/facts'
import { BASIS } from '../../shared/limits'
import { besideCapture } from '../../shared/records'
import { RecordsPanel } from '../../shared/RecordsPanel'
import { Button } from '../../ui/Button'
import { Choice, Fields, Text } from '../../ui/fields'
import { Muted, Panel, Row, Stack, Table } from '../../ui/layout'
import { ReferenceTold } from './ReferenceTold'
import { vehiclesQuery, type Reference, type ReferenceDocument } from './queries'

interface Props {
  reference: Reference
  circuit: Circuit
  pegs: Pegs
  selected: string | null
  onSelect: (id: string | null) => void
  onSave: (document: ReferenceDocument) => void
  saving: boolean
}

/** Tags, phases, limits, what is told, and provenance of a reference. */
export function ReferenceEditor(props: Props) {
  return (
    <Grid>
      <Tags {...props} />
      <Limits {...props} />
      <Phases {...props} />
      <ReferenceTold {...props} />
      <Provenance {...props} />
      <RecordsPanel place={besideCapture(props.reference.capture_id)} pegS={props.pegs[0]} />
    </Grid>
  )
}

const spanOf = (pegs: Pegs): { from: number; to: number } | null => {
  const at = pegs.filter((p) => p !== null)
  return at.length ? { from: Math.min(...at), to: Math.max(...at) } : null
}

const spanText = (span: { from: number; to: number } | null) =>
  span === null
    ? 'set a peg on the trace first'
    : span.from === span.to
      ? `at ${span.from.toFixed(3)} s`
      : `${span.from.toFixed(3)} to ${span.to.toFixed(3)} s`

function Tags({ reference, circuit, pegs, selected, onSelect, onSave, saving }: Props) {
  const [text, setText] = useState('')
  const [lane, setLane] = useState(circuit.lanes[0]?.name ?? 'signal')
  const span = spanOf(pegs)
  const { document } = reference
  return (
    <Panel>
      <h2>Tags</h2>
      <Stack $gap={8}>
        {document.tags.length === 0 && (
          <Muted>Say what a piece of the trace means. Set one or two pegs, then write.</Muted>
        )}
        {document.tags.map((tag, k) => (
          <Row key={k} $gap={6} style={{ flexWrap: 'nowrap' }}>
            <Chosen
              aria-pressed={selected === `tag-${k}`}
              onClick={() => onSelect(selected === `tag-${k}` ? null : `tag-${k}`)}
            >
              <span className="num">{tag.from.toFixed(2)} s</span> {tag.text}
            </Chosen>
            <Button
              $quiet
              aria-label={`Take the tag away: ${tag.text}`}
              onPress={() => {
                onSelect(null)
                onSave({ ...document, tags: document.tags.filter((_, j) => j !== k) })
              }}
            >
              ✕
            </Button>
          </Row>
        ))}
        <Text hidden label="New tag" value={text} onChange={setText} lines={2} />
        <Row>
          <div style={{ width: 130 }}>
            <Choice
              hidden
              label="Lane of the tag"
              value={lane}
              onChange={setLane}
              options={circuit.lanes.map((l) => ({ key: l.name, text: l.title }))}
            />
          </div>
          <Button
            isDisabled={!span || !text.trim() || saving}
            onPress={() => {
              if (span) onSave({ ...document, tags: [...document.tags, { ...span, lane, text }] })
              setText('')
            }}
          >
            Add tag
          </Button>
          <Muted>{spanText(span)}</Muted>
        </Row>
      </Stack>
    </Panel>
  )
}

function Limits({ reference, circuit, onSave, saving }: Props) {
  const [reading, setReading] = useState(circuit.readings[0]?.id ?? '')
  const [low, setLow] = useState('')
  const [high, setHigh] = useState('')
  const [basis, setBasis] = useState('maker')
  const [zone, setZone] = useState('')
  const [source, setSource] = useState('')
  const { document } = reference
  const number = (t: string) => (t.trim() ? Number(t.replace(',', '.')) : null)
  const usable =
    [number(low), number(high)].some((v) => v !== null) &&
    [number(low), number(high), number(zone)].every((v) => v === null || Number.isFinite(v))
  const title = (id: string) => circuit.readings.find((r) => r.id === id)?.title ?? id
  return (
    <Panel>
      <h2>Limits of this reference</h2>
      <Stack $gap={8}>
        <Muted>
          The maker’s figure outranks your fleet’s, and that outranks common practice. Marginal is 5 % of the
          span beyond it unless you say otherwise.
        </Muted>
        {document.limits.length > 0 && (
          <Table>
            <tbody>
              {document.limits.map((l, k) => (
                <tr key={k}>
                  <td>{title(l.reading)}</td>
                  <td className="num">
                    {l.low ?? '…'} to {l.high ?? '…'}
                  </td>
                  <td>
                    {BASIS[l.basis]}
                    {l.source && <Muted> {l.source}</Muted>}
                    {l.marginal !== null && <Muted> zone {l.marginal}</Muted>}
                  </td>
                  <td>
                    <Button
                      $quiet
                      aria-label={`Take the limit on ${title(l.reading)} away`}
                      onPress={() =>
                        onSave({ ...document, limits: document.limits.filter((_, j) => j !== k) })
                      }
                    >
                      ✕
                    </Button>
                  </td>
                </tr>
              ))}
            </tbody>
          </Table>
        )}
        <Fields $least={110}>
          <Choice
            label="Reading"
            value={reading}
            onChange={setReading}
            options={circuit.readings.map((r) => ({ key: r.id, text: `${r.title} ${r.unit}` }))}
          />
          <Text label="Least" value={low} onChange={setLow} />
          <Text label="Most" value={high} onChange={setHigh} />
          <Choice
            label="Basis"
            value={basis}
            onChange={setBasis}
            options={[
              { key: 'maker', text: 'Maker' },
              { key: 'own-fleet', text: 'Own fleet' },
              { key: 'common-practice', text: 'Common practice' },
            ]}
          />
          <Text label="Marginal by" value={zone} onChange={setZone} />
          <Text label="Where it stands" value={source} onChange={setSource} />
        </Fields>
        <Row>
          <Button
            isDisabled={!usable || saving}
            onPress={() => {
              const limit = {
                reading,
                low: number(low),
                high: number(high),
                basis: basis as 'maker',
                marginal: number(zone),
                condemns: true,
                source: source.trim(),
              }
              const others = document.limits.filter((l) => l.reading !== reading || l.basis !== basis)
              onSave({ ...document, limits: [...others, limit] })
              setLow('')
              setHigh('')
              setZone('')
            }}
          >
            Set limit
          </Button>
        </Row>
      </Stack>
    </Panel>
  )
}

function Phases({ reference, circuit, pegs, onSave, saving }: Props) {
  const [name, setName] = useState(circuit.phases[0]?.name ?? '')
  const span = spanOf(pegs)
  const { document } = reference
  return (
    <Panel>
      <h2>Phases</h2>
      <Stack $gap={8}>
        <Muted>
          {document.phases.length
            ? 'Your phases replace those found under the same name.'
            : 'Found by themselves. Set both pegs and name the stretch to correct them.'}
        </Muted>
        {document.phases.map((p, k) => (
          <Row key={k}>
            <span>
              {p.name}{' '}
              <span className="num">
                {p.from.toFixed(2)} to {p.to.toFixed(2)} s
              </span>
            </span>
            <Button
              $quiet
              aria-label={`Take the phase ${p.name} away`}
              onPress={() => onSave({ ...document, phases: document.phases.filter((_, j) => j !== k) })}
            >
              ✕
            </Button>
          </Row>
        ))}
        <Row>
          <div style={{ width: 150 }}>
            <Choice
              hidden
              label="Phase"
              value={name}
              onChange={setName}
              options={circuit.phases.map((p) => ({ key: p.name, text: p.name }))}
            />
          </div>
          <Button
            isDisabled={!span || span.from === span.to || saving}
            onPress={() => span && onSave({ ...document, phases: [...document.phases, { name, ...span }] })}
          >
            Set from pegs
          </Button>
          <Muted>{spanText(span)}</Muted>
        </Row>
      </Stack>
    </Panel>
  )
}

const PROVENANCE: [keyof ReferenceDocument['provenance'], string][] = [
  ['engine', 'Engine'],
  ['part', 'Part'],
  ['conditions', 'Conditions'],
  ['ground', 'Ground point'],
  ['probe', 'Probe'],
  ['taken_by', 'Taken by'],
  ['taken_on', 'Taken on'],
]

function Provenance({ reference, onSave, saving }: Props) {
  const { data: vehicles } = useSuspenseQuery(vehiclesQuery)
  const [draft, setDraft] = useState(reference.document.provenance)
  const [notes, setNotes] = useState(reference.document.notes)
  const changed =
    JSON.stringify([draft, notes]) !==
    JSON.stringify([reference.document.provenance, reference.document.notes])
  const known = vehicles.some((v) => v.name === draft.vehicle)
  return (
    <Panel>
      <h2>Where it comes from</h2>
      <Stack $gap={10}>
        <Fields $least={150}>
          <Choice
            label="Vehicle"
            value={draft.vehicle || null}
            onChange={(vehicle) =>
              setDraft({
                ...draft,
                vehicle,
                engine: vehicles.find((v) => v.name === vehicle)?.engine ?? draft.engine,
              })
            }
            options={[
              ...vehicles.map((v) => ({ key: v.name, text: v.name })),
              ...(draft.vehicle && !known ? [{ key: draft.vehicle, text: draft.vehicle }] : []),
            ]}
          />
          {PROVENANCE.map(([key, label]) => (
            <Text
              key={key}
              label={label}
              value={draft[key]}
              onChange={(v) => setDraft({ ...draft, [key]: v })}
            />
          ))}
        </Fields>
        <Text label="Notes" value={notes} onChange={setNotes} lines={2} />
        <Row>
          <Button
            isDisabled={!changed || saving}
            onPress={() => onSave({ ...reference.document, provenance: draft, notes })}
          >
            Keep
          </Button>
        </Row>
      </Stack>
    </Panel>
  )
}

const Grid = styled.div`
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(380px, 1fr));
  gap: 12px;
  margin-top: 12px;
  align-items: start;
`

const Chosen = styled.button`
  flex: 1;
  padding: 5px 8px;
  border: 0;
  border-left: 3px solid ${(p) => p.theme.colour.soft};
  background: none;
  text-align: left;
  font-size: 14px;
  cursor: pointer;
  &[aria-pressed='true'] {
    background: ${(p) => p.theme.colour.pick};
  }
`
