import { useQuery, useQueryClient } from '@tanstack/react-query'
import { useEffect, useState } from 'react'
import { serverNow } from '../../api/client'
import { handIn, sittingQuery, timeOf, type Sitting } from './queries'

const MINUTE = 60_000
const FEW = 5 * MINUTE
const ASKED_EVERY = 10_000

export const leftOf = (sitting: Sitting): number | null =>
  sitting.ends_at ? Date.parse(sitting.ends_at) - serverNow() : null

interface Props {
  sitting: Sitting
  /** Resolves once what was typed is saved. */
  settled: () => Promise<void>
}

/** What is left of a sitting's time; at its end what was saved is handed in. */
export function TimeLeft({ sitting, settled }: Props) {
  const client = useQueryClient()
  const limited = sitting.ends_at !== null
  const [left, setLeft] = useState(() => leftOf(sitting))
  const { data: told } = useQuery({
    queryKey: ['time', sitting.id],
    queryFn: () => timeOf(sitting.id),
    enabled: limited,
    refetchInterval: ASKED_EVERY,
    retry: false,
  })
  useEffect(() => {
    const { queryKey } = sittingQuery(sitting.id)
    // Nothing but the end is taken over: what was typed is the autosave's.
    if (told?.ends_at && told.state === 'open')
      client.setQueryData(queryKey, (kept) => kept && { ...kept, ends_at: told.ends_at })
  }, [told, client, sitting.id])
  const over = left !== null && left <= 0
  useEffect(() => {
    if (!sitting.ends_at) return
    const timer = setInterval(() => setLeft(leftOf(sitting)), 1000)
    return () => clearInterval(timer)
  }, [sitting])
  useEffect(() => {
    if (!over) return
    let done = false
    const query = sittingQuery(sitting.id)
    const end = async () => {
      // What cannot be sent now is kept by the autosave; what was saved is handed in all the same.
      await settled().catch(() => undefined)
      try {
        const now = await timeOf(sitting.id)
        if (now.state === 'open' && now.ends_at && Date.parse(now.ends_at) > serverNow()) {
          client.setQueryData(['time', sitting.id], now)
          return
        }
        client.setQueryData(query.queryKey, await handIn(sitting.id))
      } catch {
        // Without network the server hands in by itself; this window learns of it when it is back.
        await client.invalidateQueries({ queryKey: query.queryKey })
      }
    }
    const again = setInterval(() => {
      if (!done) void end()
    }, 15_000)
    void end()
    return () => {
      done = true
      clearInterval(again)
    }
  }, [over, client, sitting.id, settled])
  if (left === null) return null
  const minutes = Math.ceil(left / MINUTE)
  return (
    <>
      <strong data-few={left < FEW}>
        {over ? 'time is up' : left < 2 * MINUTE ? `${Math.ceil(left / 1000)} s left` : `${minutes} min left`}
      </strong>
      <span role="status" className="hidden-text">
        {over
          ? 'Time is up; your sitting is handed in.'
          : [5, 1].includes(minutes)
            ? `${minutes} min left`
            : ''}
      </span>
    </>
  )
}
