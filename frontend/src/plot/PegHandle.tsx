import styled from 'styled-components'
import { GUTTER, HEAD, RIGHT, sOf, xOf, type Frame } from './frame'

interface Props {
  which: 0 | 1
  atS: number
  frame: Frame
  bottom: number
  text: string
  onMove: (s: number, free: boolean) => void
  onStep: (samples: number) => void
  onActive: () => void
}

const SYMBOL = ['▸', '◂']

/** A movable marker at one instant: drag it, or step it with the arrow keys (Shift for ten samples). */
export function PegHandle({ which, atS, frame, bottom, text, onMove, onStep, onActive }: Props) {
  const x = xOf(frame, atS)
  if (x < GUTTER - 1 || x > frame.width - RIGHT + 1) return null
  return (
    <Handle
      role="slider"
      tabIndex={0}
      aria-label={`Peg ${which + 1}`}
      aria-valuenow={atS}
      aria-valuemin={frame.view.from}
      aria-valuemax={frame.view.to}
      aria-valuetext={text}
      style={{ left: x, top: HEAD - 8, height: bottom - HEAD + 8 }}
      onFocus={onActive}
      onPointerDown={(e) => {
        e.stopPropagation()
        e.currentTarget.setPointerCapture(e.pointerId)
        onActive()
      }}
      onPointerMove={(e) => {
        if (e.buttons !== 1) return
        const left = e.currentTarget.parentElement?.getBoundingClientRect().left ?? 0
        onMove(sOf(frame, e.clientX - left), e.altKey)
      }}
      onKeyDown={(e) => {
        const step = e.key === 'ArrowLeft' ? -1 : e.key === 'ArrowRight' ? 1 : 0
        if (!step) return
        e.preventDefault()
        e.stopPropagation()
        onStep(step * (e.shiftKey ? 10 : 1))
      }}
    >
      <b>{SYMBOL[which]}</b>
    </Handle>
  )
}

const Handle = styled.div`
  position: absolute;
  width: 0;
  border-left: 1.5px solid ${(p) => p.theme.colour.ink};
  touch-action: none;
  cursor: ew-resize;
  z-index: 2;
  b {
    position: absolute;
    left: -12.75px;
    top: -7px;
    width: 24px;
    height: 24px;
    border-radius: 3px 3px 10px 10px;
    background: ${(p) => p.theme.colour.ink};
    color: ${(p) => p.theme.colour.sheet};
    font-size: 11px;
    line-height: 20px;
    text-align: center;
    user-select: none;
  }
  /* A finger needs more than the eye. */
  &::before {
    content: '';
    position: absolute;
    left: -22px;
    top: -14px;
    width: 44px;
    height: 44px;
  }
`
