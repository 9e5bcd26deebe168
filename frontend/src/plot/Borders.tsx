import { fixed } from '../ui/numbers'
import { useState } from 'react'
import styled from 'styled-components'
import { GUTTER, RIGHT, sOf, xOf, type Frame } from './frame'
import type { StripPhase } from './types'

interface Props {
  frame: Frame
  phases: StripPhase[]
  snapped: (s: number, free: boolean) => number
  interval: number
  onPhase: (index: number, from: number, to: number) => void
}

/** A handle is as wide as a finger finds (24 px, WCAG 2.2, 2.5.8) and lies within its phase: two have room in this. */
const LEAST_WIDE = 48

/**
 * The borders of the ribbon's phases, to be dragged, or stepped with the arrow keys (Shift for ten samples). Phases too
 * narrow for two handles get theirs once the view is closer.
 */
export function PhaseBorders({ frame, phases, snapped, interval, onPhase }: Props) {
  // What is dragged is shown where the finger is, and told once it lets go.
  const [held, setHeld] = useState<{ index: number; end: 'from' | 'to'; s: number } | null>(null)
  const tell = (index: number, end: 'from' | 'to', s: number) => {
    const phase = phases[index]
    if (!phase) return
    const from = end === 'from' ? Math.min(s, phase.to - interval) : phase.from
    const to = end === 'to' ? Math.max(s, phase.from + interval) : phase.to
    if (from !== phase.from || to !== phase.to) onPhase(index, from, to)
  }
  return phases.flatMap((phase, index) => {
    const wide = xOf(frame, phase.to) - xOf(frame, phase.from)
    if (wide < LEAST_WIDE && held?.index !== index) return []
    return (['from', 'to'] as const).map((end) => {
      const at = held?.index === index && held.end === end ? held.s : phase[end]
      const x = xOf(frame, at)
      if (x < GUTTER - 1 || x > frame.width - RIGHT + 1) return null
      const name = `${end === 'from' ? 'Begin' : 'End'} of ${phase.name.replaceAll('_', ' ')}`
      return (
        <Border
          key={`${index}-${end}`}
          role="slider"
          tabIndex={0}
          aria-label={name}
          title={`${name}: drag it`}
          aria-valuenow={at}
          aria-valuemin={frame.view.from}
          aria-valuemax={frame.view.to}
          aria-valuetext={`${fixed(at, 3)} seconds`}
          data-end={end}
          style={{ left: x }}
          onPointerDown={(e) => {
            e.stopPropagation()
            e.currentTarget.setPointerCapture(e.pointerId)
          }}
          onPointerMove={(e) => {
            if (e.buttons !== 1) return
            const left = e.currentTarget.parentElement?.getBoundingClientRect().left ?? 0
            setHeld({ index, end, s: snapped(sOf(frame, e.clientX - left), e.altKey) })
          }}
          onPointerUp={() => {
            if (held) tell(index, end, held.s)
            setHeld(null)
          }}
          onPointerCancel={() => setHeld(null)}
          onKeyDown={(e) => {
            const step = e.key === 'ArrowLeft' ? -1 : e.key === 'ArrowRight' ? 1 : 0
            if (!step) return
            e.preventDefault()
            e.stopPropagation()
            tell(index, end, phase[end] + step * interval * (e.shiftKey ? 10 : 1))
          }}
        />
      )
    })
  })
}

const Border = styled.div`
  position: absolute;
  top: 26px;
  width: 24px;
  height: 24px;
  touch-action: none;
  cursor: col-resize;
  z-index: 1;
  &[data-end='to'] {
    transform: translateX(-100%);
  }
  &::after {
    content: '';
    position: absolute;
    top: 2px;
    bottom: 2px;
    width: 3px;
    background: ${(p) => p.theme.colour.edge};
  }
  &[data-end='from']::after {
    left: 0;
  }
  &[data-end='to']::after {
    right: 0;
  }
  &:hover::after,
  &:focus-visible::after {
    background: ${(p) => p.theme.colour.ink};
  }
`
