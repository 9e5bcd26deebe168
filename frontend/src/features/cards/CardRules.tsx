import styled from 'styled-components'
import { useSuspenseQuery } from '@tanstack/react-query'
import { coursesQuery } from '../../shared/who'
import { Choice, Fields, Text } from '../../ui/fields'
import { Muted, Panel, Stack, Two } from '../../ui/layout'
import { CardSchools } from './CardSchools'
import { Figure } from './Figure'
import type { Card, CardDocument, CardReach, MakerFacts } from './queries'

interface Props {
  card: Card | null
  document: CardDocument
  maker: MakerFacts
  courseId: string
  onCourse: (id: string) => void
  onReach: (reach: CardReach) => void
  onChange: (change: Partial<CardDocument>) => void
}

const minutesOffered = (chosen: number) =>
  [...new Set([0, 10, 20, 30, 45, 60, 90, chosen])]
    .sort((a, b) => a - b)
    .map((n) => ({ key: String(n), text: n === 0 ? 'None' : `${n} minutes` }))

/** When and how a card is sat, whose way of working counts, and what half-right answers earn. */
export function CardRules({ card, document, maker, courseId, onCourse, onReach, onChange: set }: Props) {
  const { data: courses } = useSuspenseQuery(coursesQuery)
  return (
    <Two>
      <Stack>
        <Panel>
          <h2>Rules</h2>
          <Fields>
            <Choice
              label="Course"
              value={courseId}
              onChange={onCourse}
              disabled={Boolean(card)}
              options={courses.map((c) => ({ key: String(c.id), text: c.title }))}
            />
            <Choice
              label="Kind"
              value={document.mode ?? 'exam'}
              onChange={(mode) => set({ mode: mode as NonNullable<CardDocument['mode']> })}
              options={[
                { key: 'exam', text: 'For marks: you settle and release' },
                { key: 'practice', text: 'Practice: feedback at once' },
              ]}
            />
            <Choice
              label="Time limit"
              value={String(document.minutes ?? 0)}
              onChange={(n) => set({ minutes: Number(n) || null })}
              options={minutesOffered(document.minutes ?? 0)}
            />
            <Choice
              label="Attempts"
              value={String(document.attempts)}
              onChange={(n) => set({ attempts: Number(n) })}
              options={['1', '2', '3', '5', '10'].map((n) => ({ key: n, text: n }))}
            />
            <Text
              label="Due"
              type="date"
              value={document.due ?? ''}
              onChange={(due) => set({ due: due || null })}
            />
            <Text
              label="Opens"
              type="date"
              value={document.opens ?? ''}
              onChange={(opens) => set({ opens: opens || null })}
            />
            {card?.owned && (
              <Choice
                label="Who reaches it"
                value={card.reach}
                onChange={(r) => onReach(r as CardReach)}
                options={[
                  { key: 'own', text: 'Only I work on it' },
                  { key: 'course', text: 'The course’s instructors' },
                  { key: 'school', text: 'Every instructor may copy it' },
                ]}
              />
            )}
          </Fields>
          {document.mode === 'practice' && (
            <Muted>
              The tool’s own marks are told as soon as they are worked out; they count for nothing, and
              explanations are not marked. Every attempt is another recording.
            </Muted>
          )}
        </Panel>

        <CardSchools document={document} maker={maker} onChange={set} />
      </Stack>
      <Panel>
        <h2>What is neither right nor wrong</h2>
        <Muted>The share of its points that such an answer earns, 0 to 1.</Muted>
        <Stack $gap={6}>
          {maker.shares.map((s) => (
            <Shared key={s.key}>
              <span>{s.title}</span>
              <Figure
                label={`Share: ${s.title}`}
                value={document.rubric?.[s.key] ?? s.share}
                onChange={(n) => set({ rubric: { ...document.rubric, [s.key]: n } })}
              />
            </Shared>
          ))}
        </Stack>
      </Panel>
    </Two>
  )
}

const Shared = styled.div`
  display: grid;
  grid-template-columns: 1fr 76px;
  gap: 10px;
  align-items: center;
`
