import { fixed, numberIn } from '../../ui/numbers'
import { Tick, ticked } from '../../ui/Tick'
import { useQuery } from '@tanstack/react-query'
import styled from 'styled-components'
import type { Circuit } from '../../shared/facts'
import { beside } from '../../shared/steps'
import { calculationsQuery } from '../../shared/sums'
import { Button } from '../../ui/Button'
import { Choice, Fields, Text } from '../../ui/fields'
import { Muted, Row, Stack } from '../../ui/layout'
import { offeredQuery, type CardDocument } from './queries'

type Step = CardDocument['steps'][number]

interface Props {
  step: Step
  document: CardDocument
  circuit: Circuit
  onChange: (change: Partial<Step>) => void
}

/** What a step of its kind needs to be told, edited where the step stands; nothing for kinds that need nothing. */
export function StepDetails(props: Props) {
  switch (props.step.kind) {
    case 'connect':
      return (
        <Stack $gap={10}>
          <Wires {...props} />
          <AlsoAsked {...props} also={OF_CONNECTING} />
        </Stack>
      )
    case 'set_up':
      return (
        <Stack $gap={10}>
          <Seen {...props} />
          <AlsoAsked {...props} also={OF_SETTING_UP} />
        </Stack>
      )
    case 'compare':
      return beside(props.step) ? <Beside {...props} /> : null
    case 'work_out':
      return <Figures {...props} />
    case 'name':
      return <Names {...props} />
    case 'record':
      return (
        <Text
          label="Rows wanted"
          value={String(props.step.least ?? 1)}
          onChange={(text) => props.onChange({ least: Math.max(1, Math.round(numberIn(text) ?? 1)) })}
        />
      )
    case 'call':
      return <AlsoAsked {...props} also={OF_CALL} />
    case 'explain':
      return (
        <Text
          label="What you look for, a line each (never shown to learners)"
          lines={3}
          value={(props.step.phrases ?? []).join('\n')}
          onChange={(text) => props.onChange({ phrases: text.split('\n') })}
        />
      )
    default:
      return null
  }
}

interface Also {
  beside: string
  asks: readonly (readonly [string, string])[]
}

const OF_CALL: Also = {
  beside: 'verdict, cause, evidence, next test and how sure',
  asks: [
    ['ruled_out', 'what is ruled out, and by which stretch of the trace'],
    ['otherwise', 'what to do if the next test does not cure it'],
  ],
}
const OF_CONNECTING: Also = {
  beside: 'the wires',
  asks: [
    ['ground', 'where the ground lead goes'],
    ['probe', 'what goes before the input: lead, attenuator, clamp or pickup'],
  ],
}
const OF_SETTING_UP: Also = {
  beside: 'range, length and rate',
  asks: [['trigger', 'the trigger’s level']],
}

function AlsoAsked({ step, onChange, also }: Props & { also: Also }) {
  const asks = step.asks ?? []
  return (
    <Stack $gap={4}>
      <Muted>Asked beside {also.beside}:</Muted>
      {also.asks.map(([key, text]) => (
        <Tick key={key} on={asks.includes(key)} onSet={(on) => onChange({ asks: ticked(asks, key, on) })}>
          {text}
        </Tick>
      ))}
    </Stack>
  )
}

function Wires({ step, circuit, onChange }: Props) {
  const wires = step.wires ?? []
  const set = (at: number, change: Partial<(typeof wires)[number]>) =>
    onChange({ wires: wires.map((w, k) => (k === at ? { ...w, ...change } : w)) })
  return (
    <Stack $gap={6}>
      <Muted>What a meter or the loom tells of each wire, and what it carries (the key).</Muted>
      {wires.map((wire, k) => (
        <Wire key={k}>
          <Text
            hidden
            label={`Name of wire ${k + 1}`}
            value={wire.label}
            onChange={(label) => set(k, { label })}
          />
          <Text
            hidden
            placeholder
            label="5.0 V, stays as it moves"
            value={wire.seen}
            onChange={(seen) => set(k, { seen })}
          />
          <Choice
            hidden
            label={`What ${wire.label} carries`}
            value={wire.lane ?? null}
            onChange={(lane) => set(k, { lane })}
            options={circuit.lanes.map((l) => ({ key: l.name, text: l.title }))}
          />
        </Wire>
      ))}
      <Row>
        <Button
          onPress={() =>
            onChange({
              wires: [
                ...wires,
                {
                  label: `Wire ${String.fromCharCode(65 + wires.length)}`,
                  seen: '',
                  lane: circuit.lanes[0]?.name ?? '',
                },
              ],
            })
          }
        >
          Another wire
        </Button>
        <Button $quiet isDisabled={wires.length < 3} onPress={() => onChange({ wires: wires.slice(0, -1) })}>
          One fewer
        </Button>
      </Row>
    </Stack>
  )
}

function Seen({ step, circuit, onChange }: Props) {
  const fields = [
    ['highest', `The signal reaches, ${circuit.lanes[0]?.unit ?? 'V'}`],
    ['lasts_s', 'A record must last, s'],
    ['sees_s', 'The shortest thing lasts, s'],
  ] as const
  return (
    <Fields $least={140}>
      {fields.map(([key, label]) => (
        <Text
          key={key}
          label={label}
          value={step[key] === undefined || step[key] === null ? '' : String(step[key])}
          onChange={(text) => onChange({ [key]: numberIn(text) ?? undefined })}
        />
      ))}
    </Fields>
  )
}

/** Which capture a reading is held beside, and how far apart the two are alike. */
function Beside({ step, document, circuit, onChange }: Props) {
  const { data: references = [] } = useQuery(
    offeredQuery(document.circuit, step.version_id ?? document.reference_version_id ?? 0),
  )
  const spec = circuit.readings.find((r) => r.id === step.reading)
  const usual = step.against === 'reference' ? document.reference_version_id : null
  const chosen = step.version_id ?? usual
  return (
    <Stack $gap={6}>
      <Fields $least={200}>
        {step.against !== 'siblings' && (
          <Choice
            label={step.against === 'before' ? 'The capture before the repair' : 'The reference'}
            placeholder="Choose from the shelf"
            value={chosen ? String(chosen) : null}
            onChange={(id) => onChange({ version_id: Number(id) })}
            options={references.map((r) => ({
              key: String(r.version_id),
              text: `${r.title}, version ${r.version}`,
            }))}
          />
        )}
        <Text
          label="Alike within, %"
          value={String(step.within_pct ?? 10)}
          onChange={(text) => {
            const value = numberIn(text)
            if (value !== null && value >= 0 && value <= 100) onChange({ within_pct: value })
          }}
        />
      </Fields>
      {step.against !== 'siblings' && (
        <Muted>
          Learners see its value and its trace, not its name.
          {step.other && ` It gives ${fixed(step.other.value, spec?.decimals ?? 2)} ${spec?.unit ?? ''}.`}
        </Muted>
      )}
    </Stack>
  )
}

const GIVEN = 'given'
const FOUND = 'found'
const SUM = 'sum'

function Figures({ step, circuit, onChange }: Props) {
  const { data } = useQuery(calculationsQuery)
  const sum = data?.find((c) => c.key === step.calculation)
  const [figures, readings] = [step.figures ?? {}, step.readings ?? {}]
  const without = <T,>(of: Record<string, T>, key: string) =>
    Object.fromEntries(Object.entries(of).filter(([k]) => k !== key))
  const fitting = circuit.readings.filter((r) => sum && (sum.unit === '' || sum.unit === r.unit))
  return (
    <Stack $gap={6}>
      <Choice
        label="The result is held to"
        value={step.comes_to ?? SUM}
        onChange={(to) =>
          onChange(
            to === SUM
              ? {
                  comes_to: null,
                  figures: Object.fromEntries(sum?.inputs.map((i) => [i.key, figures[i.key] ?? 1]) ?? []),
                  readings: {},
                }
              : { comes_to: to, figures: {}, readings: {} },
          )
        }
        options={[
          { key: SUM, text: 'what the figures below come to' },
          ...fitting.map((r) => ({ key: r.id, text: `the capture’s own ${r.title.toLowerCase()}` })),
        ]}
      />
      <Fields $least={230}>
        {sum?.inputs.map((i) => (
          <Pair key={i.key}>
            <div>
              <Choice
                label={`${i.title}${i.unit ? `, ${i.unit}` : ''}`}
                value={readings[i.key] ?? (figures[i.key] === undefined ? FOUND : GIVEN)}
                onChange={(from) =>
                  onChange({
                    figures: { ...without(figures, i.key), ...(from === GIVEN ? { [i.key]: 1 } : {}) },
                    readings: {
                      ...without(readings, i.key),
                      ...(from === GIVEN || from === FOUND ? {} : { [i.key]: from }),
                    },
                  })
                }
                options={[
                  { key: GIVEN, text: 'given on the card' },
                  ...(step.comes_to ? [{ key: FOUND, text: 'found on the trace' }] : []),
                  ...circuit.readings.map((r) => ({ key: r.id, text: `read: ${r.title.toLowerCase()}` })),
                ]}
              />
            </div>
            {figures[i.key] !== undefined && (
              <Text
                label="Figure"
                value={String(figures[i.key] ?? '')}
                onChange={(text) => {
                  const value = numberIn(text)
                  if (value !== null) onChange({ figures: { ...figures, [i.key]: value } })
                }}
              />
            )}
          </Pair>
        ))}
      </Fields>
    </Stack>
  )
}

function Names({ step, circuit, onChange }: Props) {
  const names = step.names ?? []
  return (
    <Row $gap={6}>
      {circuit.phases.map((p) => (
        <Button
          key={p.name}
          aria-pressed={names.includes(p.name)}
          $main={names.includes(p.name)}
          onPress={() =>
            onChange({
              names: names.includes(p.name) ? names.filter((n) => n !== p.name) : [...names, p.name],
            })
          }
        >
          {p.name.replaceAll('_', ' ')}
        </Button>
      ))}
    </Row>
  )
}

/** Where a figure comes from, and the figure where the card gives it. */
const Pair = styled.div`
  display: flex;
  align-items: end;
  gap: 6px;
  > :first-child {
    flex: 1;
    min-width: 0;
  }
  > :not(:first-child) {
    width: 84px;
  }
`

const Wire = styled.div`
  display: grid;
  grid-template-columns: 110px minmax(0, 1fr) 140px;
  gap: 8px;
`
