/** What circuits declare, and captures for the strip: used by every feature that shows a trace. */
import { queryOptions, useQuery, useSuspenseQuery } from '@tanstack/react-query'
import { useEffect, useMemo, useState } from 'react'
import { api, fetchTile, unwrap, type Schemas } from '../api/client'
import { valuesAt } from './pegValues'
import type { Pegs, PegValues, StripMark, StripRecord, TileSource } from '../plot/types'

export type Circuit = Schemas['CircuitOut']
export type Answer = Schemas['AnswerOut']

export const factsQuery = queryOptions({
  queryKey: ['facts'],
  queryFn: () => unwrap(api.GET('/api/facts')),
  staleTime: Infinity,
})

/** The declared facts of a circuit. */
export function useCircuit(code: string): Circuit {
  const { data } = useSuspenseQuery(factsQuery)
  const found = data.circuits.find((c) => c.code === code)
  if (!found) throw new Error(`unknown circuit ${code}`)
  return found
}

export const captureQuery = (id: number) =>
  queryOptions({
    queryKey: ['capture', id],
    queryFn: () => unwrap(api.GET('/api/captures/{capture_id}', { params: { path: { capture_id: id } } })),
    staleTime: Infinity,
  })

/** A capture as the strip wants it. */
export function recordOf(capture: Schemas['CaptureOut'], circuit: Circuit): StripRecord {
  return {
    id: capture.id,
    samples: capture.samples,
    intervalS: capture.interval_s,
    startS: capture.start_s,
    tileBins: capture.tile_bins,
    lanes: [
      ...capture.lanes.map((lane) => {
        const spec = circuit.lanes.find((l) => l.name === lane.lane)
        return {
          lane: lane.lane,
          title: spec?.title ?? lane.lane,
          role: (spec?.role ?? 'signal') as StripRecord['lanes'][number]['role'],
          unit: lane.unit,
          lowest: lane.lowest,
          highest: lane.highest,
          beside: spec?.required === false,
        }
      }),
      ...capture.scan.filter((s) => s.points.length > 0).map(scanLane),
    ],
  }
}

/** A parameter of the scan tool as a lane of its own. */
function scanLane(scan: Schemas['CaptureOut']['scan'][number]): StripRecord['lanes'][number] {
  const points = scan.points.map((p): [number, number] => [p[0] ?? 0, p[1] ?? 0])
  const values = points.map((p) => p[1])
  return {
    lane: `scan ${scan.name}`,
    title: scan.name.charAt(0).toUpperCase() + scan.name.slice(1),
    role: 'scan',
    unit: scan.unit,
    lowest: Math.min(...values),
    highest: Math.max(...values),
    points,
  }
}

export const tilesOf =
  (captureId: number): TileSource =>
  (lane, level, tile) =>
    fetchTile(captureId, lane, level, tile)

/** Record and tiles of a stored capture; null while it loads. */
export function useTrace(
  captureId: number | null,
  code: string,
): { record: StripRecord; tiles: TileSource; opensOnS: number | null } | null {
  const circuit = useCircuit(code)
  const { data } = useQuery({ ...captureQuery(captureId ?? 0), enabled: captureId !== null })
  return useMemo(
    () =>
      data && captureId !== null
        ? { record: recordOf(data, circuit), tiles: tilesOf(captureId), opensOnS: circuit.opens_on_s }
        : null,
    [data, circuit, captureId],
  )
}

/** Values at the pegs, asked for once they have come to rest. */
export function usePegValues(captureId: number | null, pegs: Pegs): PegValues | null {
  const [settled, setSettled] = useState('')
  const at = pegs.filter((p) => p !== null).join(',')
  useEffect(() => {
    const timer = setTimeout(() => setSettled(at), 60)
    return () => clearTimeout(timer)
  }, [at])
  const { data } = useQuery({
    queryKey: ['values', captureId, settled],
    queryFn: async ({ client }) => valuesAt(await client.fetchQuery(captureQuery(captureId ?? 0)), settled),
    enabled: captureId !== null && settled !== '',
    placeholderData: (before) => before,
    staleTime: Infinity,
  })
  return at && data ? data : null
}

/** Findings and readings of an answer as marks on the strip. */
export function marksOf(answer: Answer, circuit: Circuit): StripMark[] {
  const title = (code: string) => circuit.findings.find((f) => f.code === code)?.title ?? code
  return [
    ...answer.findings.map((f, k): StripMark => ({
      id: `finding-${k}`,
      kind: f.kind as StripMark['kind'],
      from: f.from,
      to: f.to,
      lane: f.lane,
      label: title(f.code),
    })),
    ...answer.readings
      .filter((r) => r.cycle === null && r.cylinder === null)
      .map((r): StripMark => ({
        id: `reading-${r.id}`,
        kind: 'reading',
        from: r.from,
        to: r.to,
        lane: r.lane,
        label: r.id,
      })),
  ]
}

/** True where a capture is a row of events, such as injections or sparks. */
export const hasEvents = (circuit: Circuit) => circuit.findings.some((f) => f.code === 'unusual_event')
