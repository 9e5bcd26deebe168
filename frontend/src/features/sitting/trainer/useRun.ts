/** A run of the trainer: what hands do goes to the server as it happens, and what the scope shows comes back. */
import { useCallback, useEffect, useRef, useState } from 'react'
import { Problem } from '../../../api/client'
import {
  beginRun,
  freezeRun,
  lookAtRun,
  setRunScope,
  type Frame,
  type RunSettings,
  type RunState,
  type Sitting,
} from '../queries'
import { useMoves } from './useMoves'
import { useFrames, widened, type Reach } from './useFrames'

export interface Run {
  state: RunState | null
  frame: Frame | null
  /** How far each lane has reached with these settings, so that scales do not jump about. */
  reach: Reach
  watching: boolean
  /** The longest that a run lasts has gone by. */
  over: boolean
  problem: string | null
  /** Where the controls stand. */
  controls: Record<string, number>
  start: (settings: RunSettings) => Promise<void>
  move: (control: string, value: number) => void
  wait: (seconds: number) => Promise<void>
  setScope: (settings: RunSettings) => Promise<void>
  /** Look at the running scope; `once` freezes by itself when a record is whole. */
  watch: (once?: (sitting: Promise<Sitting>) => void) => void
  pause: () => void
  freeze: () => Promise<Sitting> | null
}

export function useRun(sittingId: number, possible: boolean): Run {
  const [state, setState] = useState<RunState | null>(null)
  const [frame, setFrame] = useState<Frame | null>(null)
  const [reach, setReach] = useState<Reach>({})
  const [watching, setWatching] = useState(false)
  const [problem, setProblem] = useState<string | null>(null)
  const [controls, setControls] = useState<Record<string, number>>({})
  /** When on this device's clock the run began, ms. */
  const zero = useRef(0)
  const latest = useRef<RunState | null>(null)
  const shown = useRef<Frame | null>(null)
  const once = useRef<((sitting: Promise<Sitting>) => void) | null>(null)

  const taken = useCallback((next: RunState) => {
    latest.current = next
    zero.current = performance.now() - 1000 * next.elapsed_s
    setState(next)
    setProblem(null)
  }, [])
  const failed = useCallback((why: unknown) => {
    setProblem(why instanceof Error ? why.message : String(why))
  }, [])

  useEffect(() => {
    if (!possible) return
    let gone = false
    lookAtRun(sittingId)
      .then(({ run: next }) => {
        if (gone || !next) return
        taken(next)
        setControls(next.controls)
      })
      // A capture that waits for an earlier answer has no run yet.
      .catch((why: unknown) => {
        if (!(why instanceof Problem && why.status === 409)) failed(why)
      })
    return () => {
      gone = true
    }
  }, [sittingId, possible, taken, failed])

  const { send, push, forget } = useMoves(sittingId, latest, taken, failed)
  const move = useCallback(
    (control: string, value: number) => {
      setControls((before) => ({ ...before, [control]: value }))
      if (!latest.current) return
      const at_s = Math.max(0, (performance.now() - zero.current) / 1000)
      push({ at_s, control, value })
    },
    [push],
  )

  const start = useCallback(
    async (settings: RunSettings) => {
      try {
        forget()
        setFrame(null)
        setReach({})
        shown.current = null
        taken(await beginRun(sittingId, settings))
        setControls({})
        setWatching(true)
      } catch (why) {
        failed(why)
      }
    },
    [sittingId, taken, failed, forget],
  )

  const setScope = useCallback(
    async (settings: RunSettings) => {
      const run = latest.current
      if (!run) return
      try {
        taken(await setRunScope(sittingId, { run: run.run, settings }))
        setReach({})
        shown.current = null
      } catch (why) {
        failed(why)
      }
    },
    [sittingId, taken, failed],
  )

  const freeze = useCallback((): Promise<Sitting> | null => {
    const { current: run } = latest
    const { current: kept } = shown
    if (!run || !kept || kept.lanes.length === 0) return null
    setWatching(false)
    once.current = null
    return freezeRun(sittingId, { run: run.run, begin_s: kept.begin_s, seconds: kept.seconds })
  }, [sittingId])

  const number = state?.run ?? null
  const onFrame = useCallback(
    (next: Frame) => {
      shown.current = next
      setFrame(next)
      setReach((before) => widened(before, next))
      if (next.over) setWatching(false)
      const done = once.current
      if (done && next.whole && next.begin_s >= (latest.current?.base_s ?? 0) - 0.001) {
        const keeping = freeze()
        if (keeping) done(keeping)
      }
    },
    [freeze],
  )
  const onStopped = useCallback((why: string) => {
    setWatching(false)
    setProblem(why)
  }, [])
  useFrames(sittingId, watching ? number : null, onFrame, onStopped)

  return {
    state,
    frame,
    reach,
    watching,
    over: state !== null && (frame?.over === true || state.elapsed_s >= state.ends_s),
    problem,
    controls,
    start,
    move,
    wait: (seconds) => send(seconds),
    setScope,
    watch: (done) => {
      once.current = done ?? null
      setWatching(true)
    },
    pause: () => setWatching(false),
    freeze,
  }
}
