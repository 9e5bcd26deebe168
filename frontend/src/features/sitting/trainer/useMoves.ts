/** What hands do, on its way to the server. */
import { useCallback, useEffect, useRef, type RefObject } from 'react'
import { Problem } from '../../../api/client'
import { sendMoves, type Move, type RunState } from '../queries'
import { thinned } from './moves'

const SEND_MS = 120
const AGAIN_MS = 1000

interface Moves {
  /** Sends what has gathered, and lets time go by. */
  send: (waitS?: number) => Promise<void>
  push: (move: Move) => void
  forget: () => void
}

/** Moves are sent together, in order, and kept while the network is gone. */
export function useMoves(
  sittingId: number,
  run: RefObject<RunState | null>,
  taken: (next: RunState) => void,
  failed: (why: unknown) => void,
): Moves {
  const unsent = useRef<Move[]>([])
  const sending = useRef<Promise<void>>(Promise.resolve())
  const retry = useRef<() => void>(() => undefined)
  const timer = useRef<ReturnType<typeof setTimeout>>(undefined)

  const send = useCallback(
    (waitS = 0): Promise<void> => {
      clearTimeout(timer.current)
      timer.current = undefined
      sending.current = sending.current.then(async () => {
        const now = run.current
        const moves = unsent.current
        if (!now || (moves.length === 0 && waitS === 0)) return
        unsent.current = []
        try {
          const next = await sendMoves(sittingId, { run: now.run, moves, wait_s: waitS })
          // Only a wait moves the clock; each answer's own delay would make it jump.
          if (waitS > 0) taken(next)
        } catch (why) {
          if (why instanceof Problem && why.status !== 0) failed(why)
          else {
            // The network is gone for a moment: what hands did is sent when it is back.
            unsent.current = [...moves, ...unsent.current]
            timer.current = setTimeout(() => retry.current(), AGAIN_MS)
          }
        }
      })
      return sending.current
    },
    [sittingId, run, taken, failed],
  )

  useEffect(() => {
    retry.current = () => void send()
    return () => clearTimeout(timer.current)
  }, [send])

  const push = useCallback(
    (move: Move) => {
      unsent.current = thinned(unsent.current, move)
      timer.current ??= setTimeout(() => void send(), SEND_MS)
    },
    [send],
  )
  const forget = useCallback(() => {
    unsent.current = []
  }, [])
  return { send, push, forget }
}
