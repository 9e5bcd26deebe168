import { figures } from '../ui/numbers'
import styled from 'styled-components'
import { LANE_GAP, type LaneBox } from './frame'
import { scaleUnit } from './draw'
import { valueText } from './scale'
import type { PegValues, Pegs } from './types'

interface Props {
  boxes: LaneBox[]
  pegs: Pegs
  values: PegValues | null
  /** Where lanes can be sized and put in another order. */
  onResize?: (place: number, byPx: number) => void
  onMove?: (place: number, by: -1 | 1) => void
}

/** Names, peg values and order of the lanes, at their left edge; the line below a lane resizes it. */
export function LaneLabels({ boxes, pegs, values, onResize, onMove }: Props) {
  return (
    <>
      {boxes.map((box, k) => {
        const found = values?.lanes.find((l) => l.lane === box.lane.lane)
        // The values come for the pegs that are set, in their order.
        const gap = (pegs[1] ?? 0) - (pegs[0] ?? 0)
        const told = (peg: number | null) => lastUpdate(box.lane.points, peg)
        const a = pegs[0] === null ? undefined : (found?.at[0] ?? told(pegs[0]))
        const b = pegs[1] === null ? undefined : (found?.at[pegs[0] === null ? 0 : 1] ?? told(pegs[1]))
        return (
          <div key={box.lane.lane}>
            <Label data-tight={box.height < 54 || undefined} style={{ top: box.top - 2, height: box.height }}>
              <strong title={`${box.lane.title}, ${scaleUnit(box)}`}>{box.lane.title}</strong>
              <small>{scaleUnit(box)}</small>
              {box.height > 62 && (
                <span
                  className="num"
                  title="Worked out from the samples, then rounded; the difference is not one of rounded figures."
                >
                  {a !== undefined && <i>▸ {valueText(a, box.lane.unit)}</i>}
                  {b !== undefined && <i>◂ {valueText(b, box.lane.unit)}</i>}
                  {a !== undefined && b !== undefined && <i>Δ {valueText(b - a, box.lane.unit)}</i>}
                  {a !== undefined && b !== undefined && gap !== 0 && box.height > 110 && (
                    <i title="slope between the pegs">
                      {figures((b - a) / gap, 3)} {box.lane.unit}/s
                    </i>
                  )}
                </span>
              )}
              {onMove && boxes.length > 1 && (
                <Order data-tight={box.height < 84 || undefined}>
                  <button
                    disabled={k === 0}
                    aria-label={`Move ${box.lane.title} up`}
                    onClick={() => onMove(k, -1)}
                  >
                    ↑
                  </button>
                  <button
                    disabled={k === boxes.length - 1}
                    aria-label={`Move ${box.lane.title} down`}
                    onClick={() => onMove(k, 1)}
                  >
                    ↓
                  </button>
                </Order>
              )}
            </Label>
            {onResize && k < boxes.length - 1 && (
              <Divider
                role="separator"
                tabIndex={0}
                aria-valuenow={Math.round(box.height)}
                aria-valuemin={0}
                aria-valuemax={Math.round(box.height + (boxes[k + 1]?.height ?? 0))}
                aria-valuetext={`${Math.round(box.height)} pixels`}
                aria-orientation="horizontal"
                aria-label={`Height of ${box.lane.title}`}
                style={{ top: box.top + box.height + LANE_GAP / 2 - 5 }}
                onPointerDown={(e) => e.currentTarget.setPointerCapture(e.pointerId)}
                onPointerMove={(e) => e.buttons === 1 && onResize(k, e.movementY)}
                onKeyDown={(e) => {
                  if (e.key !== 'ArrowUp' && e.key !== 'ArrowDown') return
                  e.preventDefault()
                  e.stopPropagation()
                  onResize(k, e.key === 'ArrowUp' ? -12 : 12)
                }}
              />
            )}
          </div>
        )
      })}
    </>
  )
}

/** What the scan tool showed last at an instant. */
const lastUpdate = (points: [number, number][] | undefined, at: number | null): number | undefined =>
  at === null ? undefined : points?.filter(([s]) => s <= at).at(-1)?.[1]

const Label = styled.div`
  position: absolute;
  left: 14px;
  width: 82px;
  display: flex;
  flex-direction: column;
  overflow: hidden;
  pointer-events: none;
  /* A low lane has two lines for name and unit together. */
  &[data-tight] {
    display: block;
    line-height: 1.1;
    overflow: visible;
  }
  &[data-tight] small {
    margin-left: 4px;
  }
  strong {
    font-size: 15px;
    font-weight: 650;
    line-height: 1.25;
  }
  &[data-tight] strong {
    font-size: 13px;
    line-height: 1.1;
  }
  small {
    font-size: 12.5px;
    color: ${(p) => p.theme.colour.muted};
  }
  > span {
    margin-top: 2px;
    pointer-events: auto;
  }
  i {
    display: block;
    font-style: normal;
    font-size: 12.5px;
    white-space: nowrap;
  }
`

const Order = styled.div`
  margin-top: auto;
  pointer-events: auto;
  /* A low lane keeps its name; the buttons come with focus or the mouse. */
  &[data-tight] {
    position: absolute;
    right: -14px;
    top: 0;
    opacity: 0;
    background: ${(p) => p.theme.colour.sheet};
  }
  &[data-tight]:focus-within,
  &[data-tight]:hover {
    opacity: 1;
  }
  button {
    border: 0;
    background: none;
    color: ${(p) => p.theme.colour.muted};
    padding: 2px 7px;
    cursor: pointer;
    &:disabled {
      opacity: 0.25;
      cursor: default;
    }
  }
`

const Divider = styled.div`
  position: absolute;
  left: 0;
  right: 0;
  height: 10px;
  cursor: ns-resize;
  touch-action: none;
`
