/** A grade's criteria as marks on the strip, and the reference laid beneath: for feedback and for marking. */
import type { Schemas } from '../api/client'
import type { Ghost, StripMark, StripRecord, TileSource } from '../plot/types'

export type Grade = Schemas['GradeOut']
export type Result = Grade['results'][number]

export function marksOfResults(results: Result[]): StripMark[] {
  return results.flatMap((r) =>
    r.stretches.slice(0, 1).map((s): StripMark => ({
      id: r.criterion,
      kind: r.settled >= r.points ? 'reading' : 'set-up',
      from: s.from,
      to: s.to,
      lane: s.lane,
      label: r.title,
    })),
  )
}

interface PhaseLike {
  name: string
  from: number
}

/** The reference shifted so that the first openings meet. */
export function ghostOf(
  trace: { record: StripRecord; tiles: TileSource } | null,
  title: string | null,
  own: PhaseLike[],
  theirs: PhaseLike[],
): Ghost | null {
  if (!trace) return null
  const first = (phases: PhaseLike[]) => phases.find((p) => p.name === 'opening')?.from
  const [a, b] = [first(own), first(theirs)]
  return { ...trace, shiftS: a !== undefined && b !== undefined ? a - b : 0, label: title ?? 'reference' }
}
