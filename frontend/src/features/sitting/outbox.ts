/** Answers on their way: what waits on this device, and what becomes of one that was not taken. */
import type { StepAnswer } from './queries'

/** Answers that were changed and are not saved yet, by step, the oldest first. */
export type Waiting = Record<string, StepAnswer>

export const typed = (waiting: Waiting, step: string, answer: StepAnswer): Waiting => ({
  ...waiting,
  [step]: answer,
})

export const without = (waiting: Waiting, step: string): Waiting =>
  Object.fromEntries(Object.entries(waiting).filter(([s]) => s !== step))

/** What was sent is saved: it waits no more, unless it was changed again meanwhile. */
export const saved = (waiting: Waiting, step: string, answer: StepAnswer): Waiting =>
  waiting[step] === answer ? without(waiting, step) : waiting

/**
 * What becomes of an answer that was not taken, by the status that came back (0: nothing came).
 *
 * `again`: another window saved first, and this change goes on top. `late`: nothing can be sent any more; what was
 * typed is kept beside the sitting. `dropped`: it can never be taken as it is. `kept`: tried again in a while.
 */
export function afterRefusal(status: number, stillOpen: boolean): 'again' | 'late' | 'dropped' | 'kept' {
  if (status === 409) return stillOpen ? 'again' : 'late'
  return status === 422 ? 'dropped' : 'kept'
}

const keyOf = (id: number) => `tracebench-sitting-${id}`
const lateKeyOf = (id: number) => `${keyOf(id)}-late`

function read(key: string): Waiting {
  try {
    return JSON.parse(localStorage.getItem(key) ?? '{}') as Waiting
  } catch {
    return {}
  }
}

/** What waits on this device of a sitting. */
export const kept = (id: number): Waiting => read(keyOf(id))

export function keep(id: number, waiting: Waiting): void {
  if (Object.keys(waiting).length) localStorage.setItem(keyOf(id), JSON.stringify(waiting))
  else localStorage.removeItem(keyOf(id))
}

export function keepLate(id: number, unsent: Waiting): void {
  localStorage.setItem(lateKeyOf(id), JSON.stringify({ ...late(id), ...unsent }))
}

/** Answers that were never sent, as the sitting was handed in in another window meanwhile; by step. */
export const late = (id: number): Waiting => ({ ...kept(id), ...read(lateKeyOf(id)) })

export function forgetLate(id: number): void {
  localStorage.removeItem(keyOf(id))
  localStorage.removeItem(lateKeyOf(id))
}
