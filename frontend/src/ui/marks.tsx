/** The marks for states, calls and stages: word and shape first, then colour. The same everywhere. */
import styled, { useTheme } from 'styled-components'

export type State = 'inside' | 'marginal' | 'outside'
export type Call = 'sound' | 'faulty' | 'inconclusive'

export const CALL_WORDS: Record<Call, string> = {
  sound: 'Sound',
  faulty: 'Faulty',
  inconclusive: 'Cannot tell yet',
}

interface GaugeProps {
  value: number
  low: number | null
  high: number | null
  /** How far the marginal zone reaches beyond the limit. */
  zone: number
  state: State
}

/** A reading as a dot between, on or beyond its limit posts, with the marginal zone as a dashed edge beyond them. */
export function Gauge({ value, low, high, zone, state }: GaugeProps) {
  const c = useTheme().colour
  const colour = { inside: c.sound, marginal: c.unsure, outside: c.fault }[state]
  const place = placeOf(value, low, high)
  const x = 20 + Math.max(-0.36, Math.min(1.36, place)) * 36
  return (
    <svg width="76" height="18" role="img" aria-label={state}>
      <title>{state}</title>
      <rect x="20" y="6" width="36" height="6" fill={state === 'inside' ? c.soundSoft : c.faint} />
      {zone > 0 && low !== null && (
        <path d="M12 9h8" stroke={c.unsure} strokeWidth="3" strokeDasharray="2 2" />
      )}
      {zone > 0 && high !== null && (
        <path d="M56 9h8" stroke={c.unsure} strokeWidth="3" strokeDasharray="2 2" />
      )}
      {low !== null && <path d="M20 2v14" stroke={c.muted} strokeWidth="1.5" />}
      {high !== null && <path d="M56 2v14" stroke={c.muted} strokeWidth="1.5" />}
      {state === 'outside' ? (
        <path d={`M${x - 5} 4l10 10M${x + 5} 4l-10 10`} stroke={colour} strokeWidth="2.6" />
      ) : (
        <circle
          cx={x}
          cy="9"
          r="5"
          fill={state === 'inside' ? colour : c.sheet}
          stroke={colour}
          strokeWidth="2.4"
        />
      )}
    </svg>
  )
}

function placeOf(value: number, low: number | null, high: number | null): number {
  if (low !== null && high !== null) return (value - low) / Math.max(high - low, 1e-12)
  // One open side: the post stands at one end and the distance is told in parts of its value.
  if (low !== null)
    return value >= low ? Math.min(0.9, 0.12 + (value - low) / Math.max(Math.abs(low), 1e-9)) : -0.28
  if (high === null) return 0.5
  return value <= high ? Math.max(0.1, value / Math.max(Math.abs(high), 1e-9)) * 0.88 : 1.28
}

const Badge = styled.span<{ $tone: 'sound' | 'fault' | 'unsure' | 'muted' }>`
  display: inline-flex;
  align-items: center;
  gap: 6px;
  padding: 1px 8px;
  border: 1px solid currentColor;
  border-radius: 3px;
  font-size: 12.5px;
  line-height: 1.5;
  white-space: nowrap;
  color: ${(p) => (p.$tone === 'muted' ? p.theme.colour.muted : p.theme.colour[p.$tone])};
`

/** Sound, faulty or cannot tell, with its shape. */
export function CallBadge({ call }: { call: Call }) {
  const tone = ({ sound: 'sound', faulty: 'fault', inconclusive: 'unsure' } as const)[call]
  const shape = {
    sound: 'M1 7l4 4 7-9',
    faulty: 'M2 2l9 9M11 2l-9 9',
    inconclusive: 'M2 4a4.5 3.5 0 1 1 5 3v1M7 11v1',
  }[call]
  return (
    <Badge $tone={tone}>
      <svg width="13" height="13" aria-hidden="true">
        <path d={shape} fill="none" stroke="currentColor" strokeWidth="2" />
      </svg>
      {CALL_WORDS[call]}
    </Badge>
  )
}

const STAGES: Record<string, ['sound' | 'unsure' | 'muted', string]> = {
  draft: ['unsure', 'draft'],
  published: ['sound', 'published'],
  retired: ['muted', 'retired'],
  open: ['unsure', 'begun'],
  handed_in: ['muted', 'handed in'],
  released: ['sound', 'marked'],
}

/** Where a reference, card or sitting stands. */
export function Stage({ stage, version }: { stage: string; version?: number | null }) {
  const [tone, word] = STAGES[stage] ?? ['muted', stage]
  return (
    <Badge $tone={tone}>
      {word}
      {version ? `, version ${version}` : ''}
    </Badge>
  )
}

/** How sure the tool is of a mark. */
export function Certainty({ value }: { value: number }) {
  const word = value < 0.6 ? 'look closely' : value < 0.8 ? 'fairly sure' : 'sure'
  return <Badge $tone={value < 0.6 ? 'fault' : value < 0.8 ? 'unsure' : 'sound'}>{word}</Badge>
}
