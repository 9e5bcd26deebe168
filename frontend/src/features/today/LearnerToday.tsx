import { useMutation } from '@tanstack/react-query'
import { Link, useNavigate } from 'react-router'
import styled from 'styled-components'
import { Button } from '../../ui/Button'
import { Empty, Muted, Note, PageHead, Panel, Stack } from '../../ui/layout'
import { Stage } from '../../ui/marks'
import { dayText, isLater } from '../../ui/time'
import { startSitting, type Today } from './queries'
import { pointsText } from '../../ui/numbers'

const SOURCES = { trainer: 'on the trainer', upload: 'your own capture', shelf: 'a trace to read' }

export function LearnerToday({ today, name }: { today: Today; name: string }) {
  const go = useNavigate()
  const start = useMutation({ mutationFn: startSitting, onSuccess: (s) => void go(`/sittings/${s.id}`) })
  const open = today.cards.filter(
    (c) => c.taken.some((t) => t.state === 'open') || c.taken.length < c.attempts,
  )
  const back = today.sittings.filter((s) => s.state !== 'open')
  return (
    <>
      <PageHead title={`Today, ${name}`} about={today.courses.map((c) => c.title).join(' · ')} />
      {start.error && <Note kind="error">{start.error.message}</Note>}
      <Stack>
        <Panel>
          <h2>To do</h2>
          {open.length === 0 ? (
            <Empty>
              <p>Nothing is waiting. New job cards appear here when your instructor publishes them.</p>
            </Empty>
          ) : (
            <Cards>
              {open.map((card) => {
                const begun = card.taken.find((t) => t.state === 'open')
                return (
                  <article key={card.id}>
                    <h2>{card.title}</h2>
                    <p>
                      <Muted>
                        due {dayText(card.due)} · {card.mode === 'practice' ? 'practice · ' : ''}
                        {card.minutes ? `${card.minutes} min · ` : ''}
                        {SOURCES[card.source]} · attempt {begun ? begun.attempt : card.taken.length + 1} of{' '}
                        {card.attempts}
                      </Muted>
                    </p>
                    <Button
                      $touch
                      $main={Boolean(begun)}
                      isDisabled={start.isPending || (!begun && isLater(card.opens))}
                      onPress={() =>
                        // A clock starts only when that is meant.
                        card.minutes && !begun ? void go(`/begin/${card.id}`) : start.mutate(card.id)
                      }
                    >
                      {begun
                        ? 'Go on'
                        : isLater(card.opens)
                          ? `Opens ${dayText(card.opens)}`
                          : card.taken.length
                            ? 'Try again'
                            : 'Begin'}
                    </Button>
                  </article>
                )
              })}
            </Cards>
          )}
        </Panel>
        <Panel>
          <h2>Handed in and back</h2>
          {back.length === 0 && <Muted>Nothing yet.</Muted>}
          <Cards>
            {back.map((s) => (
              <article key={s.id}>
                <h2>{s.title}</h2>
                <p>
                  <Muted>attempt {s.attempt} · </Muted>
                  <Stage stage={s.state} />
                </p>
                {s.state === 'released' && s.points ? (
                  <Link to={`/sittings/${s.id}`}>
                    {pointsText(s.earned ?? 0)} of {pointsText(s.points)} points: see why
                  </Link>
                ) : (
                  <Muted>handed in {dayText(s.handed_in_at)}; your instructor settles the mark</Muted>
                )}
              </article>
            ))}
          </Cards>
        </Panel>
      </Stack>
    </>
  )
}

const Cards = styled.div`
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(250px, 1fr));
  gap: 12px;
  article {
    display: flex;
    flex-direction: column;
    gap: 8px;
    padding: 12px 14px;
    border: 1px solid ${(p) => p.theme.colour.hair};
    border-radius: ${(p) => p.theme.radius};
    > :last-child {
      margin-top: auto;
      align-self: flex-start;
    }
  }
  article a {
    padding: 10px 0;
  }
`
