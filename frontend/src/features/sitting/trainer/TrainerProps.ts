import type { Circuit } from '../../../shared/facts'
import type { Sitting } from '../queries'
import type { Run } from './useRun'

/** What both ways of the trainer are given. */
export interface TrainerProps {
  sitting: Sitting
  circuit: Circuit
  busy: boolean
  run: Run
  onWork: (work: Promise<Sitting>) => void
}
