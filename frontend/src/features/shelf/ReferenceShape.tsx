import { fixed } from '../../ui/numbers'
import { useMutation, useSuspenseQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { Link } from 'react-router'
import styled from 'styled-components'
import { Button } from '../../ui/Button'
import { Choice } from '../../ui/fields'
import { Muted, Note, Row, Stack } from '../../ui/layout'
import { CallBadge, type Call } from '../../ui/marks'
import { alikeTo, corridorQuery, type Reference } from './queries'
import type { PartProps } from './ReferenceEditor'
import { ReferencePair } from './ReferencePair'
import { roleOf, Thumb } from './Thumb'

/** The corridor of sound ones of its design, its pair, and references that look like a stretch of it. */
export function ReferenceShape({
  reference,
  circuit,
  pegs,
  onTaken,
}: PartProps & { onTaken: (next: Reference) => void }) {
  const { data: corridor } = useSuspenseQuery(corridorQuery(reference.id, reference.revision))
  const lanes = circuit.lanes.filter((l) =>
    reference.answer.capture.lanes.some((own) => own.lane === l.name && l.role !== 'sync'),
  )
  const [lane, setLane] = useState(lanes[0]?.name ?? 'signal')
  const [a, b] = pegs
  const look = useMutation({
    mutationFn: () =>
      alikeTo(reference.id, { lane, from: Math.min(a ?? 0, b ?? 0), to: Math.max(a ?? 0, b ?? 0) }),
  })
  const found = look.data
  const left = corridor.pieces.filter((piece) => piece.outside.length > 0)
  return (
    <Inside aria-label="Shape">
      <Stack $gap={8}>
        <h2 className="small">Corridor</h2>
        <p>{corridor.words}</p>
        <Muted>
          {left.length
            ? `This trace leaves it in ${[...new Set(left.map((piece) => piece.name.replaceAll('_', ' ')))].join(', ')}: bars below the lane.`
            : 'This trace stays inside.'}
        </Muted>
        <ReferencePair reference={reference} onTaken={onTaken} />
        <h2 className="small">Looks like this</h2>
        <Muted>Set both pegs round a stretch of one phase or event.</Muted>
        <Row>
          {lanes.length > 1 && (
            <div style={{ width: 150 }}>
              <Choice
                hidden
                label="Lane to compare"
                value={lane}
                onChange={setLane}
                options={lanes.map((l) => ({ key: l.name, text: l.title }))}
              />
            </div>
          )}
          <Button
            isDisabled={a === null || b === null || a === b || look.isPending}
            onPress={() => look.mutate()}
          >
            Find what looks like it
          </Button>
        </Row>
        {look.error && <Note kind="warn">{look.error.message}</Note>}
        {found && (
          <>
            <Muted>
              The {found.name.replaceAll('_', ' ')} of {found.looked_at} published references, nearest first;
              the figure is how far apart, 0 the same.
              {found.left > 0 && ` ${found.left} more were not looked at yet: ask again.`}
            </Muted>
            {found.found.length === 0 && <Muted>No other published reference has such a stretch.</Muted>}
            <List>
              {found.found.map((one) => (
                <li key={one.id}>
                  <Thumb picture={one.picture} role={roleOf(circuit)} height={40} />
                  <Link to={`/shelf/${one.id}`}>{one.title}</Link>
                  <span className="num">{fixed(one.apart, 2)}</span>
                  {one.call && <CallBadge call={one.call as Call} />}
                </li>
              ))}
            </List>
          </>
        )}
      </Stack>
    </Inside>
  )
}

const Inside = styled.section`
  padding: 12px 14px;
  h2 {
    font-size: 14px;
    font-weight: 650;
  }
  p {
    font-size: 14px;
  }
`

const List = styled.ul`
  list-style: none;
  padding: 0;
  li {
    display: grid;
    grid-template-columns: 84px minmax(0, 1fr) auto auto;
    gap: 8px;
    align-items: center;
    padding: 5px 0;
    border-bottom: 1px solid ${(p) => p.theme.colour.faint};
    font-size: 13.5px;
  }
`
