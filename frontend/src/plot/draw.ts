/** Draws lanes, axis and ribbon on a canvas. All lengths are CSS pixels; `Frame` says where things are. */
import { fixed } from '../ui/numbers'
import type { LaneRole, Theme } from '../design/theme'
import { decimalsOf, roundStep, ticks, timeUnit } from './scale'
import type { Piece, Tiles } from './tiles'
import { GUTTER, RIGHT, LANE_GAP, type LaneBox, type Frame, xOf, yOf, scaleOf } from './frame'
import { drawCallouts, occupied } from './callouts'
import { drawCorridor } from './corridor'
import type { CorridorPiece, Ghost, StripLane, StripMark, StripPhase, StripRecord } from './types'

export const TEXTURE: Record<string, { dash: number[]; width: number }> = {
  signal: { dash: [], width: 1.7 },
  current: { dash: [], width: 2.4 },
  supply: { dash: [9, 3], width: 1.6 },
  ground: { dash: [], width: 1.1 },
  sync: { dash: [4, 2], width: 1.4 },
  scan: { dash: [], width: 1.4 },
}

/** Lines of records that are compared: told apart by their dashes first, then by colour. */
export const BESIDE: { dash: number[]; role: LaneRole }[] = [
  { dash: [10, 4], role: 'current' },
  { dash: [3, 3], role: 'supply' },
  { dash: [12, 3, 2, 3], role: 'sync' },
]

export interface Scene {
  record: StripRecord
  tiles: Tiles
  phases: StripPhase[]
  marks: StripMark[]
  selected: string | null
  ghosts: (Ghost & { cache: Tiles })[]
  corridor: CorridorPiece[]
}

/** Draw everything; answers whether any lane is shown as an envelope, and whether single samples are. */
export function drawStrip(
  ctx: CanvasRenderingContext2D,
  frame: Frame,
  scene: Scene,
  theme: Theme,
): { envelope: boolean; dots: boolean } {
  const c = theme.colour
  ctx.clearRect(0, 0, frame.width, frame.height)
  drawAxis(ctx, frame, theme)
  drawPhases(ctx, frame, scene.phases, theme)
  drawSelected(ctx, frame, scene, theme)
  const plot = frame.width - GUTTER - RIGHT
  const shown = (frame.view.to - frame.view.from) / scene.record.intervalS
  const level = scene.tiles.levelFor(shown, plot)
  const drawn = new Map<LaneBox, Piece[]>()
  for (const box of frame.boxes) {
    drawLaneFrame(ctx, frame, box, theme)
    ctx.save()
    within(ctx, frame, box)
    if (box.lane.points) {
      drawUpdates(ctx, frame, box, box.lane.points, c.lane.scan)
      ctx.restore()
      continue
    }
    drawCorridor(ctx, frame, box, scene.corridor, theme)
    for (const ghost of scene.ghosts) drawGhost(ctx, frame, box, ghost, scene.record, theme)
    const texture = TEXTURE[box.lane.role] ?? { dash: [], width: 1.5 }
    ctx.strokeStyle = c.lane[box.lane.role]
    ctx.lineWidth = texture.width
    ctx.setLineDash(texture.dash)
    const first = (frame.view.from - scene.record.startS) / scene.record.intervalS - 2
    const pieces = scene.tiles.pieces(box.lane.lane, first, first + shown + 4, level)
    drawPieces(ctx, frame, box, scene.record, pieces, 0)
    if (level === 0 && plot / shown > 6) drawDots(ctx, frame, box, scene.record, pieces)
    drawn.set(box, pieces)
    ctx.restore()
  }
  drawMarks(ctx, frame, scene, theme)
  // Words lie over the lines of marks.
  for (const [box, pieces] of drawn) {
    const tags = scene.marks.filter(
      (m) => m.kind === 'tag' && m.id !== scene.selected && m.lane === box.lane.lane,
    )
    if (!tags.length) continue
    ctx.save()
    within(ctx, frame, box)
    drawCallouts(ctx, frame, box, tags, occupied(frame, box, scene.record, pieces), theme)
    ctx.restore()
  }
  return { envelope: level > 0, dots: level === 0 && plot / shown > 6 }
}

/** Nothing is drawn outside of a lane from here on. */
function within(ctx: CanvasRenderingContext2D, frame: Frame, box: LaneBox): void {
  ctx.beginPath()
  ctx.rect(GUTTER, box.top - 4, frame.width - GUTTER - RIGHT, box.height + 8)
  ctx.clip()
}

function drawPieces(
  ctx: CanvasRenderingContext2D,
  frame: Frame,
  box: LaneBox,
  record: StripRecord,
  pieces: Piece[],
  shiftS: number,
): void {
  const perSample = ((frame.width - GUTTER - RIGHT) / (frame.view.to - frame.view.from)) * record.intervalS
  const x0 = xOf(frame, record.startS + shiftS)
  ctx.beginPath()
  let begun = false
  let last = 0
  for (const piece of pieces) {
    const width = 2 ** piece.level
    if (piece.level === 0) {
      for (let k = 0; k < piece.data.length; k++) {
        const x = x0 + (piece.firstBin + k) * perSample
        if (x < GUTTER - 40 || x > frame.width + 40) continue
        const y = yOf(box, piece.data[k] ?? 0)
        if (begun) ctx.lineTo(x, y)
        else ctx.moveTo(x, y)
        begun = true
      }
      continue
    }
    for (let k = 0; k < piece.data.length; k += 2) {
      const x = x0 + (piece.firstBin + k / 2 + 0.5) * width * perSample
      if (x < GUTTER - 40 || x > frame.width + 40) continue
      const low = yOf(box, piece.data[k] ?? 0)
      const high = yOf(box, piece.data[k + 1] ?? 0)
      // Enter each column at the end nearer to the last one, or falling edges would look thick.
      const up = Math.abs(low - last) < Math.abs(high - last)
      if (begun) ctx.lineTo(x, up ? low : high)
      else ctx.moveTo(x, up ? low : high)
      last = up ? high : low
      ctx.lineTo(x, last)
      begun = true
    }
  }
  ctx.stroke()
}

function drawDots(
  ctx: CanvasRenderingContext2D,
  frame: Frame,
  box: LaneBox,
  record: StripRecord,
  pieces: Piece[],
): void {
  ctx.fillStyle = ctx.strokeStyle
  for (const piece of pieces) {
    for (let k = 0; piece.level === 0 && k < piece.data.length; k++) {
      const x = xOf(frame, record.startS + (piece.firstBin + k) * record.intervalS)
      if (x < GUTTER - 4 || x > frame.width) continue
      ctx.beginPath()
      ctx.arc(x, yOf(box, piece.data[k] ?? 0), 2.4, 0, 7)
      ctx.fill()
    }
  }
}

/** Scan data: a mark at each true update, never joined as if it were continuous. */
function drawUpdates(
  ctx: CanvasRenderingContext2D,
  frame: Frame,
  box: LaneBox,
  points: [number, number][],
  colour: string,
): void {
  ctx.fillStyle = colour
  for (const [s, value] of points) {
    const x = xOf(frame, s)
    if (x < GUTTER - 4 || x > frame.width) continue
    ctx.fillRect(x - 1.7, yOf(box, value) - 1.7, 3.4, 3.4)
  }
}

function drawGhost(
  ctx: CanvasRenderingContext2D,
  frame: Frame,
  box: LaneBox,
  ghost: Ghost & { cache: Tiles },
  owner: StripRecord,
  theme: Theme,
): void {
  const theirs = ghost.record.lanes.find((l) => l.lane === box.lane.lane)
  if (!theirs) return
  const { record, cache, shiftS } = ghost
  const shown = (frame.view.to - frame.view.from) / record.intervalS
  const first = (frame.view.from - shiftS - record.startS) / record.intervalS - 2
  const level = cache.levelFor(shown, frame.width - GUTTER - RIGHT)
  const own = ghost.nth === undefined ? undefined : BESIDE[ghost.nth % BESIDE.length]
  ctx.setLineDash(own?.dash ?? [])
  ctx.lineWidth = own ? 2 : 5
  ctx.strokeStyle = own ? theme.colour.lane[own.role] : theme.colour.ghost[box.lane.role]
  const along = ghost.scaled ? scaledTo(box, theirs, owner) : box
  drawPieces(ctx, frame, along, record, cache.pieces(box.lane.lane, first, first + shown + 4, level), shiftS)
}

/** A lane's box for another record's values, so that its least and most stand where the lane's own do. */
function scaledTo(box: LaneBox, theirs: StripLane, owner: StripRecord): LaneBox {
  const own = owner.lanes.find((l) => l.lane === box.lane.lane) ?? box.lane
  const factor = (theirs.highest - theirs.lowest) / Math.max(own.highest - own.lowest, 1e-12)
  if (factor <= 0) return box
  const low = theirs.lowest + (box.low - own.lowest) * factor
  return { ...box, low, high: low + (box.high - box.low) * factor }
}

export function drawAxis(ctx: CanvasRenderingContext2D, frame: Frame, theme: Theme): void {
  const span = frame.view.to - frame.view.from
  const unit = timeUnit(span)
  const step = roundStep(span * unit.factor, Math.max(2, (frame.width - GUTTER) / 90))
  ctx.font = `12.5px ${theme.type.text}`
  ctx.fillStyle = theme.colour.muted
  ctx.textAlign = 'left'
  ctx.textBaseline = 'alphabetic'
  ctx.fillText(unit.name, 14, 18)
  ctx.font = `12.5px ${theme.type.mono}`
  ctx.fillStyle = theme.colour.ink
  ctx.strokeStyle = theme.colour.muted
  ctx.lineWidth = 1
  ctx.setLineDash([])
  ctx.textAlign = 'center'
  for (const t of ticks(frame.view.from * unit.factor, frame.view.to * unit.factor, step)) {
    const x = Math.round(xOf(frame, t / unit.factor)) + 0.5
    ctx.fillText(fixed(t, decimalsOf(step)), Math.min(x, frame.width - 16), 18)
    line(ctx, x, 23, x, 28)
  }
}

function drawPhases(ctx: CanvasRenderingContext2D, frame: Frame, phases: StripPhase[], theme: Theme): void {
  ctx.font = `12.5px ${theme.type.text}`
  phases.forEach((phase, k) => {
    const left = Math.max(GUTTER, xOf(frame, phase.from) + 1)
    const right = Math.min(frame.width - RIGHT, xOf(frame, phase.to) - 1)
    if (right - left < 1) return
    ctx.fillStyle = k % 2 ? theme.colour.phaseAlt : theme.colour.phase
    ctx.fillRect(left, 30, right - left, 20)
    const name = phase.name.replaceAll('_', ' ')
    if (ctx.measureText(name).width < right - left - 6) {
      ctx.fillStyle = theme.colour.soft
      ctx.textAlign = 'center'
      ctx.fillText(name, (left + right) / 2, 44.5)
    }
  })
}

export function drawLaneFrame(ctx: CanvasRenderingContext2D, frame: Frame, box: LaneBox, theme: Theme): void {
  const c = theme.colour
  const right = frame.width - RIGHT
  const bottom = Math.round(box.top + box.height + LANE_GAP / 2) + 0.5
  ctx.setLineDash([])
  ctx.lineWidth = 1
  ctx.strokeStyle = c.hair
  line(ctx, 0, bottom, frame.width, bottom)
  ctx.fillStyle = c.lane[box.lane.role]
  ctx.fillRect(0, box.top + 2, 5, box.height - 4)
  const milli = box.lane.unit === 'V' && Math.max(Math.abs(box.low), Math.abs(box.high)) < 0.4 ? 1000 : 1
  const step = roundStep((box.high - box.low) * milli, Math.max(1.5, box.height / 34))
  ctx.font = `12px ${theme.type.mono}`
  ctx.textAlign = 'right'
  for (const v of ticks(box.low * milli, box.high * milli, step)) {
    const y = Math.round(yOf(box, v / milli)) + 0.5
    ctx.strokeStyle = Math.abs(v) < step / 1e6 ? c.zero : c.grid
    line(ctx, GUTTER, y, right, y)
    ctx.fillStyle = c.muted
    ctx.fillText(fixed(v, decimalsOf(step)), GUTTER - 7, y + 4)
  }
}

/** The unit a lane's scale is labelled in. */
export function scaleUnit(box: LaneBox): string {
  const milli = box.lane.unit === 'V' && Math.max(Math.abs(box.low), Math.abs(box.high)) < 0.4
  return milli ? 'mV' : box.lane.unit
}

function drawSelected(ctx: CanvasRenderingContext2D, frame: Frame, scene: Scene, theme: Theme): void {
  const mark = scene.marks.find((m) => m.id === scene.selected)
  if (!mark) return
  const [left, right] = markSpan(frame, mark)
  ctx.fillStyle = theme.colour.pick
  for (const box of frame.boxes) {
    if (mark.lane && mark.lane !== box.lane.lane) continue
    ctx.fillRect(left, box.top - 4, right - left, box.height + 8)
  }
}

function markSpan(frame: Frame, mark: StripMark): [number, number] {
  const middle = xOf(frame, (mark.from + mark.to) / 2)
  const half = Math.max(5, (xOf(frame, mark.to) - xOf(frame, mark.from)) / 2 + 3)
  return [Math.max(GUTTER, middle - half), Math.min(frame.width - RIGHT, middle + half)]
}

function drawMarks(ctx: CanvasRenderingContext2D, frame: Frame, scene: Scene, theme: Theme): void {
  ctx.lineWidth = 1.6
  for (const mark of scene.marks) {
    if (mark.kind === 'reading' || (mark.kind === 'tag' && mark.id !== scene.selected)) continue
    const [left, right] = markSpan(frame, mark)
    if (right - left > 0.9 * (frame.width - GUTTER - RIGHT) || right <= left) continue
    const box = frame.boxes.find((b) => b.lane.lane === mark.lane) ?? frame.boxes[0]
    if (!box) continue
    ctx.strokeStyle = mark.kind === 'fault' ? theme.colour.fault : theme.colour.unsure
    ctx.setLineDash([3, 2])
    ctx.strokeRect(left, box.top, right - left, box.height)
  }
  ctx.setLineDash([])
}

function line(ctx: CanvasRenderingContext2D, x1: number, y1: number, x2: number, y2: number): void {
  ctx.beginPath()
  ctx.moveTo(x1, y1)
  ctx.lineTo(x2, y2)
  ctx.stroke()
}

/** The whole record's first lane, small, for the overview and for cards on the shelf. */
export function drawSmall(
  ctx: CanvasRenderingContext2D,
  box: { left: number; top: number; width: number; height: number },
  record: StripRecord,
  pieces: Piece[],
  lane: StripLane,
  colour: string,
): void {
  const { low, high } = scaleOf(lane)
  ctx.strokeStyle = colour
  ctx.lineWidth = 1.2
  ctx.setLineDash([])
  ctx.beginPath()
  let begun = false
  for (const piece of pieces) {
    const pair = piece.level === 0 ? 1 : 2
    for (let k = 0; k < piece.data.length; k += pair) {
      const x = box.left + (((piece.firstBin + k / pair) * 2 ** piece.level) / record.samples) * box.width
      for (let j = 0; j < pair; j++) {
        const y = box.top + box.height - (((piece.data[k + j] ?? 0) - low) / (high - low)) * box.height
        if (begun) ctx.lineTo(x, y)
        else ctx.moveTo(x, y)
        begun = true
      }
    }
  }
  ctx.stroke()
}
