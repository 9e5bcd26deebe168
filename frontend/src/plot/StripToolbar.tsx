import { figures, fixed, numberIn } from '../ui/numbers'
import { useState } from 'react'
import styled from 'styled-components'
import { durationText } from './scale'
import type { Alignment, Pegs } from './types'
import type { View, ViewEvent } from './view'

interface Props {
  view: View
  onView: (event: ViewEvent) => void
  active: 0 | 1
  onActive: (which: 0 | 1) => void
  pegs: Pegs
  onPegs: (pegs: Pegs) => void
  shown: { envelope: boolean; dots: boolean }
  /** What lies beneath the trace, in words. */
  beneath: string | null
  alignment: Alignment | null
}

/** Zoom, a typed range, which peg a tap sets, and what the drawing shows. */
export function StripToolbar({
  view,
  onView,
  active,
  onActive,
  pegs,
  onPegs,
  shown,
  beneath,
  alignment,
}: Props) {
  const middle = (view.from + view.to) / 2
  const decimals = Math.max(2, Math.ceil(-Math.log10((view.to - view.from) / 100)))
  return (
    <Bar role="toolbar" aria-label="View of the trace">
      <Group>
        <button aria-label="Zoom in" onClick={() => onView({ type: 'zoomed', factor: 0.6, aroundS: middle })}>
          +
        </button>
        <button
          aria-label="Zoom out"
          onClick={() => onView({ type: 'zoomed', factor: 1 / 0.6, aroundS: middle })}
        >
          −
        </button>
        <button onClick={() => onView({ type: 'whole' })}>All</button>
      </Group>
      <label>
        from{' '}
        <Instant
          label="Shown from, seconds"
          value={view.from}
          decimals={decimals}
          onCommit={(from) => onView({ type: 'shown', from, to: view.to })}
        />
      </label>
      <label>
        to{' '}
        <Instant
          label="Shown to, seconds"
          value={view.to}
          decimals={decimals}
          onCommit={(to) => onView({ type: 'shown', from: view.from, to })}
        />
      </label>
      <Group>
        {([0, 1] as const).map((which) => (
          <button
            key={which}
            aria-pressed={active === which}
            onClick={() => onActive(which)}
            title="A tap on the trace sets this peg"
          >
            {which === 0 ? '▸ peg 1' : '◂ peg 2'}
          </button>
        ))}
        <button disabled={pegs[0] === null && pegs[1] === null} onClick={() => onPegs([null, null])}>
          Clear
        </button>
      </Group>
      <b className="num">{spanText(pegs)}</b>
      <em>
        {beneath ? `${beneath} · ` : ''}
        {alignment && (
          <select
            aria-label="The pale trace lies"
            value={alignment.by}
            onChange={(e) => alignment.onBy(e.target.value)}
          >
            {alignment.options.map((o) => (
              <option key={o.key} value={o.key}>
                {o.text}
              </option>
            ))}
          </select>
        )}
        {shown.envelope
          ? 'envelope: least and most of each column'
          : shown.dots
            ? 'each dot is a sample'
            : 'samples joined'}
      </em>
    </Bar>
  )
}

/** The span between both pegs, with the frequency it would be the period of. */
function spanText([a, b]: Pegs): string {
  if (a === null || b === null || a === b) return ''
  const gap = Math.abs(b - a)
  return `span ${durationText(gap)} · ${figures(1 / gap, 4)} Hz`
}

function Instant({
  label,
  value,
  decimals,
  onCommit,
}: {
  label: string
  value: number
  decimals: number
  onCommit: (s: number) => void
}) {
  const [typed, setTyped] = useState<string | null>(null)
  const commit = () => {
    const number = numberIn(typed ?? '')
    if (number !== null) onCommit(number)
    setTyped(null)
  }
  return (
    <input
      className="num"
      aria-label={label}
      inputMode="decimal"
      value={typed ?? fixed(value, decimals)}
      onChange={(e) => setTyped(e.target.value)}
      onBlur={commit}
      onKeyDown={(e) => {
        if (e.key === 'Enter') commit()
        if (e.key === 'Escape') setTyped(null)
      }}
    />
  )
}

const Bar = styled.div`
  display: flex;
  align-items: center;
  flex-wrap: wrap;
  gap: 6px 12px;
  padding: 5px 10px;
  border-bottom: 1px solid ${(p) => p.theme.colour.faint};
  font-size: 13px;
  color: ${(p) => p.theme.colour.muted};
  b {
    font-weight: 500;
    color: ${(p) => p.theme.colour.ink};
  }
  select {
    margin: 0 8px 0 2px;
    min-height: 24px;
  }
  em {
    margin-left: auto;
    font-style: normal;
    font-size: 12.5px;
  }
  input {
    width: 78px;
    height: 30px;
    padding: 0 6px;
    border: 1px solid ${(p) => p.theme.colour.hair};
    border-radius: ${(p) => p.theme.small};
    background: ${(p) => p.theme.colour.sunk};
    color: ${(p) => p.theme.colour.ink};
    font-size: 13px;
  }
`

const Group = styled.div`
  display: flex;
  button {
    min-width: 34px;
    height: 32px;
    padding: 0 10px;
    border: 1px solid ${(p) => p.theme.colour.edge};
    border-left-width: 0;
    background: ${(p) => p.theme.colour.sheet};
    color: ${(p) => p.theme.colour.ink};
    cursor: pointer;
    @media (pointer: coarse) {
      height: 44px;
      min-width: 44px;
    }
    &:first-child {
      border-left-width: 1px;
      border-radius: 4px 0 0 4px;
    }
    &:last-child {
      border-radius: 0 4px 4px 0;
    }
    &[aria-pressed='true'] {
      background: ${(p) => p.theme.colour.ink};
      color: ${(p) => p.theme.colour.sheet};
    }
    &:disabled {
      opacity: 0.4;
      cursor: default;
    }
  }
`
