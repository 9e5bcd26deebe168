import styled from 'styled-components'
import type { Frame } from './frame'
import { flagged } from './flagged'
import type { StripMark } from './types'

interface Props {
  frame: Frame
  marks: StripMark[]
  selected: string | null
  onSelect: (id: string | null) => void
}

/** The flags over a strip: each chooses its mark, or its marks one after the other. */
export function Flags({ frame, marks, selected, onSelect }: Props) {
  return flagged(frame, marks).map((own) => {
    const at = own.marks.findIndex((m) => m.id === selected)
    const label = own.marks.map((m) => m.label).join(', ')
    return (
      <Flag
        key={own.marks[0]?.id}
        data-kind={own.kind}
        data-many={own.marks.length > 1 || undefined}
        aria-pressed={at >= 0}
        title={label}
        aria-label={own.marks.length > 1 ? `${own.marks.length} marks: ${label}` : label}
        style={{ left: own.x }}
        // One after the other, then none.
        onClick={() => onSelect(own.marks[at + 1]?.id ?? null)}
      >
        {own.marks.length > 1 && <span>{own.marks.length}</span>}
      </Flag>
    )
  })
}

const Flag = styled.button`
  position: absolute;
  top: 51px;
  width: 24px;
  height: 24px;
  margin-left: -12px;
  padding: 0;
  border: 0;
  background: none;
  cursor: pointer;
  z-index: 1;
  span {
    position: absolute;
    left: 13px;
    top: 7px;
    padding: 0 3px;
    border-radius: 7px;
    background: ${(p) => p.theme.colour.sheet};
    color: ${(p) => p.theme.colour.ink};
    font-size: 11px;
    line-height: 14px;
    font-variant-numeric: tabular-nums;
    z-index: 1;
  }
  &::after {
    content: '';
    position: absolute;
    left: 7px;
    top: 3px;
    width: 10px;
    height: 10px;
    background: ${(p) => p.theme.colour.soft};
    border-radius: 50%;
  }
  &[data-kind='fault']::after {
    background: ${(p) => p.theme.colour.fault};
    border-radius: 0;
    transform: rotate(45deg);
  }
  &[data-kind='set-up']::after,
  &[data-kind='note']::after {
    background: ${(p) => p.theme.colour.unsure};
    border-radius: 0;
  }
  &[aria-pressed='true']::after {
    outline: 2px solid ${(p) => p.theme.colour.ink};
    outline-offset: 2px;
  }
`
