/** The corridor beneath a lane: a hatched band along the trace, and bars where the trace leaves it. */
import type { Theme } from '../design/theme'
import { xOf, yOf, type Frame, type LaneBox } from './frame'
import type { CorridorPiece, StripLane } from './types'

const HATCH_PX = 6

export function drawCorridor(
  ctx: CanvasRenderingContext2D,
  frame: Frame,
  box: LaneBox,
  pieces: CorridorPiece[],
  theme: Theme,
): void {
  for (const piece of pieces) {
    if (piece.lane !== box.lane.lane || piece.to < frame.view.from || piece.from > frame.view.to) continue
    const step = (piece.to - piece.from) / piece.low.length
    const x = (k: number) => xOf(frame, piece.from + (k + 0.5) * step)
    const edge = (side: number[], back: boolean) =>
      side.forEach((_, n) => {
        const k = back ? side.length - 1 - n : n
        const at: [number, number] = [x(k), yOf(box, side[k] ?? 0)]
        if (n === 0 && !back) ctx.moveTo(...at)
        else ctx.lineTo(...at)
      })
    ctx.save()
    ctx.beginPath()
    edge(piece.high, false)
    edge(piece.low, true)
    ctx.closePath()
    ctx.setLineDash([])
    ctx.lineWidth = 1
    ctx.strokeStyle = theme.colour.ghost[box.lane.role]
    ctx.stroke()
    ctx.clip()
    hatch(ctx, frame, box, x(0), x(piece.low.length - 1))
    ctx.restore()
    ctx.fillStyle = theme.colour.unsure
    for (const [from, to] of piece.outside) {
      const left = xOf(frame, from ?? 0)
      ctx.fillRect(left, box.top + box.height - 1, Math.max(3, xOf(frame, to ?? 0) - left), 4)
    }
  }
}

function hatch(ctx: CanvasRenderingContext2D, frame: Frame, box: LaneBox, left: number, right: number): void {
  const [from, to] = [Math.max(left, 0), Math.min(right, frame.width)]
  const tall = box.height + 8
  ctx.globalAlpha = 0.7
  ctx.beginPath()
  // Lines stand at the same places whatever piece they fill, so that pieces join.
  for (let x = Math.floor((from - tall) / HATCH_PX) * HATCH_PX; x < to; x += HATCH_PX) {
    ctx.moveTo(x, box.top + tall - 4)
    ctx.lineTo(x + tall, box.top - 4)
  }
  ctx.stroke()
}

/** The lane with room for its corridor. */
export function holdingCorridor(lane: StripLane, pieces: CorridorPiece[]): StripLane {
  const own = pieces.filter((piece) => piece.lane === lane.lane)
  return {
    ...lane,
    lowest: Math.min(lane.lowest, ...own.map((piece) => Math.min(...piece.low))),
    highest: Math.max(lane.highest, ...own.map((piece) => Math.max(...piece.high))),
  }
}
