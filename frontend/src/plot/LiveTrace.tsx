import { useEffect, useMemo, useRef, type ReactNode } from 'react'
import styled, { useTheme } from 'styled-components'
import { sharp, useFrame, useSize } from './canvas'
import { GUTTER, laneBoxes, RIGHT, shareOf, xOf, yOf, type Frame } from './frame'
import { drawAxis, drawLaneFrame, TEXTURE } from './draw'
import { LaneLabels } from './LaneLabels'
import type { Pegs, StripLane } from './types'

export interface LiveLane extends StripLane {
  low: number[]
  high: number[]
}

interface Props {
  lanes: LiveLane[]
  /** What of the time axis is shown, and what of it the lanes fill, in seconds. */
  view: { from: number; to: number }
  filled: { from: number; to: number }
  children?: ReactNode
}

const NO_PEGS: Pegs = [null, null]

/** What a scope shows while it runs: lanes under each other as on the strip, in columns of least and most. */
export function LiveTrace({ lanes, view, filled, children }: Props) {
  const area = useRef<HTMLDivElement>(null)
  const canvas = useRef<HTMLCanvasElement>(null)
  const size = useSize(area)
  const theme = useTheme()
  const boxes = useMemo(() => laneBoxes(lanes, lanes.map(shareOf), size.height), [lanes, size.height])
  const draw = () => {
    if (!canvas.current || !size.width) return
    const ctx = sharp(canvas.current, size.width, size.height)
    if (!ctx) return
    const frame: Frame = { ...size, view, boxes }
    ctx.clearRect(0, 0, size.width, size.height)
    drawAxis(ctx, frame, theme)
    boxes.forEach((box, k) => {
      drawLaneFrame(ctx, frame, box, theme)
      const lane = lanes[k]
      if (!lane) return
      const texture = TEXTURE[lane.role] ?? { dash: [], width: 1.5 }
      ctx.save()
      ctx.beginPath()
      ctx.rect(GUTTER, box.top - 4, size.width - GUTTER - RIGHT, box.height + 8)
      ctx.clip()
      ctx.strokeStyle = theme.colour.lane[lane.role]
      ctx.lineWidth = texture.width
      ctx.setLineDash(texture.dash)
      ctx.beginPath()
      const each = (filled.to - filled.from) / Math.max(1, lane.low.length)
      lane.low.forEach((low, at) => {
        const x = xOf(frame, filled.from + (at + 0.5) * each)
        const high = lane.high[at] ?? low
        if (at === 0) ctx.moveTo(x, yOf(box, low))
        else ctx.lineTo(x, yOf(box, low))
        ctx.lineTo(x, yOf(box, high))
      })
      ctx.stroke()
      ctx.restore()
    })
  }
  const { request, onDraw } = useFrame()
  useEffect(() => {
    onDraw(draw)
    request()
  })
  return (
    <Area ref={area} aria-label="What the scope shows now">
      <canvas ref={canvas} style={{ width: '100%', height: '100%' }} />
      <LaneLabels boxes={boxes} pegs={NO_PEGS} values={null} />
      {children}
    </Area>
  )
}

const Area = styled.section`
  position: relative;
  min-width: 0;
  overflow: hidden;
  background: ${(p) => p.theme.colour.sheet};
  border: 1px solid ${(p) => p.theme.colour.hair};
  border-radius: ${(p) => p.theme.radius};
  canvas {
    position: absolute;
    inset: 0;
  }
`
