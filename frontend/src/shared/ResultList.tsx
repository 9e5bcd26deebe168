import type { ReactNode } from 'react'
import styled from 'styled-components'
import type { Grade, Result } from './results'
import { slipWords } from './slips'
import { pointsText } from '../ui/numbers'

interface Props {
  results: Result[]
  selected: string | null
  onSelect: (id: string | null) => void
  below?: (result: Result) => ReactNode
}

/** The sum, and of it what reading the trace earned: the rest is earned around it. */
export function Sums({ grade }: { grade: Grade }) {
  return (
    <Total className="num">
      <b>
        {pointsText(grade.earned)} of {pointsText(grade.points)} points
      </b>
      <span>
        {pointsText(grade.trace.earned)} of {pointsText(grade.trace.points)} for reading the trace
      </span>
    </Total>
  )
}

const Total = styled.div`
  text-align: right;
  line-height: 1.25;
  b {
    display: block;
    font-size: 19px;
  }
  span {
    font-size: 13px;
    color: ${(p) => p.theme.colour.muted};
  }
`

/** Criteria with points and reason; choosing one takes the strip to its piece of trace. */
export function ResultList({ results, selected, onSelect, below }: Props) {
  return (
    <List>
      {results.map((r) => (
        <li key={r.criterion} data-part={r.settled >= r.points ? 'full' : r.settled > 0 ? 'some' : 'none'}>
          <button
            aria-pressed={selected === r.criterion}
            onClick={() => onSelect(selected === r.criterion ? null : r.criterion)}
          >
            <b>{r.title}</b>
            <span className="num">
              {r.settled} / {r.points}
            </span>
            {r.slip && <i>{slipWords(r.slip)}</i>}
            <p>{r.reason}</p>
            {r.changed && (
              <p>
                Changed by {r.changed.author} (the tool gave {r.earned}): {r.changed.reason}
              </p>
            )}
          </button>
          {below?.(r)}
        </li>
      ))}
    </List>
  )
}

const List = styled.ul`
  list-style: none;
  padding: 0;
  li {
    border-left: 4px solid ${(p) => p.theme.colour.unsure};
    border-bottom: 1px solid ${(p) => p.theme.colour.faint};
  }
  li[data-part='full'] {
    border-left-color: ${(p) => p.theme.colour.sound};
  }
  li[data-part='none'] {
    border-left-color: ${(p) => p.theme.colour.fault};
  }
  button:first-child {
    display: grid;
    grid-template-columns: 1fr auto;
    gap: 1px 10px;
    width: 100%;
    padding: 7px 12px;
    border: 0;
    background: none;
    text-align: left;
    cursor: pointer;
    &[aria-pressed='true'] {
      background: ${(p) => p.theme.colour.pick};
    }
    p {
      grid-column: 1 / -1;
      font-size: 13.5px;
      line-height: 1.35;
      color: ${(p) => p.theme.colour.soft};
    }
    b {
      font-weight: 600;
      font-size: 14.5px;
    }
    i {
      grid-column: 1 / -1;
      justify-self: start;
      padding: 0 7px;
      border: 1px solid ${(p) => p.theme.colour.hair};
      border-radius: 3px;
      font-style: normal;
      font-size: 12.5px;
      color: ${(p) => p.theme.colour.muted};
    }
  }
`
