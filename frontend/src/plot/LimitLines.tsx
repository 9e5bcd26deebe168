import styled from 'styled-components'
import { GUTTER, RIGHT, vOf, yOf, type Frame } from './frame'

/** A limit on a level, drawn across its lane; `onMove` is given where it may be dragged. */
export interface LimitLine {
  lane: string
  label: string
  /** What stands at the line itself. */
  short: string
  side: 'low' | 'high'
  value: number
  onMove?: (value: number) => void
}

interface Props {
  frame: Frame
  lines: LimitLine[]
}

export function LimitLines({ frame, lines }: Props) {
  return lines.map((line) => {
    const box = frame.boxes.find((b) => b.lane.lane === line.lane)
    if (!box) return null
    const y = yOf(box, line.value)
    if (y < box.top - 6 || y > box.top + box.height + 6) return null
    const step = (box.high - box.low) / 200
    return (
      <Line
        key={line.label}
        {...(line.onMove && {
          role: 'slider',
          tabIndex: 0,
          'aria-label': line.label,
          'aria-orientation': 'vertical',
          'aria-valuenow': line.value,
          'aria-valuemin': box.low,
          'aria-valuemax': box.high,
          onPointerDown: (e: React.PointerEvent<HTMLDivElement>) => {
            e.stopPropagation()
            e.currentTarget.setPointerCapture(e.pointerId)
          },
          onPointerMove: (e: React.PointerEvent<HTMLDivElement>) => {
            if (e.buttons !== 1) return
            const top = e.currentTarget.parentElement?.getBoundingClientRect().top ?? 0
            line.onMove?.(vOf(box, e.clientY - top))
          },
          onKeyDown: (e: React.KeyboardEvent) => {
            const by = e.key === 'ArrowUp' ? step : e.key === 'ArrowDown' ? -step : 0
            if (!by) return
            e.preventDefault()
            e.stopPropagation()
            line.onMove?.(line.value + by)
          },
        })}
        data-fixed={line.onMove ? undefined : true}
        style={{ left: GUTTER, width: frame.width - GUTTER - RIGHT, top: y }}
      >
        <span data-side={line.side}>{line.short}</span>
      </Line>
    )
  })
}

const Line = styled.div`
  position: absolute;
  height: 0;
  border-top: 2px dashed ${(p) => p.theme.colour.unsure};
  touch-action: none;
  cursor: row-resize;
  z-index: 1;
  &[data-fixed] {
    pointer-events: none;
    border-top-width: 1px;
  }
  /* A finger needs more than the eye. */
  &::before {
    content: '';
    position: absolute;
    inset: -12px 0;
  }
  span {
    position: absolute;
    right: 4px;
    &[data-side='high'] {
      bottom: 3px;
    }
    &[data-side='low'] {
      top: 3px;
    }
    padding: 0 5px;
    font-size: 12.5px;
    background: ${(p) => p.theme.colour.sheet};
    color: ${(p) => p.theme.colour.unsure};
    border-radius: 2px;
  }
`
