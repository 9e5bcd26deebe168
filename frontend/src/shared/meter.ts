/** What a meter showed while a capture was taken, as a lane of its own on the strip. */
import { numberIn } from '../ui/numbers'
import { useMemo } from 'react'
import type { Schemas } from '../api/client'
import type { StripRecord } from '../plot/types'
import type { CaptureRecord } from './records'

const METER_SWEEP = 'meter-sweep'

type Answers = Record<string, Schemas['AnswerBody']>
type Row = Record<string, string>

const figuresOf = (rows: Row[]): [number, number][] =>
  rows
    .map((r): [number, number] => [numberIn(r['at_s'] ?? '') ?? NaN, numberIn(r['volts'] ?? '') ?? NaN])
    .filter(([s, v]) => Number.isFinite(s) && Number.isFinite(v))
    .sort(([a], [b]) => a - b)

/** The trace with its meter's lane, once two figures or more are written down as an answer or beside the capture. */
export function useMeterBeside<T extends { record: StripRecord }>(
  trace: T | null,
  answers: Answers,
  records: Pick<CaptureRecord, 'kind' | 'rows' | 'earlier'>[],
): T | null {
  const answered = Object.entries(answers).filter(([step]) => step.endsWith(`record-${METER_SWEEP}`))
  const kept = records.filter((r) => r.kind === METER_SWEEP && !r.earlier)
  // The same figures are the same lane: what is drawn of a record is kept by it.
  const told = JSON.stringify(
    figuresOf([
      ...answered.flatMap(([, given]) => given.rows ?? []),
      ...kept.flatMap((r) => r.rows as Row[]),
    ]),
  )
  return useMemo(() => {
    const points = JSON.parse(told) as [number, number][]
    if (!trace || points.length < 2) return trace
    const volts = points.map(([, v]) => v)
    const reach = { lowest: Math.min(...volts), highest: Math.max(...volts) }
    const lane = { lane: 'meter', title: 'Meter', role: 'scan' as const, unit: 'V', ...reach, points }
    return { ...trace, record: { ...trace.record, lanes: [...trace.record.lanes, lane] } }
  }, [trace, told])
}
