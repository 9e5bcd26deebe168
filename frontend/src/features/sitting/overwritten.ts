/** What another window answered and this one wrote over: kept on this device until it is put away. */
import type { StepAnswer } from './queries'

export type Overwritten = Record<string, StepAnswer>

const keyOf = (id: number, what: 'known' | 'overwritten') => `tracebench-sitting-${id}-${what}`

function held<T>(key: string): Record<string, T> {
  try {
    return JSON.parse(localStorage.getItem(key) ?? '{}') as Record<string, T>
  } catch {
    return {}
  }
}

function hold(key: string, what: Record<string, unknown>): void {
  if (Object.keys(what).length) localStorage.setItem(key, JSON.stringify(what))
  else localStorage.removeItem(key)
}

const without = <T>(all: Record<string, T>, step: string) =>
  Object.fromEntries(Object.entries(all).filter(([s]) => s !== step))

/** An answer as text that is the same for the same answer; what is empty does not count. */
function plain(answer: StepAnswer | undefined): string {
  const entries = Object.entries(answer ?? {})
    .filter(([, v]) => v !== null && v !== undefined && !(Array.isArray(v) && v.length === 0))
    .sort(([a], [b]) => a.localeCompare(b))
  return JSON.stringify(entries)
}

/** Note what the server had of a step when this window began to change it, or what was sent of it since. */
export function know(id: number, step: string, answer: StepAnswer | undefined): void {
  const known = held<string[]>(keyOf(id, 'known'))
  // Without network the same answer is tried again every few seconds.
  hold(keyOf(id, 'known'), { ...known, [step]: [...new Set([...(known[step] ?? []), plain(answer)])] })
}

/** All sent of a step is acknowledged: the next change begins anew. */
export function settle(id: number, step: string): void {
  hold(keyOf(id, 'known'), without(held<string[]>(keyOf(id, 'known')), step))
}

/** Before `mine` is sent: keep what the server has if it is neither known here nor the same. */
export function keepOther(id: number, step: string, mine: StepAnswer, there: StepAnswer | undefined): void {
  const known = held<string[]>(keyOf(id, 'known'))[step] ?? []
  const other = plain(there)
  if (there === undefined || other === plain(mine) || other === plain({}) || known.includes(other)) return
  const kept = overwritten(id)
  hold(keyOf(id, 'overwritten'), { ...kept, [step]: there })
}

export const overwritten = (id: number): Overwritten => held<StepAnswer>(keyOf(id, 'overwritten'))

export function putAway(id: number, step: string): void {
  hold(keyOf(id, 'overwritten'), without(overwritten(id), step))
}
