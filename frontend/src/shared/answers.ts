import { fixed } from '../ui/numbers'
import type { Schemas } from '../api/client'
import { CALL_WORDS, type Call } from '../ui/marks'
import type { Circuit } from './facts'

const MOST_ROWS = 12

/** What somebody answered to a step, in words. */
export function said(given: Schemas['AnswerBody'], unit: string, circuit: Circuit): string {
  if (given.absent) return 'there is none here'
  if (given.state) return given.state
  if (given.lane) return circuit.lanes.find((l) => l.name === given.lane)?.title ?? given.lane
  if (given.figures && given.value !== undefined)
    return `${given.value ?? 'nothing yet'} from ${Object.values(given.figures).join(', ')}`
  if (given.marks)
    return Object.entries(given.marks)
      .map(([name, at]) => `${name.replaceAll('_', ' ')} at ${at.map((s) => fixed(s, 3)).join('–')} s`)
      .join(' · ')
  if (given.wires)
    return Object.entries(given.wires)
      .map(([wire, lane]) => `${wire}: ${circuit.lanes.find((l) => l.name === lane)?.title ?? lane}`)
      .join(' · ')
  if (given.rows) {
    const rows = given.rows.map((row) => Object.values(row).filter(Boolean).join(', '))
    return [
      ...rows.slice(0, MOST_ROWS),
      ...(rows.length > MOST_ROWS ? [`and ${rows.length - MOST_ROWS} more`] : []),
    ].join(' · ')
  }
  if (given.words && !given.verdict) return given.words
  if (given.range_v !== undefined || given.rate_hz !== undefined || given.duration_s !== undefined)
    return `range ${given.range_v ?? '…'}, ${given.duration_s ?? '…'} s, ${given.rate_hz ?? '…'} samples a second`
  if (given.value !== undefined && given.value !== null) {
    const pegs = given.pegs?.length
      ? `, pegs at ${given.pegs.map((p) => `${fixed(p, 3)} s`).join(' and ')}`
      : ''
    return `${given.value} ${unit}${pegs}`
  }
  const parts = [
    given.verdict && CALL_WORDS[given.verdict as Call],
    circuit.causes.find((c) => c.key === given.cause)?.text,
    given.evidence?.length &&
      `evidence ${given.evidence.map((e) => e.map((t) => fixed(t, 2)).join('–')).join(', ')} s`,
    circuit.next_tests.find((c) => c.key === given.next_test)?.text,
    given.otherwise &&
      `if not cured: ${circuit.next_tests.find((c) => c.key === given.otherwise)?.text ?? given.otherwise}`,
    ...(given.ruled_out ?? []).map(
      (r) =>
        `not ${circuit.causes.find((c) => c.key === r.cause)?.text.toLowerCase() ?? r.cause}${
          r.by?.length ? ` by ${r.by.map((t) => fixed(t, 2)).join('–')} s` : ''
        }`,
    ),
    given.confidence !== undefined && `${given.confidence} % sure`,
  ]
  return parts.filter(Boolean).join(' · ') || 'nothing'
}
