import { useTheme } from 'styled-components'
import type { Theme } from '../../design/theme'

const WIDTH = 168
const HEIGHT = 56
const PAD = 4

/** A trace in miniature from its least and most in even parts of the record. */
export function Thumb({ picture, colour }: { picture: number[][]; colour: keyof Theme['colour']['lane'] }) {
  const theme = useTheme()
  const [low = [], high = []] = picture
  const least = Math.min(...low)
  const span = Math.max(...high) - least || 1
  const x = (k: number) => PAD + (k * (WIDTH - 2 * PAD)) / Math.max(low.length - 1, 1)
  const y = (v: number) => HEIGHT - PAD - ((v - least) / span) * (HEIGHT - 2 * PAD)
  const there = high.map((v, k) => `${x(k).toFixed(1)},${y(v).toFixed(1)}`)
  const back = low.map((v, k) => `${x(k).toFixed(1)},${y(v).toFixed(1)}`).reverse()
  return (
    <svg width={WIDTH} height={HEIGHT} aria-hidden="true" style={{ background: theme.colour.sunk }}>
      <polygon
        points={[...there, ...back].join(' ')}
        fill={theme.colour.lane[colour]}
        stroke={theme.colour.lane[colour]}
        strokeWidth="1"
        strokeLinejoin="round"
      />
    </svg>
  )
}
