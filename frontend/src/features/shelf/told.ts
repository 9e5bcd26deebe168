/** What an author told, as the strip and the document have it. */
import type { StripMark } from '../../plot/types'

interface Stretch {
  from: number
  to: number
}

export const tagMarks = (tags: (Stretch & { lane: string; text: string })[]): StripMark[] =>
  tags.map((t, k) => ({ id: `tag-${k}`, kind: 'tag', from: t.from, to: t.to, lane: t.lane, label: t.text }))

type Named = Stretch & { name: string }

/** Phases of a document once one of those that were found has new borders; null where there is none such.
 *
 * Told phases stand for all that are found under their name. */
export function toldPhases(found: Named[], told: Named[], index: number, to: Stretch): Named[] | null {
  const name = found[index]?.name
  if (name === undefined) return null
  const own = found
    .map((p, k) => (k === index ? { name, ...to } : { name: p.name, from: p.from, to: p.to }))
    .filter((p) => p.name === name)
  return [...told.filter((p) => p.name !== name), ...own]
}
