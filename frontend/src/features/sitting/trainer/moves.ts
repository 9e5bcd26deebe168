/** Moves of hands before they are sent. */
import type { Move } from '../queries'

/** Moves of a dragged control that come closer than this are one. */
const THIN_S = 0.03

/** Moves with one more; of a drag that goes on, the last stands. */
export function thinned(moves: Move[], next: Move): Move[] {
  const last = moves.at(-1)
  const goesOn = last?.control === next.control && next.control === 'travel' && next.at_s - last.at_s < THIN_S
  return goesOn ? [...moves.slice(0, -1), { ...last, value: next.value }] : [...moves, next]
}
