/** Which flags stand over a strip, and for which of its marks. */
import { GUTTER, RIGHT, xOf, type Frame } from './frame'
import type { StripMark } from './types'

/** Flags stand so far from each other that a finger finds each (24 px, WCAG 2.2, 2.5.8), in px. */
const FLAG_APART = 26

export interface FlagOf {
  marks: StripMark[]
  kind: StripMark['kind']
  x: number
}

/** The flags of marks in view, over their places; marks whose flags would touch share one, which counts them. */
export function flagged(frame: Frame, marks: StripMark[]): FlagOf[] {
  const shown = marks
    .filter((mark) => mark.kind !== 'reading')
    .map((mark) => ({ mark, x: xOf(frame, (mark.from + mark.to) / 2) }))
    .filter(({ x }) => x >= GUTTER && x <= frame.width - RIGHT)
    .sort((a, b) => a.x - b.x)
  const flags: FlagOf[] = []
  for (const { mark, x } of shown) {
    const last = flags.at(-1)
    if (!last || x - last.x >= FLAG_APART) flags.push({ marks: [mark], kind: mark.kind, x })
    else {
      last.marks.push(mark)
      // A fault among them is what the flag says.
      if (mark.kind === 'fault') last.kind = 'fault'
    }
  }
  return flags
}
