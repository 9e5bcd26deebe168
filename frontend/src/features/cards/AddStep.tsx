import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import styled from 'styled-components'
import { hasEvents, type Circuit } from '../../shared/facts'
import { recordKindsQuery } from '../../shared/records'
import { AGAINST, STEP_KINDS } from '../../shared/steps'
import { calculationsQuery, type Calculation } from '../../shared/sums'
import { Button } from '../../ui/Button'
import { Choice, Text } from '../../ui/fields'
import type { CardDocument } from './queries'

type Step = CardDocument['steps'][number]

const COMPARED = ['limit', 'reference', 'before', 'siblings'] as const

const keyOf = (s: Step) => {
  const against = s.kind === 'compare' ? `/${s.against ?? 'limit'}` : ''
  const what = s.reading ?? s.calculation ?? s.of ?? s.among ?? ''
  return `${s.kind}/${what}${against}/${s.event ? `#${s.event}` : (s.cylinder ?? '')}`
}

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
    case 'compare':
      return of === 'limit' ? {} : { against: of as NonNullable<Step['against']>, within_pct: 10 }
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
  onAdd: (step: Step) => void
}

/** Choose a further step of the card, of one cylinder or event where the circuit has them. */
export function AddStep({ document, circuit, onAdd }: Props) {
  const [wanted, setWanted] = useState<string | null>(null)
  const [whoseOne, setWhoseOne] = useState('')
  const [eventNo, setEventNo] = useState('')
  const event = /^[1-9]\d{0,4}$/.test(eventNo.trim()) ? Number(eventNo) : null
  const cylinders = (document.options?.firing_order ?? '')
    .split('-')
    .filter(Boolean)
    .map(Number)
    .sort((a, b) => a - b)
  const { data: sums = [] } = useQuery(calculationsQuery)
  const { data: records = [] } = useQuery(recordKindsQuery)
  const options = [
    ...(['cautions', 'connect', 'set_up', 'capture', 'call', 'explain'] as const).map((kind) => ({
      key: `${kind}/`,
      text: STEP_KINDS[kind],
    })),
    ...circuit.readings.map((r) => ({ key: `reading/${r.id}`, text: `Read: ${r.title.toLowerCase()}` })),
    ...circuit.readings.flatMap((r) =>
      COMPARED.filter((against) => against !== 'siblings' || cylinders.length > 1).map((against) => ({
        key: `compare/${r.id}/${against}`,
        text: `Compare: ${r.title.toLowerCase()}${against === 'limit' ? '' : `, ${AGAINST[against]}`}`,
      })),
    ),
    ...(circuit.phases.length ? [{ key: 'name/', text: STEP_KINDS.name }] : []),
    ...(hasEvents(circuit)
      ? ['cylinder', 'event'].map((of) => ({ key: `spot/${of}`, text: `${STEP_KINDS.spot}: ${of}` }))
      : []),
    ...(circuit.lanes.length > 1 ? [{ key: 'spot/lane', text: `${STEP_KINDS.spot}: lane` }] : []),
    ...sums.map((c) => ({
      key: `work_out/${c.key}`,
      text: `${STEP_KINDS.work_out}: ${c.title.toLowerCase()}`,
    })),
    ...records.map((r) => ({
      key: `record/${r.key}`,
      text: `${STEP_KINDS.record}: ${r.title.toLowerCase()}`,
    })),
  ].filter((o) => !document.steps.some((s) => keyOf(s) === `${o.key}/${whoseOne}`))
  const add = () => {
    const [kind, reading, against] = (wanted ?? '').split('/') as [Step['kind'], string?, string?]
    setWanted(null)
    setEventNo('')
    if (kind !== 'reading' && kind !== 'compare') {
      onAdd({ ...stepOf(kind), ...furtherStep(kind, reading ?? '', circuit, sums) })
      return
    }
    const of = kind === 'reading' ? event : null
    const step = stepOf(kind, reading || null, '', of || !whoseOne ? null : Number(whoseOne), of)
    onAdd({ ...step, ...(kind === 'compare' ? furtherStep(kind, against ?? 'limit', circuit, sums) : {}) })
  }
  return (
    <Box>
      <Choice
        hidden
        label="Step to add"
        placeholder="A step to add"
        value={wanted}
        onChange={setWanted}
        options={options}
      />
      {wanted !== null && cylinders.length > 0 && (
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
      )}
      {hasEvents(circuit) && wanted?.startsWith('reading/') && (
        <Text hidden placeholder label="or event no." value={eventNo} onChange={setEventNo} />
      )}
      <Button
        isDisabled={!wanted || !(eventNo === '' || event) || (wanted.endsWith('/siblings') && !whoseOne)}
        onPress={add}
      >
        Add
      </Button>
    </Box>
  )
}

const Box = styled.div`
  display: grid;
  grid-template-columns: 1fr auto;
  gap: 6px;
  padding: 6px 0;
  > :not(button) {
    min-width: 0;
  }
`
