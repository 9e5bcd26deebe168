import { useMutation, useSuspenseQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { Link, useNavigate } from 'react-router'
import { cardsQuery, type CardItem } from '../../shared/cards'
import { factsQuery } from '../../shared/facts'
import { useWho } from '../../shared/who'
import { Button } from '../../ui/Button'
import { Text } from '../../ui/fields'
import { Empty, Muted, Note, Page, PageHead, Panel, Row, Table } from '../../ui/layout'
import { Stage } from '../../ui/marks'
import { dayText, isLater } from '../../ui/time'
import { CardFile } from './CardFile'
import { SharedCards } from './SharedCards'
import { startSitting } from './queries'

/** Cards from which on one looks for one. */
const MANY = 12

/** Job cards of the person's courses. */
const SOURCES = { trainer: 'trainer', upload: 'own file', shelf: 'given' }

export function CardsPage() {
  const who = useWho()
  const { data } = useSuspenseQuery(cardsQuery)
  const go = useNavigate()
  const start = useMutation({ mutationFn: startSitting, onSuccess: (s) => void go(`/sittings/${s.id}`) })
  const instructor = who.role === 'instructor'
  const { data: facts } = useSuspenseQuery(factsQuery)
  const [words, setWords] = useState('')
  const circuitOf = (card: CardItem) => facts.circuits.find((c) => c.code === card.circuit)?.title ?? ''
  const wanted = words.toLowerCase().split(' ').filter(Boolean)
  const shown = data.filter((card) => {
    const text = `${card.title} ${card.course} ${circuitOf(card)} ${card.state}`.toLowerCase()
    return wanted.every((word) => text.includes(word))
  })
  return (
    <Page>
      <PageHead
        title="Job cards"
        about={shown.length < data.length ? `${shown.length} of ${data.length}` : undefined}
      >
        {data.length > MANY && (
          <div style={{ width: 260 }}>
            <Text
              hidden
              placeholder
              label="Find: title, circuit, course, state"
              value={words}
              onChange={setWords}
            />
          </div>
        )}
        {instructor && <CardFile />}
        {instructor && (
          <Button $main onPress={() => void go('/cards/new')}>
            New job card
          </Button>
        )}
      </PageHead>
      {start.error && <Note kind="error">{start.error.message}</Note>}
      {data.length === 0 ? (
        <Empty>
          <p>
            {instructor
              ? 'Exercises for your course stand here.'
              : 'Your instructor has not published a card yet.'}
          </p>
          {instructor && (
            <Button $main onPress={() => void go('/cards/new')}>
              Make the first one
            </Button>
          )}
        </Empty>
      ) : (
        <Panel $pad={false}>
          <Table>
            <thead>
              <tr>
                <th>Card</th>
                <th>Capture</th>
                <th>Due</th>
                <th>{instructor ? 'Sittings' : 'Attempts'}</th>
                <th>State</th>
                <th>
                  <span className="hidden-text">What to do</span>
                </th>
              </tr>
            </thead>
            <tbody>
              {shown.map((card) => (
                <tr key={card.id}>
                  <td>
                    {instructor ? <Link to={`/cards/${card.id}`}>{card.title}</Link> : <b>{card.title}</b>}
                    <br />
                    <Muted>
                      {card.course} · {circuitOf(card)} · {card.steps} steps
                      {card.mode === 'practice' ? ' · practice' : ''}
                      {card.minutes ? ` · ${card.minutes} min` : ''}
                    </Muted>
                  </td>
                  <td>{SOURCES[card.source]}</td>
                  <td>
                    {dayText(card.due)}
                    {!instructor && isLater(card.opens) && <Muted> opens {dayText(card.opens)}</Muted>}
                  </td>
                  <td>
                    {instructor ? `${card.sittings}` : `${card.taken.length} of ${card.attempts}`}
                    {card.waiting > 0 && <Muted> · {card.waiting} to settle</Muted>}
                  </td>
                  <td>
                    <Stage
                      stage={stageOf(card, instructor)}
                      version={instructor ? card.version || null : null}
                    />
                  </td>
                  <td>
                    <Row $end>
                      {canStart(card, instructor) && (
                        <Button
                          $touch={!instructor}
                          onPress={() =>
                            // A clock starts only when that is meant.
                            !instructor && card.minutes && !card.taken.some((t) => t.state === 'open')
                              ? void go(`/begin/${card.id}`)
                              : start.mutate(card.id)
                          }
                          isDisabled={start.isPending}
                        >
                          {instructor
                            ? 'Try it'
                            : card.taken.some((t) => t.state === 'open')
                              ? 'Go on'
                              : 'Begin'}
                        </Button>
                      )}
                      {!instructor &&
                        card.taken
                          .filter((t) => t.state === 'released')
                          .map((t) => (
                            <Link key={t.id} to={`/sittings/${t.id}`}>
                              feedback {t.attempt}
                            </Link>
                          ))}
                    </Row>
                  </td>
                </tr>
              ))}
            </tbody>
          </Table>
        </Panel>
      )}
      {instructor && <SharedCards />}
    </Page>
  )
}

const stageOf = (card: CardItem, instructor: boolean): string =>
  instructor ? card.state : (card.taken.at(-1)?.state ?? 'published')

const canStart = (card: CardItem, instructor: boolean): boolean =>
  instructor
    ? card.version > 0 && card.state !== 'retired'
    : card.taken.some((t) => t.state === 'open') ||
      (card.taken.length < card.attempts && !isLater(card.opens))
