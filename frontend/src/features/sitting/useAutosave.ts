/** Every change of an answer is kept here at once, sent as soon as the network allows, and survives a reload. */
import { useQueryClient } from '@tanstack/react-query'
import { useCallback, useEffect, useRef, useState } from 'react'
import { Problem } from '../../api/client'
import { saveAnswer, sittingQuery, type Sitting, type StepAnswer } from './queries'

export type Saving =
  | { state: 'saved'; at: string }
  | { state: 'saving' }
  | { state: 'waiting'; why: string }
  | { state: 'refused'; why: string }

type Waiting = Record<string, StepAnswer>

const RETRY_MS = 3000
const TYPING_MS = 350

const keyOf = (id: number) => `tracebench-sitting-${id}`

function kept(id: number): Waiting {
  try {
    return JSON.parse(localStorage.getItem(keyOf(id)) ?? '{}') as Waiting
  } catch {
    return {}
  }
}

export function useAutosave(sitting: Sitting) {
  const client = useQueryClient()
  const [waiting, setWaiting] = useState<Waiting>(() => (sitting.state === 'open' ? kept(sitting.id) : {}))
  const [saving, setSaving] = useState<Saving>({ state: 'saved', at: sitting.saved_at })
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
      if (Object.keys(next).length) localStorage.setItem(keyOf(sitting.id), JSON.stringify(next))
      else localStorage.removeItem(keyOf(sitting.id))
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
        try {
          const next = await saveAnswer(sitting.id, {
            step,
            answer,
            revision: latest.current.sitting.revision,
          })
          latest.current.sitting = next
          client.setQueryData(query.queryKey, next)
          if (latest.current.waiting[step] === answer) {
            put(Object.fromEntries(Object.entries(latest.current.waiting).filter(([s]) => s !== step)))
          }
          setSaving({ state: 'saved', at: next.saved_at })
        } catch (problem) {
          const status = problem instanceof Problem ? problem.status : 0
          const why = problem instanceof Error ? problem.message : ''
          if (status === 409) {
            // Another window saved: take its state and put this change on top, unless all is handed in.
            const fresh = await client.fetchQuery({ ...query, staleTime: 0 })
            latest.current.sitting = fresh
            if (fresh.state === 'open') continue
            put({})
            setSaving({ state: 'refused', why })
            break
          }
          if (status === 422) {
            put(Object.fromEntries(Object.entries(latest.current.waiting).filter(([s]) => s !== step)))
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
      put({ ...latest.current.waiting, [step]: answer })
      setSaving({ state: 'saving' })
      clearTimeout(timer.current)
      timer.current = setTimeout(() => void flush(), TYPING_MS)
    },
    [flush, put],
  )
  return { answers: { ...sitting.answers, ...waiting }, change, saving, flush }
}
