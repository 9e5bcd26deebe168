import { fixed } from '../../ui/numbers'
import styled, { useTheme } from 'styled-components'

interface Props {
  estimate: number
  low: number
  high: number
  known: boolean
}

/** An estimate from 0 to 100 % as a tick on a bar, with the band it surely lies in. */
export function Band({ estimate, low, high, known }: Props) {
  const c = useTheme().colour
  const percent = (v: number) => `${fixed(v * 100, 1)}%`
  return (
    <Box>
      <svg width="100%" height="16" aria-hidden="true">
        <rect x="0" y="6" width="100%" height="4" rx="2" fill={c.faint} />
        {known && (
          <>
            <rect
              x={percent(low)}
              y="4"
              width={percent(high - low)}
              height="8"
              rx="3"
              fill={c.ghost.signal}
            />
            <rect x={percent(estimate)} y="1" width="3" height="14" fill={c.ink} />
          </>
        )}
      </svg>
      <span className="num">
        {known ? `${Math.round(estimate * 100)} % ±${Math.round(((high - low) / 2) * 100)}` : 'not seen yet'}
      </span>
    </Box>
  )
}

const Box = styled.div`
  min-width: 104px;
  span {
    display: block;
    font-size: 13px;
  }
`
