import { useEffect, useMemo, useRef } from 'react'
import styled, { useTheme } from 'styled-components'
import { sharp, useFrame, useSize } from './canvas'
import { drawSmall } from './draw'
import { Tiles } from './tiles'
import type { StripRecord, TileSource } from './types'

/** The first lane of a record in miniature, for lists. */
export function SmallTrace({ record, tiles }: { record: StripRecord; tiles: TileSource }) {
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
      const pieces = cache.pieces(lane.lane, 0, record.samples, cache.levelFor(record.samples, width))
      drawSmall(
        ctx,
        { left: 4, top: 6, width: width - 8, height: height - 12 },
        record,
        pieces,
        lane,
        theme.colour.lane[lane.role],
      )
    })
    request()
  })
  return (
    <Box ref={box}>
      <canvas ref={canvas} aria-hidden="true" />
    </Box>
  )
}

const Box = styled.div`
  position: relative;
  height: 84px;
  background: ${(p) => p.theme.colour.sunk};
  canvas {
    position: absolute;
    inset: 0;
    width: 100%;
    height: 100%;
  }
`
