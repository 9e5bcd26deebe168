/** What the steps of a card are worth. */
import { STEP_KINDS } from '../../shared/steps'
import type { CardDocument, MakerFacts } from './queries'

type Step = CardDocument['steps'][number]
type Criterion = MakerFacts['criteria'][number]

/** Skills whose points are earned around the trace. */
const AROUND = ['connect', 'capture']

/** Criteria that are named otherwise than the kind of step they mark. */
const KIND_OF: Record<string, Step['kind']> = { capture_quality: 'capture' }

const kindOf = (criterion: Criterion): Step['kind'] =>
  KIND_OF[criterion.key] ?? (criterion.key in STEP_KINDS ? (criterion.key as Step['kind']) : 'call')

/** Criteria that a call has only where the card asks for them. */
const ASKED_FOR = ['ruled_out', 'otherwise']

export const criteriaOf = (step: Step, maker: MakerFacts): Criterion[] =>
  maker.criteria.filter(
    (c) => kindOf(c) === step.kind && (!ASKED_FOR.includes(c.key) || step.asks?.includes(c.key)),
  )

export const worthOf = (document: CardDocument, criterion: Criterion): number =>
  // Nobody reads an explanation in practice, and nobody takes what is given: worth nothing there.
  (document.mode === 'practice' && criterion.key === 'explain') ||
  (document.source.kind === 'shelf' && criterion.key === 'capture_quality')
    ? 0
    : (document.points[criterion.key] ?? criterion.points)

export const pointsOf = (document: CardDocument, step: Step, maker: MakerFacts): number =>
  criteriaOf(step, maker).reduce((sum, c) => sum + worthOf(document, c), 0)

/** Points in all, for reading the trace and around it. */
export function sumOf(document: CardDocument, maker: MakerFacts): { trace: number; around: number } {
  const sum = { trace: 0, around: 0 }
  for (const step of document.steps)
    for (const c of criteriaOf(step, maker))
      sum[AROUND.includes(c.skill) ? 'around' : 'trace'] += worthOf(document, c)
  return sum
}
