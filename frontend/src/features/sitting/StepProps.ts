import type { Pegs, PegValues } from '../../plot/types'
import type { Circuit } from '../../shared/facts'
import type { Sitting, Step, StepAnswer } from './queries'

/** What every step's panel is given. */
export interface StepProps {
  sitting: Sitting
  circuit: Circuit
  step: Step
  answer: StepAnswer
  onAnswer: (answer: StepAnswer) => void
  pegs: Pegs
  values: PegValues | null
  /** Move what a comparing step shows beneath the trace. */
  onLay: (shiftS: number) => void
}
