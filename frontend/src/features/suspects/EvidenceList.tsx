import { useSuspenseQuery } from '@tanstack/react-query'
import { useState } from 'react'
import styled from 'styled-components'
import { recordKindsQuery } from '../../shared/records'
import { Button } from '../../ui/Button'
import { Empty } from '../../ui/layout'
import { fixed } from '../../ui/numbers'
import { type Captured, type Evidence, seenIn } from './caseState'
import type { Choices } from './queries'
import { CaptureStrip } from './CaptureStrip'
import { place, words } from './words'

interface Props {
  evidence: Evidence[]
  tests: Choices['tests']
  captures: (Captured | null)[]
  /** Of each piece, where it is known. */
  minutes: number[]
  onRemove: (at: number) => void
}

/** What was measured and recorded so far, in its order and with its number. */
export function EvidenceList({ evidence, tests, captures, minutes, onRemove }: Props) {
  const { data: kinds } = useSuspenseQuery(recordKindsQuery)
  const columnsOf = (test: string) => kinds.find((k) => k.key === test)?.columns.map((c) => c.key) ?? []
  const [open, setOpen] = useState<number | null>(null)
  // The last capture is shown until another one is chosen.
  const shown = open !== null && captures[open] ? open : captures.findLastIndex((c) => c !== null)
  if (evidence.length === 0)
    return (
      <Empty>
        <p>Nothing measured yet. Write down the first capture or record, or let the trainer draw a case.</p>
      </Empty>
    )
  const trace = captures[shown]
  const circuit = evidence[shown]?.test
  return (
    <>
      {trace && circuit && (
        <CaptureStrip key={trace.id} captureId={trace.id} circuit={circuit} answer={trace.answer} />
      )}
      <List>
        {evidence.map((e, k) => {
          const title = tests.find((t) => t.key === e.test)?.title ?? e.test
          return (
            <li key={k}>
              <b className="num">{k + 1}</b>
              <div>
                <strong>{title}</strong>{' '}
                <small>
                  {[
                    place(e.at),
                    e.conditions.map(words).join(', '),
                    minutes[k] !== undefined && `${fixed(minutes[k])} min`,
                  ]
                    .filter(Boolean)
                    .join(' · ')}
                </small>
                <p>{seenIn(e, columnsOf(e.test))}</p>
              </div>
              {captures[k] != null && (
                <Button $quiet aria-pressed={k === shown} onPress={() => setOpen(k)}>
                  Show
                </Button>
              )}
              <Button $quiet aria-label={`Take ${k + 1}, ${title}, away`} onPress={() => onRemove(k)}>
                Take away
              </Button>
            </li>
          )
        })}
      </List>
    </>
  )
}

const List = styled.ol`
  list-style: none;
  margin: 8px 0 0;
  padding: 0;
  li {
    display: grid;
    grid-template-columns: 26px 1fr auto auto;
    gap: 8px;
    align-items: start;
    padding: 8px 0;
    border-bottom: 1px solid ${(p) => p.theme.colour.faint};
  }
  p {
    margin: 2px 0 0;
    overflow-wrap: anywhere;
  }
  small {
    color: ${(p) => p.theme.colour.muted};
  }
`
