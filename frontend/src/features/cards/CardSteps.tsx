import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import styled from 'styled-components'
import { hasEvents, type Circuit } from '../../shared/facts'
import { recordKindsQuery } from '../../shared/records'
import { STEP_KINDS, stepTitle } from '../../shared/steps'
import { calculationsQuery, type Calculation } from '../../shared/sums'
import { Button } from '../../ui/Button'
import { Choice, Fields, Text } from '../../ui/fields'
import { Panel, Row, Stack } from '../../ui/layout'
import type { CardDocument } from './queries'
import { StepDetails } from './StepDetails'

type Step = CardDocument['steps'][number]

const keyOf = (s: Step) =>
  `${s.kind}/${s.reading ?? s.calculation ?? s.of ?? s.among ?? ''}/${s.event ? `#${s.event}` : (s.cylinder ?? '')}`

/** A step as the card's document has it. */
export const stepOf = (
  kind: Step['kind'],
  reading: string | null = null,
  prompt = '',
  cylinder: number | null = null,
  event: number | null = null,
): Step => ({ id: '', kind, reading, prompt, cylinder, event, capture: 'first' })

/** A new step of a kind that is told more than a reading, with what it needs to begin with. */
function furtherStep(kind: Step['kind'], of: string, circuit: Circuit, sums: Calculation[]): Partial<Step> {
  const lanes = circuit.lanes.filter((l) => l.role === 'signal' || l.role === 'supply' || l.role === 'ground')
  switch (kind) {
    case 'connect':
      return {
        wires: (lanes.length > 1 ? lanes : circuit.lanes).slice(0, 3).map((lane, k) => ({
          label: `Wire ${String.fromCharCode(65 + k)}`,
          seen: '',
          lane: lane.name,
        })),
      }
    case 'set_up':
      return { lasts_s: 1 }
    case 'work_out': {
      const inputs = sums.find((c) => c.key === of)?.inputs ?? []
      return { calculation: of, figures: Object.fromEntries(inputs.map((i) => [i.key, 1])), readings: {} }
    }
    case 'name':
      return { names: circuit.phases.slice(0, 4).map((p) => p.name) }
    case 'spot':
      return { among: of }
    case 'record':
      return { of, least: 1 }
    case 'explain':
      return { phrases: [] }
    default:
      return {}
  }
}

interface Props {
  document: CardDocument
  circuit: Circuit
  onChange: (change: Partial<CardDocument>) => void
}

/** The card's steps in order. */
export function CardSteps({ document, circuit, onChange }: Props) {
  const [more, setMore] = useState<number | null>(null)
  const [wanted, setWanted] = useState<string | null>(null)
  const { steps } = document
  const put = (next: Step[]) => onChange({ steps: next })
  const title = (step: Step) => stepTitle(step, circuit)
  const cylinders = (document.options?.firing_order ?? '')
    .split('-')
    .filter(Boolean)
    .map(Number)
    .sort((a, b) => a - b)
  const [whoseOne, setWhoseOne] = useState('')
  const [eventNo, setEventNo] = useState('')
  const event = /^[1-9]\d{0,4}$/.test(eventNo.trim()) ? Number(eventNo) : null
  const { data: sums = [] } = useQuery(calculationsQuery)
  const { data: records = [] } = useQuery(recordKindsQuery)
  const options = [
    ...(['cautions', 'connect', 'set_up', 'capture', 'call', 'explain'] as const).map((kind) => ({
      key: `${kind}/`,
      text: STEP_KINDS[kind],
    })),
    ...circuit.readings.map((r) => ({ key: `reading/${r.id}`, text: `Read: ${r.title.toLowerCase()}` })),
    ...circuit.readings.map((r) => ({ key: `compare/${r.id}`, text: `Compare: ${r.title.toLowerCase()}` })),
    ...(circuit.phases.length ? [{ key: 'name/', text: STEP_KINDS.name }] : []),
    { key: 'spot/cylinder', text: `${STEP_KINDS.spot}: cylinder` },
    ...(hasEvents(circuit) ? [{ key: 'spot/event', text: `${STEP_KINDS.spot}: event` }] : []),
    ...sums.map((c) => ({
      key: `work_out/${c.key}`,
      text: `${STEP_KINDS.work_out}: ${c.title.toLowerCase()}`,
    })),
    ...records.map((r) => ({
      key: `record/${r.key}`,
      text: `${STEP_KINDS.record}: ${r.title.toLowerCase()}`,
    })),
  ].filter((o) => !steps.some((s) => keyOf(s) === `${o.key}/${whoseOne}`))
  return (
    <Panel>
      <h2>Steps</h2>
      <Stack $gap={6}>
        {steps.map((step, k) => (
          <Line key={keyOf(step)}>
            <b>
              {k + 1}. {title(step)}
            </b>
            <Text
              hidden
              label={`Prompt of ${title(step)}`}
              value={step.prompt}
              onChange={(prompt) => put(steps.map((s, j) => (j === k ? { ...s, prompt } : s)))}
            />
            <Details>
              {more === k && (
                <Fields $least={160}>
                  <Text
                    label="Hint, for part of the points"
                    value={step.hint ?? ''}
                    onChange={(hint) => put(steps.map((s, j) => (j === k ? { ...s, hint } : s)))}
                  />
                  {k > 0 && (
                    <Choice
                      label="Shown"
                      value={step.after ?? ''}
                      onChange={(after) => put(steps.map((s, j) => (j === k ? { ...s, after } : s)))}
                      options={[
                        { key: '', text: 'from the beginning' },
                        ...steps
                          .slice(0, k)
                          .filter((s) => s.id)
                          .map((s) => ({ key: s.id ?? '', text: `after ${title(s).toLowerCase()}` })),
                      ]}
                    />
                  )}
                </Fields>
              )}
              <StepDetails
                step={step}
                circuit={circuit}
                onChange={(change) => put(steps.map((s, j) => (j === k ? { ...s, ...change } : s)))}
              />
            </Details>
            <Button
              $quiet
              aria-expanded={more === k}
              aria-label={`Hint and order of ${title(step)}`}
              onPress={() => setMore(more === k ? null : k)}
            >
              {step.hint || step.after ? 'hint ●' : 'hint'}
            </Button>
            <Button
              $quiet
              aria-label={`Move ${title(step)} up`}
              isDisabled={k === 0}
              onPress={() => put(swapped(steps, k))}
            >
              ↑
            </Button>
            <Button
              $quiet
              aria-label={`Take ${title(step)} away`}
              onPress={() => put(steps.filter((_, j) => j !== k))}
            >
              ✕
            </Button>
          </Line>
        ))}
        <Row>
          <div style={{ width: 260 }}>
            <Choice
              hidden
              label="Step to add"
              placeholder="A step to add"
              value={wanted}
              onChange={setWanted}
              options={options}
            />
          </div>
          {cylinders.length > 0 && (
            <div style={{ width: 210 }}>
              <Choice
                hidden
                label="Of which cylinder"
                value={whoseOne}
                onChange={setWhoseOne}
                options={[
                  { key: '', text: 'of the whole capture' },
                  ...cylinders.map((c) => ({ key: String(c), text: `of cylinder ${c}` })),
                ]}
              />
            </div>
          )}
          {hasEvents(circuit) && wanted?.startsWith('reading/') && (
            <div style={{ width: 120 }}>
              <Text hidden placeholder label="or event no." value={eventNo} onChange={setEventNo} />
            </div>
          )}
          <Button
            isDisabled={!wanted || !(eventNo === '' || event)}
            onPress={() => {
              const [kind, reading] = (wanted ?? '').split('/')
              if (kind !== 'reading' && kind !== 'compare') {
                const more = furtherStep(kind as Step['kind'], reading ?? '', circuit, sums)
                put([...steps, { ...stepOf(kind as Step['kind']), ...more }])
                setWanted(null)
                return
              }
              const cylinder = reading && whoseOne ? Number(whoseOne) : null
              const of = kind === 'reading' ? event : null
              put([...steps, stepOf(kind as Step['kind'], reading || null, '', of ? null : cylinder, of)])
              setWanted(null)
              setEventNo('')
            }}
          >
            Add
          </Button>
        </Row>
      </Stack>
    </Panel>
  )
}

function swapped(steps: Step[], k: number): Step[] {
  const next = [...steps]
  const [step] = next.splice(k, 1)
  if (step) next.splice(k - 1, 0, step)
  return next
}

const Details = styled.div`
  grid-column: 1 / -1;
  grid-row: 3;
  &:not(:empty) {
    padding: 6px 0 4px;
  }
`

const Line = styled.div`
  display: grid;
  grid-template-columns: 1fr auto auto auto;
  gap: 0 8px;
  align-items: center;
  padding-bottom: 4px;
  /* The prompt has the whole width below its step: it is a sentence, and is read as one. */
  > :nth-child(2) {
    grid-column: 1 / -1;
    grid-row: 2;
  }
  b {
    font-size: 14px;
    font-weight: 600;
  }
`
