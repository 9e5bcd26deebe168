/** How one record is laid over another: by a phase that both have, or by where they begin. */
import { useMemo, useState } from 'react'
import type { Alignment, Ghost, StripRecord, TileSource } from '../plot/types'

export interface PhaseLike {
  name: string
  from: number
}

export const FIRST = 'first phase'
const BEGIN = 'begin'

/** The ways that records with these phases can be laid over the first. */
export function alignments(own: PhaseLike[], others: PhaseLike[][]): Alignment['options'] {
  const shared = [...new Set(own.map((p) => p.name))].filter((name) =>
    others.some((phases) => phases.some((p) => p.name === name)),
  )
  return [
    ...(shared.length ? [{ key: FIRST, text: 'By the first phase they share' }] : []),
    ...shared.map((name) => ({ key: `phase ${name}`, text: `By ${name.replaceAll('_', ' ')}` })),
    { key: BEGIN, text: 'By the begin of the records' },
  ]
}

/** By how much another record is moved, in seconds. */
export function shiftBy(
  by: string,
  own: { phases: PhaseLike[]; startS: number },
  theirs: { phases: PhaseLike[]; startS: number },
): number {
  if (by === BEGIN) return own.startS - theirs.startS
  const met =
    by === FIRST
      ? (firstShared(begun(own), begun(theirs)) ?? firstShared(own.phases, theirs.phases))
      : firstShared(
          own.phases.filter((p) => `phase ${p.name}` === by),
          theirs.phases,
        )
  return met ? met[0].from - met[1].from : own.startS - theirs.startS
}

/** Phases that begin within the record: one that was under way before tells nothing of when it began. */
const begun = (of: { phases: PhaseLike[]; startS: number }): PhaseLike[] =>
  of.phases.filter((p) => p.from - of.startS > 1e-9)

function firstShared(own: PhaseLike[], theirs: PhaseLike[]): [PhaseLike, PhaseLike] | null {
  for (const one of own) {
    const other = theirs.find((t) => t.name === one.name)
    if (other) return [one, other]
  }
  return null
}

interface Traced {
  record: StripRecord
  tiles: TileSource
}

/** The choice among alignments; it falls back to the first where the one chosen does not fit. */
export function useAlignment(options: Alignment['options']): Alignment {
  const [chosen, onBy] = useState('')
  const by = options.find((o) => o.key === chosen)?.key ?? options[0]?.key ?? BEGIN
  return { by, onBy, options }
}

/** The reference as a pale trace beneath one's own, with the choice of how it lies. */
export function useGhost(
  own: StripRecord | undefined,
  trace: Traced | null,
  title: string | null,
  phases: PhaseLike[],
  theirs: PhaseLike[],
): Ghost | null {
  const options = useMemo(() => alignments(phases, [theirs]), [phases, theirs])
  const { by, onBy } = useAlignment(options)
  return useMemo(() => {
    if (!trace || own === undefined) return null
    const shiftS = shiftBy(
      by,
      { phases, startS: own.startS },
      { phases: theirs, startS: trace.record.startS },
    )
    return { ...trace, shiftS, label: title ?? 'reference', alignment: { by, onBy, options } }
  }, [trace, own, title, phases, theirs, by, onBy, options])
}
