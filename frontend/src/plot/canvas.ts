import { useEffect, useState, type RefObject } from 'react'

/** The size of an element in CSS pixels, followed as it changes. */
export function useSize(ref: RefObject<HTMLElement | null>): { width: number; height: number } {
  const [size, setSize] = useState({ width: 0, height: 0 })
  useEffect(() => {
    const element = ref.current
    if (!element) return
    const watch = new ResizeObserver(([entry]) => {
      if (entry) setSize({ width: entry.contentRect.width, height: entry.contentRect.height })
    })
    watch.observe(element)
    return () => watch.disconnect()
  }, [ref])
  return size
}

/** A sharp 2D context: the canvas is sized in device pixels, drawing is in CSS pixels. */
export function sharp(
  canvas: HTMLCanvasElement,
  width: number,
  height: number,
): CanvasRenderingContext2D | null {
  const ratio = window.devicePixelRatio || 1
  const [w, h] = [Math.round(width * ratio), Math.round(height * ratio)]
  if (canvas.width !== w || canvas.height !== h) {
    canvas.width = w
    canvas.height = h
  }
  const ctx = canvas.getContext('2d')
  ctx?.setTransform(ratio, 0, 0, ratio, 0, 0)
  return ctx
}

/** `request()` calls what was last given to `onDraw` once in the next frame, however often it is asked in this one. */
export function useFrame(): { request: () => void; onDraw: (draw: () => void) => void } {
  const [frame] = useState(makeFrame)
  useEffect(() => frame.cancel, [frame])
  return frame
}

function makeFrame() {
  let draw = (): void => undefined
  let pending = 0
  return {
    request: () => {
      if (pending) return
      pending = requestAnimationFrame(() => {
        pending = 0
        draw()
      })
    },
    onDraw: (next: () => void) => {
      draw = next
    },
    cancel: () => {
      cancelAnimationFrame(pending)
      pending = 0
    },
  }
}
