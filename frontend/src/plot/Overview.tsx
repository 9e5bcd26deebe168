import { useEffect, useMemo, useRef } from 'react'
import styled, { useTheme } from 'styled-components'
import { sharp, useFrame, useSize } from './canvas'
import { GUTTER, RIGHT } from './frame'
import { drawSmall } from './draw'
import { durationText } from './scale'
import { Tiles } from './tiles'
import type { StripRecord, TileSource } from './types'
import type { Bounds, View, ViewEvent } from './view'

interface Props {
  record: StripRecord
  tiles: TileSource
  view: View
  bounds: Bounds
  onView: (event: ViewEvent) => void
}

/** The whole record, with the shown part framed; drag the frame or tap to go somewhere. */
export function Overview({ record, tiles, view, bounds, onView }: Props) {
  const box = useRef<HTMLDivElement>(null)
  const canvas = useRef<HTMLCanvasElement>(null)
  const { width, height } = useSize(box)
  const theme = useTheme()
  const { request, onDraw } = useFrame()
  const cache = useMemo(() => new Tiles(record, tiles, request), [record, tiles, request])
  useEffect(() => {
    onDraw(() => {
      const ctx = canvas.current && width ? sharp(canvas.current, width, height) : null
      const lane = record.lanes[0]
      if (!ctx || !lane) return
      ctx.clearRect(0, 0, width, height)
      const plot = width - GUTTER - RIGHT
      const pieces = cache.pieces(lane.lane, 0, record.samples, cache.levelFor(record.samples, plot))
      drawSmall(
        ctx,
        { left: GUTTER, top: 8, width: plot, height: height - 16 },
        record,
        pieces,
        lane,
        theme.colour.overview,
      )
      const whole = bounds.end - bounds.start
      const left = GUTTER + ((view.from - bounds.start) / whole) * plot
      ctx.strokeStyle = theme.colour.ink
      ctx.lineWidth = 2
      ctx.strokeRect(left, 3, Math.max(4, ((view.to - view.from) / whole) * plot), height - 6)
    })
    request()
  })
  const go = (clientX: number) => {
    const left = box.current?.getBoundingClientRect().left ?? 0
    const part = (clientX - left - GUTTER) / (width - GUTTER - RIGHT)
    const middle = bounds.start + part * (bounds.end - bounds.start)
    const half = (view.to - view.from) / 2
    onView({ type: 'shown', from: middle - half, to: middle + half })
  }
  return (
    <Box
      ref={box}
      onPointerDown={(e) => {
        e.currentTarget.setPointerCapture(e.pointerId)
        go(e.clientX)
      }}
      onPointerMove={(e) => e.buttons === 1 && go(e.clientX)}
    >
      <canvas ref={canvas} aria-hidden="true" />
      <span>
        whole record
        <br />
        <span className="num">{durationText(bounds.end - bounds.start)}</span>
      </span>
    </Box>
  )
}

const Box = styled.div`
  position: relative;
  height: 62px;
  flex: none;
  background: ${(p) => p.theme.colour.sunk};
  border-radius: 0 0 ${(p) => p.theme.radius} ${(p) => p.theme.radius};
  cursor: ew-resize;
  touch-action: none;
  overflow: hidden;
  canvas {
    position: absolute;
    inset: 0;
    width: 100%;
    height: 100%;
  }
  > span {
    position: absolute;
    left: 14px;
    top: 12px;
    font-size: 12.5px;
    color: ${(p) => p.theme.colour.muted};
  }
`
