import { useQuery } from '@tanstack/react-query'
import styled from 'styled-components'
import { Muted, Note, Panel, Stack } from '../../ui/layout'
import { blindQuery, type Card } from './queries'

/** From which part of the points somebody who never looks earns too much. */
const TOO_MUCH = 0.3

/** What would be earned of the points for reading the trace without looking at it, on the card as it was last kept. */
export function BlindFloor({ card }: { card: Card }) {
  const { data, error, isPending } = useQuery(blindQuery(card))
  const most = Math.max(0, ...(data?.strategies ?? []).map((s) => s.share))
  return (
    <Panel>
      <h2>Earned without looking</h2>
      <Stack $gap={6}>
        {isPending && <Muted>Playing six blind strategies on the card as it was last kept…</Muted>}
        {error && <Note kind="error">{error.message}</Note>}
        {data && data.on === null && (
          <Muted>Choose a reference from the shelf: the strategies are played on its capture.</Muted>
        )}
        {data && data.on !== null && (
          <>
            <Muted>
              Of the points for reading the trace, played on{' '}
              {data.on === 'trainer'
                ? 'a recording of the trainer with this part'
                : 'the reference’s capture'}
              .
            </Muted>
            <List>
              {data.strategies.map((s) => (
                <li key={s.key}>
                  <span>{s.title}</span>
                  <Bar aria-hidden="true" data-much={s.share > TOO_MUCH || undefined}>
                    <i style={{ width: `${Math.round(100 * s.share)}%` }} />
                  </Bar>
                  <b className="num">{Math.round(100 * s.share)} %</b>
                </li>
              ))}
            </List>
            {most > TOO_MUCH && (
              <Muted>
                A guess that happens to be right always earns something: balance sound, faulty and ‘cannot
                tell’ over the course, and give readings and evidence more of the points.
              </Muted>
            )}
          </>
        )}
      </Stack>
    </Panel>
  )
}

const List = styled.ul`
  padding: 0;
  list-style: none;
  li {
    display: grid;
    grid-template-columns: minmax(0, 1fr) 120px 52px;
    gap: 10px;
    align-items: center;
    min-height: 26px;
    font-size: 14px;
  }
  b {
    text-align: right;
  }
`

const Bar = styled.span`
  height: 8px;
  border-radius: 2px;
  background: ${(p) => p.theme.colour.faint};
  i {
    display: block;
    height: 100%;
    border-radius: 2px;
    background: ${(p) => p.theme.colour.sound};
  }
  &[data-much] i {
    background: ${(p) => p.theme.colour.unsure};
  }
`
