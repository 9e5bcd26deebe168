/** What a step of a card is called. */
import type { Schemas } from '../api/client'
import type { Circuit } from './facts'

type Step = Schemas['StepBody']

export const STEP_KINDS: Record<Step['kind'], string> = {
  cautions: 'Cautions',
  capture: 'Capture',
  reading: 'Read',
  compare: 'Compare',
  call: 'Your call',
  connect: 'Connect',
  set_up: 'Set up',
  work_out: 'Work out',
  name: 'Name the parts',
  spot: 'Find the odd one',
  record: 'Record',
  explain: 'Explain',
}

/** What a comparing step holds its reading against. */
export const AGAINST: Record<NonNullable<Step['against']>, string> = {
  limit: 'against its limit',
  reference: 'beside the reference',
  before: 'beside before the repair',
  siblings: 'beside the other cylinders',
}

export const beside = (step: Pick<Step, 'kind' | 'against'>): string =>
  step.kind === 'compare' && step.against && step.against !== 'limit' ? AGAINST[step.against] : ''

/** Whose value a step asks for, where it names one. */
export const whose = (step: Pick<Step, 'cylinder' | 'event'>): string =>
  [step.cylinder ? `cylinder ${step.cylinder}` : '', step.event ? `event ${step.event}` : '']
    .filter(Boolean)
    .join(', ')

export function stepTitle(step: Step, circuit: Circuit): string {
  const reading = circuit.readings.find((r) => r.id === step.reading)
  const of = whose(step) || (step.calculation ?? step.of ?? step.among ?? '').replaceAll('-', ' ')
  const what = [reading?.title.toLowerCase(), of].filter(Boolean).join(', ')
  return `${STEP_KINDS[step.kind]}${reading ? ': ' : of ? ', ' : ''}${what}${beside(step) && ` ${beside(step)}`}`
}
