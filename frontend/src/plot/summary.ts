/** A trace in words, for people who hear the page. */
import { counted, fixed } from '../ui/numbers'
import { durationText, valueText } from './scale'
import type { StripMark, StripPhase, StripRecord } from './types'

export function summaryOf(record: StripRecord, phases: StripPhase[], marks: StripMark[]): string {
  const seconds = record.samples * record.intervalS
  const lanes = record.lanes.map(
    (l) => `${l.title} from ${valueText(l.lowest, l.unit)} to ${valueText(l.highest, l.unit)}`,
  )
  const parts = [
    `A record of ${durationText(seconds)} with ${counted(record.samples)} samples.`,
    `Lanes: ${lanes.join('; ')}.`,
  ]
  if (phases.length) {
    const named = phases.map((p) => `${p.name} ${fixed(p.from, 2)} to ${fixed(p.to, 2)} seconds`)
    parts.push(`Phases: ${named.join('; ')}.`)
  }
  const told = marks.filter((m) => m.kind !== 'reading')
  if (told.length)
    parts.push(`Marked: ${told.map((m) => `${m.label} at ${fixed(m.from, 2)} seconds`).join('; ')}.`)
  return parts.join(' ')
}
