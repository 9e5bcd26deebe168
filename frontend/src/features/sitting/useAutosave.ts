/** Every change of an answer is kept here at once, sent as soon as the network allows, and survives a reload. */
import { useQueryClient } from '@tanstack/react-query'
import { useCallback, useEffect, useRef, useState } from 'react'
import { Problem } from '../../api/client'
import { afterRefusal, keep, keepLate, kept, saved, typed, without, type Waiting } from './outbox'
import { keepOther, know, overwritten, putAway, settle, type Overwritten } from './overwritten'
import { leftOf } from './TimeLeft'
import { saveAnswer, sittingQuery, type Sitting, type StepAnswer } from './queries'

export type Saving =
  | { state: 'saved'; at: string }
  | { state: 'saving' }
  | { state: 'waiting'; why: string }
  | { state: 'refused'; why: string }

const NOT_SAVED = 'Your last answer is not saved yet; it is kept here. Hand in when the network is back.'

const RETRY_MS = 3000
const TYPING_MS = 350

export function useAutosave(sitting: Sitting) {
  const client = useQueryClient()
  const [waiting, setWaiting] = useState<Waiting>(() => (sitting.state === 'open' ? kept(sitting.id) : {}))
  const [saving, setSaving] = useState<Saving>({ state: 'saved', at: sitting.saved_at })
  const [others, setOthers] = useState<Overwritten>(() => overwritten(sitting.id))
  const latest = useRef({ sitting, waiting })
  const busy = useRef(false)
  const timer = useRef<ReturnType<typeof setTimeout>>(undefined)
  useEffect(() => {
    latest.current.sitting = sitting
  }, [sitting])

  const put = useCallback(
    (next: Waiting) => {
      latest.current.waiting = next
      setWaiting(next)
      keep(sitting.id, next)
    },
    [sitting.id],
  )

  const flush = useCallback(async () => {
    if (busy.current) return
    busy.current = true
    const query = sittingQuery(sitting.id)
    try {
      for (;;) {
        const [entry] = Object.entries(latest.current.waiting)
        if (!entry) break
        const [step, answer] = entry
        setSaving({ state: 'saving' })
        keepOther(sitting.id, step, answer, latest.current.sitting.answers[step])
        know(sitting.id, step, answer)
        try {
          const next = await saveAnswer(sitting.id, {
            step,
            answer,
            revision: latest.current.sitting.revision,
          })
          latest.current.sitting = next
          client.setQueryData(query.queryKey, next)
          setOthers(overwritten(sitting.id))
          const left = saved(latest.current.waiting, step, answer)
          if (!(step in left)) settle(sitting.id, step)
          put(left)
          setSaving({ state: 'saved', at: next.saved_at })
        } catch (problem) {
          const status = problem instanceof Problem ? problem.status : 0
          const why = problem instanceof Error ? problem.message : ''
          // Another window saved: take its state and put this change on top, unless all is handed in.
          const fresh = status === 409 ? await client.fetchQuery({ ...query, staleTime: 0 }) : null
          if (fresh) latest.current.sitting = fresh
          const becomes = afterRefusal(status, fresh?.state === 'open' && (leftOf(fresh) ?? 1) > 0)
          if (becomes === 'again') continue
          if (becomes === 'late') {
            // What was typed last is shown beside the sitting until it is put away.
            keepLate(sitting.id, latest.current.waiting)
            put({})
            setSaving({ state: 'refused', why })
            break
          }
          if (becomes === 'dropped') {
            settle(sitting.id, step)
            put(without(latest.current.waiting, step))
            setSaving({ state: 'refused', why })
            continue
          }
          setSaving({ state: 'waiting', why })
          clearTimeout(timer.current)
          timer.current = setTimeout(() => void flush(), RETRY_MS)
          break
        }
      }
    } finally {
      busy.current = false
    }
  }, [client, put, sitting.id])

  useEffect(() => {
    if (Object.keys(latest.current.waiting).length) void flush()
    const online = () => void flush()
    window.addEventListener('online', online)
    return () => {
      window.removeEventListener('online', online)
      clearTimeout(timer.current)
    }
  }, [flush])

  const change = useCallback(
    (step: string, answer: StepAnswer) => {
      if (!(step in latest.current.waiting)) know(sitting.id, step, latest.current.sitting.answers[step])
      put(typed(latest.current.waiting, step, answer))
      setSaving({ state: 'saving' })
      clearTimeout(timer.current)
      timer.current = setTimeout(() => void flush(), TYPING_MS)
    },
    [flush, put, sitting.id],
  )
  /** The other answer to a step is looked at and needs no more words. */
  const putOtherAway = useCallback(
    (step: string) => {
      putAway(sitting.id, step)
      setOthers(overwritten(sitting.id))
    },
    [sitting.id],
  )
  /** Resolves once everything typed so far is saved; throws where that is not possible now. */
  const settled = useCallback(async () => {
    clearTimeout(timer.current)
    while (busy.current) await new Promise((done) => setTimeout(done, 40))
    await flush()
    if (Object.keys(latest.current.waiting).length) throw new Error(NOT_SAVED)
  }, [flush])
  return { answers: { ...sitting.answers, ...waiting }, change, saving, flush, settled, others, putOtherAway }
}
