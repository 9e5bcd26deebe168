/** A grade's criteria as marks on the strip, and the reference laid beneath: for feedback and for marking. */
import type { Schemas } from '../api/client'
import type { StripCorridor, StripMark } from '../plot/types'

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

/** What an instructor pinned to the trace. */
export const commentMarks = (comments: Schemas['CommentOut'][]): StripMark[] =>
  comments.map((c) => ({
    id: `comment-${c.id}`,
    kind: 'tag',
    from: c.from,
    to: c.to,
    lane: null,
    label: c.words,
  }))

/** What the strip draws of a corridor, with what it rests on in few words. */
export function corridorOf(corridor: Schemas['CorridorOut'] | undefined): StripCorridor | null {
  if (!corridor?.pieces.length) return null
  const label =
    corridor.captures > 1
      ? `corridor of ${corridor.captures} sound ones`
      : 'stated tolerances round one capture'
  return { pieces: corridor.pieces, label }
}
