/** A trace in words, for people who hear the page. */
import { durationText, valueText } from './scale'
import type { StripMark, StripPhase, StripRecord } from './types'

export function summaryOf(record: StripRecord, phases: StripPhase[], marks: StripMark[]): string {
  const seconds = record.samples * record.intervalS
  const lanes = record.lanes.map(
    (l) => `${l.title} from ${valueText(l.lowest, l.unit)} to ${valueText(l.highest, l.unit)}`,
  )
  const parts = [
    `A record of ${durationText(seconds)} with ${record.samples.toLocaleString('en')} samples.`,
    `Lanes: ${lanes.join('; ')}.`,
  ]
  if (phases.length) {
    const named = phases.map((p) => `${p.name} ${p.from.toFixed(2)} to ${p.to.toFixed(2)} seconds`)
    parts.push(`Phases: ${named.join('; ')}.`)
  }
  const told = marks.filter((m) => m.kind !== 'reading')
  if (told.length)
    parts.push(`Marked: ${told.map((m) => `${m.label} at ${m.from.toFixed(2)} seconds`).join('; ')}.`)
  return parts.join(' ')
}
