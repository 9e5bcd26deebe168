import { fixed } from '../../ui/numbers'
import { useTheme } from 'styled-components'
import type { LaneRole } from '../../design/theme'
import type { Circuit } from '../../shared/facts'

const WIDTH = 240
const HEIGHT = 60
const PAD = 4

/** A trace in miniature, as the server keeps it: least values, then most values, 0 to 255, in base64. */
export function Thumb({ picture, role, height }: { picture: string; role: LaneRole; height: number }) {
  const theme = useTheme()
  const bytes = Uint8Array.from(atob(picture), (c) => c.charCodeAt(0))
  const columns = bytes.length / 2
  const x = (k: number) => PAD + (k * (WIDTH - 2 * PAD)) / Math.max(columns - 1, 1)
  const point = (v: number, k: number) =>
    `${fixed(x(k), 1)},${fixed(HEIGHT - PAD - (v / 255) * (HEIGHT - 2 * PAD), 1)}`
  const low = [...bytes.subarray(0, columns)].map(point)
  const high = [...bytes.subarray(columns)].map(point)
  return (
    <svg
      viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
      preserveAspectRatio="none"
      aria-hidden="true"
      style={{ display: 'block', width: '100%', height, background: theme.colour.sunk }}
    >
      <polygon
        points={[...high, ...low.reverse()].join(' ')}
        fill={theme.colour.lane[role]}
        stroke={theme.colour.lane[role]}
        strokeWidth="1.4"
        strokeLinejoin="round"
        vectorEffect="non-scaling-stroke"
      />
    </svg>
  )
}

/** What the lane in a circuit's miniature is for: its first signal or current. */
export const roleOf = (circuit: Circuit | undefined): LaneRole =>
  (circuit?.lanes.find((l) => l.role === 'signal' || l.role === 'current') ?? circuit?.lanes[0])?.role ??
  'signal'
