/** Drag, wheel and pinch on the trace, as view events; a tap reports where. */
import { useEffect, useRef, type RefObject } from 'react'
import { GUTTER, sOf, type Frame } from './frame'
import type { ViewEvent } from './view'

interface Handlers {
  frame: () => Frame
  onView: (event: ViewEvent) => void
  onTap: (s: number, free: boolean) => void
}

export function usePointer(ref: RefObject<HTMLElement | null>, handlers: Handlers): void {
  const latest = useRef(handlers)
  useEffect(() => {
    latest.current = handlers
  })
  useEffect(() => {
    const element = ref.current
    if (!element) return
    const held = new Map<number, { x: number; y: number }>()
    let travelled = 0
    const xIn = (clientX: number) => clientX - element.getBoundingClientRect().left
    const down = (e: PointerEvent) => {
      // Flags, pegs and dividers on the trace have pointers of their own.
      if (e.target instanceof Element && e.target.closest('button, [role=slider], [role=separator]')) return
      if (e.button !== 0 || xIn(e.clientX) < GUTTER) return
      element.setPointerCapture(e.pointerId)
      held.set(e.pointerId, { x: xIn(e.clientX), y: e.clientY })
      travelled = held.size > 1 ? 99 : 0
    }
    const move = (e: PointerEvent) => {
      const was = held.get(e.pointerId)
      if (!was) return
      const now = { x: xIn(e.clientX), y: e.clientY }
      const frame = latest.current.frame()
      const others = [...held.entries()].filter(([id]) => id !== e.pointerId).map(([, p]) => p)
      travelled += Math.abs(now.x - was.x) + Math.abs(now.y - was.y)
      const other = others[0]
      if (other) {
        const factor = Math.max(20, Math.abs(was.x - other.x)) / Math.max(20, Math.abs(now.x - other.x))
        latest.current.onView({ type: 'zoomed', factor, aroundS: sOf(frame, (now.x + other.x) / 2) })
      } else if (travelled > 4) {
        latest.current.onView({ type: 'panned', byS: sOf(frame, was.x) - sOf(frame, now.x) })
      }
      held.set(e.pointerId, now)
    }
    const up = (e: PointerEvent) => {
      const was = held.get(e.pointerId)
      if (!was) return
      held.delete(e.pointerId)
      if (travelled <= 4) latest.current.onTap(sOf(latest.current.frame(), was.x), e.altKey)
    }
    const cancel = (e: PointerEvent) => held.delete(e.pointerId)
    const wheel = (e: WheelEvent) => {
      const frame = latest.current.frame()
      e.preventDefault()
      if (e.shiftKey || Math.abs(e.deltaX) > Math.abs(e.deltaY)) {
        const by = (e.deltaX || e.deltaY) / (frame.width - GUTTER)
        latest.current.onView({ type: 'panned', byS: by * (frame.view.to - frame.view.from) })
      } else {
        latest.current.onView({
          type: 'zoomed',
          factor: Math.exp(Math.max(-1, Math.min(1, e.deltaY / 400))),
          aroundS: sOf(frame, Math.max(GUTTER, xIn(e.clientX))),
        })
      }
    }
    element.addEventListener('pointerdown', down)
    element.addEventListener('pointermove', move)
    element.addEventListener('pointerup', up)
    element.addEventListener('pointercancel', cancel)
    element.addEventListener('wheel', wheel, { passive: false })
    return () => {
      element.removeEventListener('pointerdown', down)
      element.removeEventListener('pointermove', move)
      element.removeEventListener('pointerup', up)
      element.removeEventListener('pointercancel', cancel)
      element.removeEventListener('wheel', wheel)
    }
  }, [ref])
}
