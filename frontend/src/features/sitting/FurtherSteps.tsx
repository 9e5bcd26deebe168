import { fixed, numberIn, roundedTo } from '../../ui/numbers'
import { useMutation, useQuery, useSuspenseQuery } from '@tanstack/react-query'
import { useState } from 'react'
import styled from 'styled-components'
import { RecordRows, asKept, emptyRow, isWhole, type TypedRow } from '../../shared/RecordRows'
import { recordKindsQuery } from '../../shared/records'
import { calculationsQuery } from '../../shared/sums'
import { Button } from '../../ui/Button'
import { Choice, Fields, Text } from '../../ui/fields'
import { Fold } from '../../ui/Fold'
import { Muted, Note, Row, Stack } from '../../ui/layout'
import { factsQuery } from '../../shared/facts'
import { meterAlong, type Sitting } from './queries'
import type { StepProps } from './StepProps'

/** A number that is kept as it is typed, and told once it is one. */
function Figure({
  label,
  value,
  onChange,
}: {
  label: string
  value: number | null | undefined
  onChange: (value: number | null) => void
}) {
  const [typed, setTyped] = useState<string | null>(null)
  return (
    <Text
      label={label}
      value={typed ?? (value === null || value === undefined ? '' : String(value))}
      onChange={(text) => {
        setTyped(text)
        if (text.trim() === '' || numberIn(text) !== null) onChange(numberIn(text))
      }}
    />
  )
}

/** Which wire is which, before anything is connected. */
export function ConnectStep({ circuit, step, answer, onAnswer }: StepProps) {
  const { data: facts } = useSuspenseQuery(factsQuery)
  const told = answer.wires ?? {}
  return (
    <>
      <h2>
        {step.prompt || ((step.wires ?? []).length > 0 ? 'Which wire is which?' : 'How do you connect?')}
      </h2>
      <Fields $least={240}>
        {(step.wires ?? []).map((wire) => (
          <Choice
            key={wire.label}
            label={`${wire.label}: ${wire.seen}`}
            placeholder="It carries …"
            value={told[wire.label] ?? null}
            onChange={(lane) => onAnswer({ ...answer, wires: { ...told, [wire.label]: lane } })}
            options={circuit.lanes
              .filter((l) => l.role !== 'sync')
              .map((l) => ({ key: l.name, text: l.title }))}
          />
        ))}
        {step.asks?.includes('ground') && (
          <Choice
            label="Ground lead on"
            value={answer.ground ?? null}
            onChange={(ground) => onAnswer({ ...answer, ground })}
            options={facts.trainer.grounds.map((g) => ({ key: g, text: g }))}
          />
        )}
        {step.asks?.includes('probe') && (
          <Choice
            label="Before the input"
            value={answer.probe ?? null}
            onChange={(probe) => onAnswer({ ...answer, probe })}
            options={facts.trainer.probes}
          />
        )}
      </Fields>
    </>
  )
}

/** Range, length and rate, judged by what they would capture. */
export function SetUpStep({ circuit, step, answer, onAnswer }: StepProps) {
  const unit = circuit.lanes[0]?.unit ?? 'V'
  const set = (change: Partial<typeof answer>) => {
    const next = { ...answer, ...change }
    onAnswer(Object.fromEntries(Object.entries(next).filter(([, v]) => v !== null)))
  }
  return (
    <>
      <h2>{step.prompt || 'How do you set the scope up?'}</h2>
      <Fields $least={180}>
        <Figure
          label={`Range from zero to, ${unit}`}
          value={answer.range_v}
          onChange={(range_v) => set({ range_v: range_v as number })}
        />
        <Figure
          label="Length of the record, s"
          value={answer.duration_s}
          onChange={(duration_s) => set({ duration_s: duration_s as number })}
        />
        <Figure
          label="Samples a second"
          value={answer.rate_hz}
          onChange={(rate_hz) => set({ rate_hz: rate_hz as number })}
        />
        {step.asks?.includes('trigger') && (
          <Figure
            label={`Trigger level, ${unit}`}
            value={answer.trigger_level}
            onChange={(level) => set({ trigger_level: level as number })}
          />
        )}
      </Fields>
      <Muted>There is no single right answer: it is judged by what these settings would have captured.</Muted>
    </>
  )
}

/** A sum with its working: the figures that went in, and what came out. */
export function WorkOutStep({ circuit, step, answer, onAnswer, pegs }: StepProps) {
  const { data } = useQuery(calculationsQuery)
  const sum = data?.find((c) => c.key === step.calculation)
  if (!sum) return null
  const figures = answer.figures ?? {}
  const put = (value: number | null | undefined, next: Record<string, number>) =>
    onAnswer({ value: value ?? null, figures: next })
  const found = circuit.readings.find((r) => r.id === step.comes_to)
  const instants = sum.inputs.filter((i) => i.unit === 's' && step.figures?.[i.key] === undefined)
  const at = pegs.filter((p) => p !== null).sort((a, b) => a - b)
  const reading = (key: string) => circuit.readings.find((r) => r.id === step.readings?.[key])
  return (
    <>
      <h2>{step.prompt || sum.title}</h2>
      <Muted>
        {sum.rule}. Given:{' '}
        {sum.inputs
          .filter((i) => step.figures?.[i.key] !== undefined)
          .map((i) => `${i.title.toLowerCase()} ${step.figures?.[i.key]} ${i.unit}`)
          .join(', ') || 'nothing; all is read from the trace'}
        . {found && `What comes out is held to the ${found.title.toLowerCase()} that your trace gives.`}
      </Muted>
      {instants.length > 0 && (
        <Row>
          <Button
            $touch
            isDisabled={at.length < instants.length}
            onPress={() =>
              put(answer.value, {
                ...figures,
                ...Object.fromEntries(instants.map((i, k) => [i.key, roundedTo(at[k] ?? 0, 6)])),
              })
            }
          >
            Take the instants from the pegs
          </Button>
        </Row>
      )}
      <Fields $least={150}>
        {sum.inputs.map((i) => (
          <Figure
            key={i.key}
            label={`${i.title}${i.unit ? `, ${i.unit}` : ''}${reading(i.key) ? ` (read: ${reading(i.key)?.title.toLowerCase()})` : ''}`}
            value={figures[i.key]}
            onChange={(value) =>
              put(
                answer.value,
                value === null
                  ? Object.fromEntries(Object.entries(figures).filter(([k]) => k !== i.key))
                  : { ...figures, [i.key]: value },
              )
            }
          />
        ))}
        <Figure
          label={`It comes to${sum.unit ? `, ${sum.unit}` : ''}`}
          value={answer.value}
          onChange={(value) => put(value, figures)}
        />
      </Fields>
    </>
  )
}

/** Names put where the pegs stand. */
export function NameStep({ step, answer, onAnswer, pegs }: StepProps) {
  const marks = answer.marks ?? {}
  const at = pegs.filter((p) => p !== null)
  const without = (name: string) => Object.fromEntries(Object.entries(marks).filter(([k]) => k !== name))
  return (
    <>
      <h2>{step.prompt || 'Put each name on its part of the trace'}</h2>
      <Muted>
        Tap the trace to set a peg on the part, or both round it, then press its name; arrow keys move a peg.
      </Muted>
      <Row>
        {(step.names ?? []).map((name) => {
          const put = marks[name]
          const words = name.replaceAll('_', ' ')
          return (
            <span key={name}>
              <Button
                $touch
                $main={put !== undefined}
                isDisabled={!at.length}
                onPress={() => onAnswer({ marks: { ...marks, [name]: at } })}
              >
                {words}
                {put && <> at {put.map((s) => fixed(s, 4)).join('–')} s</>}
              </Button>
              {put && (
                <Button
                  $quiet
                  aria-label={`Take ${words} off`}
                  onPress={() => onAnswer({ marks: without(name) })}
                >
                  ✕
                </Button>
              )}
            </span>
          )
        })}
      </Row>
    </>
  )
}

/** The odd one among cylinders, events or lanes. */
export function SpotStep({ circuit, step, answer, onAnswer }: StepProps) {
  return (
    <>
      <h2>{step.prompt || `Which ${step.among ?? 'cylinder'} is the odd one?`}</h2>
      <Row>
        {step.among === 'lane' ? (
          circuit.lanes
            .filter((l) => l.role !== 'sync')
            .map((l) => (
              <Button
                key={l.name}
                $touch
                $main={answer.lane === l.name}
                aria-pressed={answer.lane === l.name}
                onPress={() => onAnswer({ lane: l.name })}
              >
                {l.title}
              </Button>
            ))
        ) : (
          <div style={{ width: 180 }}>
            <Figure
              label={`Number of the ${step.among ?? 'cylinder'}`}
              value={answer.absent ? null : answer.value}
              onChange={(value) => onAnswer(value === null ? {} : { value: Math.round(value) })}
            />
          </div>
        )}
        <Button
          $touch
          $main={Boolean(answer.absent)}
          aria-pressed={Boolean(answer.absent)}
          onPress={() => onAnswer({ absent: true })}
        >
          None of them is odd
        </Button>
      </Row>
    </>
  )
}

const MANY_ROWS = 12

/** Rows as they stand, half typed ones too, by sitting and step: they are there again after a look at another step. */
const drafts = new Map<string, TypedRow[]>()

/** A record that the card asks for; each row is kept as soon as it is whole. */
export function RecordStep({ sitting, step, answer, onAnswer, pegs }: StepProps) {
  const { data: kinds } = useQuery(recordKindsQuery)
  const kind = kinds?.find((k) => k.key === step.of)
  const draft = `${sitting.id}/${step.id}`
  const [typed, setTyped] = useState(() => drafts.get(draft) ?? null)
  if (!kind) return null
  const kept = (answer.rows ?? []) as TypedRow[]
  const wholeOf = (rows: TypedRow[]) =>
    rows.filter((row) => isWhole(kind, row)).map((row) => asKept(kind, row))
  const same = (a: TypedRow[], b: TypedRow[]) => JSON.stringify(a) === JSON.stringify(b)
  // What was kept from another window since is newer than what was left half typed here.
  const shown = typed && same(wholeOf(typed), kept) ? typed : kept.length ? kept : [emptyRow(kind)]
  const put = (rows: TypedRow[]) => {
    drafts.set(draft, rows)
    setTyped(rows)
    const whole = wholeOf(rows)
    if (!same(whole, kept)) onAnswer(whole.length ? { rows: whole } : {})
  }
  return (
    <>
      <h2>{step.prompt || kind.title}</h2>
      <Stack $gap={8}>
        {step.of === 'meter-sweep' && sitting.card.source.kind !== 'upload' && (
          <MeterAlong sitting={sitting} onFigures={put} />
        )}
        <Muted>
          {kept.length} kept, {step.least ?? 1} wanted. A row is kept as soon as it is whole.
          {kind.key === 'meter-sweep' && kept.length > 1 && ' The meter has a lane of its own on the strip.'}
        </Muted>
        {shown.length > MANY_ROWS ? (
          <Fold title={`All ${shown.length} rows`}>
            <RecordRows kind={kind} rows={shown} onRows={put} pegS={pegs[0]} />
          </Fold>
        ) : (
          <RecordRows kind={kind} rows={shown} onRows={put} pegS={pegs[0]} />
        )}
      </Stack>
    </>
  )
}

/** What the trainer's meter showed while the scope recorded, taken as rows. */
function MeterAlong({ sitting, onFigures }: { sitting: Sitting; onFigures: (rows: TypedRow[]) => void }) {
  const read = useMutation({
    mutationFn: () => meterAlong(sitting.id),
    onSuccess: (figures) =>
      onFigures(figures.map((f) => ({ at_s: fixed(f.at_s, 2), volts: String(f.volts) }))),
  })
  return (
    <Row>
      <Button $touch isDisabled={sitting.capture_id === null || read.isPending} onPress={() => read.mutate()}>
        Take what the meter showed
      </Button>
      {read.error && <Note kind="error">{read.error.message}</Note>}
      <Muted>A meter hung on the same wire while the scope recorded.</Muted>
    </Row>
  )
}

/** Free text for the instructor. */
export function ExplainStep({ step, answer, onAnswer }: StepProps) {
  return (
    <Wide>
      <h2>{step.prompt || 'Explain in your own words'}</h2>
      <Text
        hidden
        label="Your explanation"
        lines={4}
        value={answer.words ?? ''}
        onChange={(words) => onAnswer(words ? { words } : {})}
      />
      <Muted>Your instructor reads this; the tool does not mark it.</Muted>
    </Wide>
  )
}

const Wide = styled.div`
  display: grid;
  gap: 8px;
`
