import { useState } from 'react'
import { Link } from 'react-router'
import styled from 'styled-components'
import { Strip } from '../../plot/Strip'
import type { Pegs, StripRecord, TileSource } from '../../plot/types'
import { useTrace } from '../../shared/facts'
import { Button } from '../../ui/Button'
import { Muted, Note, Row } from '../../ui/layout'
import type { MarkSheet } from './queries'

type Row_ = MarkSheet['likenesses'][number]
type Trace = { record: StripRecord; tiles: TileSource; opensOnS: number | null } | null

/** What a sitting has in common with others: a note, with both strips under each other. The tool takes nothing off. */
export function Likenesses({ rows, own, code }: { rows: Row_[]; own: Trace; code: string }) {
  const [shown, setShown] = useState<Row_ | null>(null)
  if (rows.length === 0) return null
  return (
    <Box>
      <Note kind="warn">
        {rows.map((row) => (
          <Row key={`${row.sitting_id}/${row.reference_id}/${row.capture_id}/${row.kind}`}>
            <span>
              Like <Other row={row} />: {row.about}.
            </span>
            {row.capture_id !== null && row.kind !== 'answers' && (
              <Button aria-pressed={shown === row} onPress={() => setShown(shown === row ? null : row)}>
                {shown === row ? 'Hide the strips' : 'Both strips'}
              </Button>
            )}
          </Row>
        ))}
        <Muted>
          A note for you: nothing was taken off for it. Learners may have worked at one bay together.
        </Muted>
      </Note>
      {shown && <Both row={shown} own={own} code={code} />}
    </Box>
  )
}

function Other({ row }: { row: Row_ }) {
  if (row.given_to !== null) return <>what the trainer gave {row.given_to}</>
  return row.reference_id === null ? (
    <Link to={`/marking/${row.sitting_id}`}>{row.learner}’s sitting</Link>
  ) : (
    <>
      the shelf’s <Link to={`/shelf/${row.reference_id}`}>{row.reference}</Link>
    </>
  )
}

function Both({ row, own, code }: { row: Row_; own: Trace; code: string }) {
  const theirs = useTrace(row.capture_id, code)
  const [pegs, setPegs] = useState<Pegs>([null, null])
  return (
    <Pair>
      {[own, theirs].map((trace, k) => (
        <div key={k}>
          <Muted>
            {k === 0 ? 'This sitting' : (row.learner ?? row.reference ?? `The trainer, for ${row.given_to}`)}
          </Muted>
          {trace && (
            <Strip
              {...trace}
              marks={[]}
              onSelect={() => undefined}
              pegs={pegs}
              onPegs={setPegs}
              values={null}
            />
          )}
        </div>
      ))}
    </Pair>
  )
}

const Box = styled.div`
  margin-bottom: 12px;
`

const Pair = styled.div`
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 12px;
  margin-top: 8px;
  > div {
    height: 330px;
    display: flex;
    flex-direction: column;
  }
  @media (max-width: 900px) {
    grid-template-columns: 1fr;
  }
`
