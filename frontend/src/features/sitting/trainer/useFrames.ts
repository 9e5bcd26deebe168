/** What the scope of a run shows, as the server sends it. */
import { useEffect } from 'react'
import { lookAtRun, type Frame } from '../queries'

export type Reach = Record<string, [number, number]>

/** How far each lane has reached, with what a further frame shows. */
export function widened(before: Reach, { lanes }: Pick<Frame, 'lanes'>): Reach {
  const out = { ...before }
  for (const { name, low, high } of lanes) {
    const [least, most] = out[name] ?? [Infinity, -Infinity]
    out[name] = [Math.min(least, ...low), Math.max(most, ...high)]
  }
  return out
}

/** Frames of a run while its number is given; `onStopped` is told in words why there are no more. */
export function useFrames(
  sittingId: number,
  run: number | null,
  onFrame: (frame: Frame) => void,
  onStopped: (why: string) => void,
): void {
  useEffect(() => {
    if (run === null) return
    // The stream ends from time to time, and the browser asks again by itself.
    const events = new EventSource(`/api/sittings/${sittingId}/run/events?run=${run}`)
    events.onmessage = (event: MessageEvent<string>) => onFrame(JSON.parse(event.data) as Frame)
    events.onerror = () => {
      if (events.readyState !== EventSource.CLOSED) return
      // The answer says why: asked for once more, as an event source does not tell.
      lookAtRun(sittingId).then(
        ({ run: now }) =>
          onStopped(
            now?.run === run
              ? 'The picture of the trainer stopped; press Run to look again.'
              : 'The trainer was started anew in another window; look there.',
          ),
        (why: unknown) => onStopped(why instanceof Error ? why.message : String(why)),
      )
    }
    return () => events.close()
  }, [sittingId, run, onFrame, onStopped])
}
