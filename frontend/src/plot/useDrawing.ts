import { useEffect, useMemo, useState, type RefObject } from 'react'
import { useTheme } from 'styled-components'
import { sharp, useFrame } from './canvas'
import { type Frame } from './frame'
import { drawStrip } from './draw'
import { Tiles } from './tiles'
import type { Ghost, StripCorridor, StripMark, StripPhase, StripRecord, TileSource } from './types'

interface Scene {
  record: StripRecord
  tiles: TileSource
  phases: StripPhase[]
  marks: StripMark[]
  selected: string | null
  ghosts: Ghost[]
  corridor: StripCorridor | null
}

const NONE: never[] = []

/** Draws a strip on its canvas; tells whether samples stand as an envelope, or each as a dot. */
export function useDrawing(
  canvas: RefObject<HTMLCanvasElement | null>,
  size: { width: number; height: number },
  frame: Frame,
  { record, tiles, phases, marks, selected, ghosts, corridor }: Scene,
): { envelope: boolean; dots: boolean } {
  const theme = useTheme()
  const [shown, setShown] = useState({ envelope: false, dots: false })
  const { request, onDraw } = useFrame()
  const cache = useMemo(() => new Tiles(record, tiles, request), [record, tiles, request])
  const ghostCaches = useMemo(
    () => new Map(ghosts.map((g) => [g.record.id, new Tiles(g.record, g.tiles, request)])),
    [ghosts, request],
  )
  useEffect(() => {
    onDraw(() => {
      if (!canvas.current || !size.width) return
      const ctx = sharp(canvas.current, size.width, size.height)
      if (!ctx) return
      const scene = {
        record,
        tiles: cache,
        phases,
        marks,
        selected,
        ghosts: ghosts.flatMap((g) => {
          const held = ghostCaches.get(g.record.id)
          return held ? [{ ...g, cache: held }] : []
        }),
        corridor: corridor?.pieces ?? NONE,
      }
      const now = drawStrip(ctx, frame, scene, theme)
      if (now.envelope !== shown.envelope || now.dots !== shown.dots) setShown(now)
    })
    request()
  })
  return shown
}
