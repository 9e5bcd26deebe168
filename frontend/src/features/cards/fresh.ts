/** What a new card begins with. */
import type { Circuit } from '../../shared/facts'
import { stepOf } from './AddStep'
import type { CardDocument } from './queries'

/** The order of an engine of which none was told. */
export const FOUR = '1-3-4-2'

/** A first set of steps for a circuit: its first readings, two of them held against their limits. */
export function stepsFor(circuit: Circuit): CardDocument['steps'] {
  return [
    stepOf('cautions', null, 'Read before you begin.'),
    stepOf('capture', null, circuit.setup_advice[0] ?? ''),
    ...circuit.asked.map((reading) => stepOf('reading', reading)),
    ...circuit.asked
      .slice(0, 2)
      .map((reading) => stepOf('compare', reading, 'Hold your reading against the limit.')),
    stepOf('call', null, 'Sound, faulty, or cannot tell yet? Say what shows it.'),
  ]
}
