import { figures, fixed, typedNumber } from '../../ui/numbers'
import type { LimitDraft } from './limitDraft'
import { useMutation, useSuspenseQuery } from '@tanstack/react-query'
import { useEffect, useRef, useState } from 'react'
import styled from 'styled-components'
import type { Pegs } from '../../plot/types'
import { factsQuery, type Circuit } from '../../shared/facts'
import { BASIS } from '../../shared/limits'
import { Button } from '../../ui/Button'
import { Choice, Fields, Text } from '../../ui/fields'
import { Muted, Note, Row, Stack, Table } from '../../ui/layout'
import { lastProvenance, ownFleet, vehiclesQuery, type Reference, type ReferenceDocument } from './queries'

/** What each part of a sheet is given. */
export interface PartProps {
  reference: Reference
  circuit: Circuit
  pegs: Pegs
  selected: string | null
  onSelect: (id: string | null) => void
  onSave: (document: ReferenceDocument) => void
  saving: boolean
}

const spanOf = (pegs: Pegs): { from: number; to: number } | null => {
  const at = pegs.filter((p) => p !== null)
  return at.length ? { from: Math.min(...at), to: Math.max(...at) } : null
}

const spanText = (span: { from: number; to: number } | null) =>
  span === null
    ? 'set a peg on the trace first'
    : span.from === span.to
      ? `at ${fixed(span.from, 3)} s`
      : `${fixed(span.from, 3)} to ${fixed(span.to, 3)} s`

interface TagProps extends PartProps {
  /** Counts how often one asked by key to write a tag. */
  begin: number
}

/** What pieces of the trace mean; a new one stands at the pegs. */
export function Tags({ reference, circuit, pegs, selected, onSelect, onSave, saving, begin }: TagProps) {
  const [text, setText] = useState('')
  const [lane, setLane] = useState(circuit.lanes[0]?.name ?? 'signal')
  const span = spanOf(pegs)
  const { document } = reference
  // Opened by its key, one writes at once.
  const box = useRef<HTMLDivElement>(null)
  useEffect(() => {
    if (begin) box.current?.querySelector('textarea')?.focus()
  }, [begin])
  return (
    <Inside aria-label="Tags">
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
              <span className="num">{fixed(tag.from, 2)} s</span> {tag.text}
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
        <div ref={box}>
          <Text hidden label="New tag" value={text} onChange={setText} lines={2} />
        </div>
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
    </Inside>
  )
}

interface LimitProps extends PartProps {
  draft: LimitDraft
  onDraft: (draft: LimitDraft) => void
}

/** Limits on readings, each with what it rests on; the one that is being set is drawn on the trace. */
export function Limits({ reference, circuit, onSave, saving, draft, onDraft }: LimitProps) {
  const { reading, low, high, basis, zone, source, when } = draft
  const { data: facts } = useSuspenseQuery(factsQuery)
  const under = (key: string) => facts.conditions.find((c) => c.key === key)?.text ?? key
  const set = (change: Partial<LimitDraft>) => onDraft({ ...draft, ...change })
  const { document } = reference
  const number = typedNumber
  const usable =
    [number(low), number(high)].some((v) => v !== null) &&
    [number(low), number(high), number(zone)].every((v) => v === null || Number.isFinite(v))
  const fleet = useMutation({
    mutationFn: () => ownFleet(reference.id, reading),
    onSuccess: (told) =>
      set({
        low: String(told.low),
        high: String(told.high),
        basis: 'own-fleet',
        source: told.source,
      }),
  })
  const title = (id: string) => circuit.readings.find((r) => r.id === id)?.title ?? id
  return (
    <Inside aria-label="Limits of this reference">
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
                    {l.when && <Muted> {under(l.when)}</Muted>}
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
            onChange={(reading) => set({ reading })}
            options={circuit.readings.map((r) => ({ key: r.id, text: `${r.title} ${r.unit}` }))}
          />
          <Text label="Least" value={low} onChange={(low) => set({ low })} />
          <Text label="Most" value={high} onChange={(high) => set({ high })} />
          <Choice
            label="Basis"
            value={basis}
            onChange={(key) => set({ basis: key as LimitDraft['basis'] })}
            options={[
              { key: 'maker', text: 'Maker' },
              { key: 'own-fleet', text: 'Own fleet' },
              { key: 'common-practice', text: 'Common practice' },
            ]}
          />
          <Text label="Marginal by" value={zone} onChange={(zone) => set({ zone })} />
          <Choice
            label="Holds"
            value={when}
            onChange={(key) => set({ when: key })}
            options={facts.conditions}
          />
          <Text label="Where it stands" value={source} onChange={(source) => set({ source })} />
        </Fields>
        <Row>
          <Button
            isDisabled={!usable || saving}
            onPress={() => {
              const limit = {
                reading,
                low: number(low),
                high: number(high),
                basis,
                marginal: number(zone),
                condemns: true,
                source: source.trim(),
                when: when === 'always' ? '' : when,
              }
              const others = document.limits.filter(
                (l) => l.reading !== reading || l.basis !== basis || (l.when ?? '') !== limit.when,
              )
              onSave({ ...document, limits: [...others, limit] })
              set({ low: '', high: '', zone: '' })
            }}
          >
            Set limit
          </Button>
          <Button isDisabled={fleet.isPending} onPress={() => fleet.mutate()}>
            From the own fleet
          </Button>
        </Row>
        {fleet.error && <Note kind="warn">{fleet.error.message}</Note>}
        {fleet.data?.reading === reading && (
          <Muted>
            {fleet.data.source}: mean {figures(fleet.data.mean, 4)}, spread {figures(fleet.data.sd, 2)}. Look
            at it, then set it.
          </Muted>
        )}
      </Stack>
    </Inside>
  )
}

/** Phases that a person put right. */
export function Phases({ reference, circuit, pegs, onSave, saving }: PartProps) {
  const [name, setName] = useState(circuit.phases[0]?.name ?? '')
  const span = spanOf(pegs)
  const { document } = reference
  return (
    <Inside aria-label="Phases">
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
                {fixed(p.from, 2)} to {fixed(p.to, 2)} s
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
    </Inside>
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

/** Vehicle, conditions and how it was taken. */
export function Provenance({ reference, onSave, saving }: PartProps) {
  const { data: vehicles } = useSuspenseQuery(vehiclesQuery)
  const [draft, setDraft] = useState(reference.document.provenance)
  const [notes, setNotes] = useState(reference.document.notes)
  const changed =
    JSON.stringify([draft, notes]) !==
    JSON.stringify([reference.document.provenance, reference.document.notes])
  const known = vehicles.some((v) => v.name === draft.vehicle)
  const fill = useMutation({
    mutationFn: () => lastProvenance(reference.id, reference.circuit),
    onSuccess: (last) => {
      if (!last) return
      const empty = Object.entries(last).filter(([key]) => !draft[key as keyof typeof draft])
      setDraft({ ...draft, ...Object.fromEntries(empty) })
    },
  })
  return (
    <Inside aria-label="Where it comes from">
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
          <Button isDisabled={fill.isPending} onPress={() => fill.mutate()}>
            Fill what is empty as on the last sheet
          </Button>
        </Row>
        {(fill.error ?? fill.data === null) && (
          <Note kind="warn">{fill.error?.message ?? 'There is no other sheet of this circuit yet.'}</Note>
        )}
      </Stack>
    </Inside>
  )
}

const Inside = styled.section`
  padding: 12px 14px;
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
