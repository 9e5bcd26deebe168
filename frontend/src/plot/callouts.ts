/** Tags beside their places: where neither the trace nor another tag stands, with a line to what they mean. */
import type { Theme } from '../design/theme'
import { GUTTER, RIGHT, xOf, yOf, type Frame, type LaneBox } from './frame'
import type { Piece } from './tiles'
import type { StripMark, StripRecord } from './types'

const COLUMN = 6
const WIDTH = 168
const LINE = 16
const PAD = 6
const MOST_LINES = 3
const CLEAR = 5

interface Box {
  left: number
  top: number
  width: number
  height: number
}

/** Highest and lowest pixel of a lane's trace in columns of the plot, null where there is none. */
export function occupied(
  frame: Frame,
  box: LaneBox,
  record: StripRecord,
  pieces: Piece[],
): ([number, number] | null)[] {
  const columns: ([number, number] | null)[] = Array<null>(
    Math.ceil((frame.width - GUTTER - RIGHT) / COLUMN) + 1,
  ).fill(null)
  const add = (s: number, v: number) => {
    const k = Math.floor((xOf(frame, s) - GUTTER) / COLUMN)
    if (k < 0 || k >= columns.length) return
    const y = yOf(box, v)
    const held = columns[k]
    columns[k] = held ? [Math.min(held[0], y), Math.max(held[1], y)] : [y, y]
  }
  for (const piece of pieces) {
    const wide = 2 ** piece.level * record.intervalS
    const per = piece.level === 0 ? 1 : 2
    for (let k = 0; k < piece.data.length; k++) {
      add(record.startS + (piece.firstBin + Math.floor(k / per) + 0.5) * wide, piece.data[k] ?? 0)
    }
  }
  // Between samples further apart than a column the line stands as well.
  let last: [number, number] | null = null
  return columns.map((own) => {
    const filled = own ?? last
    last = own ?? last
    return filled
  })
}

/** Draws the callouts of a lane's tags; those without a free place keep their flag alone. */
export function drawCallouts(
  ctx: CanvasRenderingContext2D,
  frame: Frame,
  box: LaneBox,
  tags: StripMark[],
  trace: ([number, number] | null)[],
  theme: Theme,
): void {
  ctx.font = `13px ${theme.type.text}`
  ctx.textAlign = 'left'
  ctx.textBaseline = 'alphabetic'
  const placed: Box[] = []
  for (const tag of [...tags].sort((a, b) => a.from - b.from)) {
    const x = xOf(frame, (tag.from + tag.to) / 2)
    if (x < GUTTER || x > frame.width - RIGHT) continue
    const lines = wrapped(ctx, tag.label)
    const width = Math.max(...lines.map((line) => ctx.measureText(line).width)) + 2 * PAD
    const y = middle(trace, x) ?? box.top + box.height / 2
    const spot = freeSpot(frame, box, trace, placed, { x, y }, width, lines.length * LINE + PAD)
    if (!spot) continue
    placed.push(spot)
    drawCallout(ctx, spot, lines, { x, y }, theme)
  }
}

function middle(trace: ([number, number] | null)[], x: number): number | null {
  const held = trace[Math.floor((x - GUTTER) / COLUMN)]
  return held ? (held[0] + held[1]) / 2 : null
}

/** The free place nearest to what a tag is about. */
function freeSpot(
  frame: Frame,
  box: LaneBox,
  trace: ([number, number] | null)[],
  placed: Box[],
  at: { x: number; y: number },
  width: number,
  height: number,
): Box | null {
  let best: Box | null = null
  let nearest = Infinity
  for (const dx of [-0.5, 0.08, -1.08, 0.4, -1.4, 0.8, -1.8]) {
    const left = Math.min(Math.max(at.x + dx * width, GUTTER + 4), frame.width - RIGHT - width - 2)
    for (let top = box.top + 2; top + height <= box.top + box.height - 2; top += 6) {
      const spot = { left, top, width, height }
      const far = Math.hypot(left + width / 2 - at.x, top + height / 2 - at.y)
      if (far < nearest && clearOfTrace(trace, spot) && placed.every((other) => apart(other, spot))) {
        best = spot
        nearest = far
      }
    }
  }
  return best
}

function clearOfTrace(trace: ([number, number] | null)[], spot: Box): boolean {
  const first = Math.max(0, Math.floor((spot.left - CLEAR - GUTTER) / COLUMN))
  const last = Math.floor((spot.left + spot.width + CLEAR - GUTTER) / COLUMN)
  return trace
    .slice(first, last + 1)
    .every((held) => !held || held[1] < spot.top - CLEAR || held[0] > spot.top + spot.height + CLEAR)
}

const apart = (one: Box, other: Box): boolean =>
  one.left > other.left + other.width + CLEAR ||
  other.left > one.left + one.width + CLEAR ||
  one.top > other.top + other.height + CLEAR ||
  other.top > one.top + one.height + CLEAR

function drawCallout(
  ctx: CanvasRenderingContext2D,
  spot: Box,
  lines: string[],
  at: { x: number; y: number },
  theme: Theme,
): void {
  const x = Math.min(Math.max(at.x, spot.left), spot.left + spot.width)
  const y = at.y < spot.top ? spot.top : at.y > spot.top + spot.height ? spot.top + spot.height : at.y
  ctx.setLineDash([])
  ctx.lineWidth = 1.2
  ctx.strokeStyle = theme.colour.soft
  ctx.beginPath()
  ctx.moveTo(x, y)
  ctx.lineTo(at.x, at.y)
  ctx.stroke()
  ctx.fillStyle = theme.colour.soft
  ctx.beginPath()
  ctx.arc(at.x, at.y, 2.6, 0, 7)
  ctx.fill()
  ctx.fillStyle = theme.colour.sheet
  ctx.fillRect(spot.left, spot.top, spot.width, spot.height)
  ctx.strokeRect(spot.left + 0.5, spot.top + 0.5, spot.width, spot.height)
  ctx.fillStyle = theme.colour.ink
  lines.forEach((line, k) => ctx.fillText(line, spot.left + PAD, spot.top + (k + 1) * LINE - 2))
}

/** A text in lines of the callouts' width, the last shortened where it is too long. */
function wrapped(ctx: CanvasRenderingContext2D, text: string): string[] {
  const lines: string[] = []
  for (const word of text.split(/\s+/)) {
    const last = lines.at(-1)
    const longer = last === undefined ? word : `${last} ${word}`
    if (last !== undefined && ctx.measureText(longer).width <= WIDTH) lines[lines.length - 1] = longer
    else lines.push(word)
  }
  if (lines.length <= MOST_LINES) return lines
  return [...lines.slice(0, MOST_LINES - 1), `${lines[MOST_LINES - 1] ?? ''} …`]
}
