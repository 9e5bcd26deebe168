import { useMutation, useQueryClient, useSuspenseQuery, useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { useNavigate, useParams, useSearchParams } from 'react-router'
import { factsQuery, useCircuit, type Circuit } from '../../shared/facts'
import { coursesQuery } from '../../shared/who'
import { Button } from '../../ui/Button'
import { Choice, Fields, Text } from '../../ui/fields'
import { Muted, Note, Page, PageHead, Panel, Stack, Two } from '../../ui/layout'
import { Stage } from '../../ui/marks'
import { BlindFloor } from './BlindFloor'
import { CardPoints } from './CardPoints'
import { CopyCard } from './CopyCard'
import { CardSchools } from './CardSchools'
import { CardSteps, stepOf } from './CardSteps'
import {
  cardQuery,
  createCard,
  makerFactsQuery,
  publishCard,
  offeredQuery,
  retireCard,
  saveCard,
  setCardReach,
  startSitting,
  type Card,
  type CardReach,
  type CardDocument,
} from './queries'

export function CardMakerPage() {
  const { id } = useParams()
  return id ? <Existing id={Number(id)} /> : <Fresh />
}

function Existing({ id }: { id: number }) {
  const { data } = useSuspenseQuery(cardQuery(id))
  return <Maker key={data.id} card={data} first={data.document} />
}

/** The order of an engine of which none was told. */
const FOUR = '1-3-4-2'

/** A first set of steps for a circuit: its first readings, two of them held against their limits. */
function stepsFor(circuit: Circuit): CardDocument['steps'] {
  return [
    stepOf('cautions', null, 'Read before you begin.'),
    stepOf('capture', null, circuit.setup_advice[0] ?? ''),
    ...circuit.asked.map((reading) => stepOf('reading', reading)),
    ...circuit.asked
      .slice(0, 2)
      .map((reading) => stepOf('compare', reading, 'Hold your reading against the limit.')),
    stepOf('call', null, 'Sound, faulty, or cannot tell yet? Say what shows it.'),
  ]
}

function Fresh() {
  const [query] = useSearchParams()
  const { data: facts } = useSuspenseQuery(factsQuery)
  const reference = Number(query.get('reference')) || null
  const { data: offered } = useSuspenseQuery(offeredQuery('', reference ?? 0))
  const code = offered.find((r) => r.version_id === reference)?.circuit
  const circuit = facts.circuits.find((c) => c.code === code) ?? facts.circuits[0]
  const [due] = useState(() => new Date(Date.now() + 7 * 86_400_000).toISOString().slice(0, 10))
  const document: CardDocument = {
    circuit: circuit?.code ?? '',
    title: '',
    brief: '',
    source: { kind: 'upload' },
    complaint: 'always',
    schools: {},
    rubric: {},
    attempts: 1,
    due,
    reference_version_id: reference,
    limits: [],
    options: {},
    steps: circuit ? stepsFor(circuit) : [],
    points: {},
  }
  return <Maker card={null} first={document} />
}

const minutesOffered = (chosen: number) =>
  [...new Set([0, 10, 20, 30, 45, 60, 90, chosen])]
    .sort((a, b) => a - b)
    .map((n) => ({ key: String(n), text: n === 0 ? 'None' : `${n} minutes` }))

/** A card: what the learner is told, where the capture comes from, steps and points. */
function Maker({ card, first }: { card: Card | null; first: CardDocument }) {
  const [document, setDocument] = useState(first)
  const circuit = useCircuit(document.circuit)
  const { layouts, rows } = circuit.trainer
  const { data: facts } = useSuspenseQuery(factsQuery)
  const { data: maker } = useSuspenseQuery(makerFactsQuery)
  const { data: references = [] } = useQuery(
    offeredQuery(document.circuit, document.reference_version_id ?? 0),
  )
  const { data: courses } = useSuspenseQuery(coursesQuery)
  const [courseId, setCourseId] = useState(String(card?.course_id ?? courses[0]?.id ?? ''))
  const client = useQueryClient()
  const go = useNavigate()
  const set = (change: Partial<CardDocument>) => setDocument({ ...document, ...change })
  const changed = JSON.stringify(document) !== JSON.stringify(first)

  const settle = (next: Card) => {
    client.setQueryData(cardQuery(next.id).queryKey, next)
    void client.invalidateQueries({ queryKey: ['cards'] })
  }
  const keep = async (): Promise<Card> => {
    if (card && !changed) return card
    if (card) return saveCard(card.id, { revision: card.revision, document })
    const made = await createCard({ course_id: Number(courseId), document })
    return client.fetchQuery(cardQuery(made.id))
  }
  const save = useMutation({
    mutationFn: keep,
    onSuccess: (next) => {
      settle(next)
      setDocument(next.document)
      if (!card) void go(`/cards/${next.id}`, { replace: true })
    },
  })
  const publish = useMutation({
    mutationFn: async () => publishCard((await keep()).id),
    onSuccess: (next) => {
      settle(next)
      setDocument(next.document)
      if (!card) void go(`/cards/${next.id}`, { replace: true })
    },
  })
  const retire = useMutation({ mutationFn: () => retireCard(card?.id ?? 0), onSuccess: settle })
  const attempt = useMutation({
    mutationFn: () => startSitting(card?.id ?? 0),
    onSuccess: (s) => void go(`/sittings/${s.id}`),
  })
  const reach = useMutation({
    mutationFn: (wanted: CardReach) => setCardReach(card?.id ?? 0, wanted),
    onSuccess: settle,
  })
  const may = card?.may_change ?? true
  const error = save.error ?? publish.error ?? retire.error ?? attempt.error ?? reach.error
  const reference = references.find((r) => r.version_id === document.reference_version_id)
  const order = document.options?.firing_order ?? reference?.options.firing_order ?? ''
  return (
    <Page>
      <PageHead
        title={document.title || 'New job card'}
        about={card ? `${circuit.title}, version ${card.version}` : circuit.title}
      >
        {card && <Stage stage={card.state} version={card.version || null} />}
        {card && (
          <>
            <a href={`/api/cards/${card.id}/job-sheet`} download>
              Job sheet
            </a>
            <a href={`/api/cards/${card.id}/file`} download>
              Export
            </a>
          </>
        )}
        {card && <CopyCard id={card.id} title={card.title} />}
        {card && may && card.version > 0 && (
          <Button onPress={() => attempt.mutate()}>Try it as a learner</Button>
        )}
        {card && may && card.state !== 'retired' && <Button onPress={() => retire.mutate()}>Retire</Button>}
        {may && (
          <Button isDisabled={(Boolean(card) && !changed) || save.isPending} onPress={() => save.mutate()}>
            Keep draft
          </Button>
        )}
        {may && (
          <Button
            $main
            isDisabled={
              (card?.state === 'published' && !changed) || publish.isPending || !document.title.trim()
            }
            onPress={() => publish.mutate()}
          >
            Publish
          </Button>
        )}
      </PageHead>
      {error && <Note kind="error">{error.message}</Note>}
      {card && !may && (
        <Note>This card is {card.author}’s. Copy it into a course of yours to change it.</Note>
      )}
      <Two inert={!may}>
        <Stack>
          <Panel>
            <h2>What the learner is told</h2>
            <Stack $gap={10}>
              {!card && (
                <Choice
                  label="Circuit"
                  value={document.circuit}
                  onChange={(code) => {
                    const next = facts.circuits.find((c) => c.code === code)
                    if (next)
                      set({
                        circuit: code,
                        steps: stepsFor(next),
                        reference_version_id: null,
                        limits: [],
                        options: {},
                        source:
                          document.source.kind === 'trainer'
                            ? { ...document.source, fault: 'none', layout: '' }
                            : document.source,
                      })
                  }}
                  options={facts.circuits.map((c) => ({ key: c.code, text: c.title }))}
                />
              )}
              <Text label="Title" value={document.title} onChange={(title) => set({ title })} />
              <Text
                label="Brief: complaint, history, what to find out"
                value={document.brief}
                onChange={(brief) => set({ brief })}
                lines={5}
              />
              <Choice
                label="The complaint shows"
                value={document.complaint ?? 'always'}
                onChange={(c) => set({ complaint: c as NonNullable<CardDocument['complaint']> })}
                options={facts.conditions}
              />
              {document.complaint !== 'always' && (
                <Muted>
                  A clean capture that never shows this condition makes ‘cannot tell yet’ the right call; a
                  fault that shows without it is a fault all the same.
                </Muted>
              )}
            </Stack>
          </Panel>
          <Panel>
            <h2>Where the capture comes from</h2>
            <Stack $gap={10}>
              <Fields>
                <Choice
                  label="Source"
                  value={document.source.kind}
                  onChange={(kind) =>
                    set({
                      source:
                        kind === 'trainer'
                          ? { kind, fault: 'none', severity: 1, vehicle: '', varied: true }
                          : { kind: 'upload' },
                    })
                  }
                  options={[
                    { key: 'upload', text: 'The learner’s own scope file' },
                    { key: 'trainer', text: 'The trainer' },
                  ]}
                />
                {document.source.kind === 'trainer' && (
                  <>
                    <Choice
                      label="Part (the learner never sees this)"
                      value={document.source.fault ?? 'none'}
                      onChange={(fault) => set({ source: { ...document.source, fault } })}
                      options={maker.faults
                        .filter((f) => f.circuit === document.circuit)
                        .map((f) => ({ key: f.key, text: f.title }))}
                    />
                    {layouts.length > 0 && (
                      <Choice
                        label="Engine"
                        value={document.source.layout || (layouts[0]?.key ?? '')}
                        onChange={(layout) => set({ source: { ...document.source, layout } })}
                        options={layouts.map((l) => ({ key: l.key, text: l.title }))}
                      />
                    )}
                    {rows.length > 0 && (
                      <>
                        {!document.reference_version_id && (
                          <Choice
                            label="Cylinders"
                            value={order || FOUR}
                            onChange={(firing_order) => set({ options: { firing_order } })}
                            options={rows}
                          />
                        )}
                        {(document.source.fault ?? 'none') !== 'none' && (
                          <Choice
                            label="Cylinder that has it"
                            value={String(document.source.cylinder ?? 3)}
                            onChange={(c) => set({ source: { ...document.source, cylinder: Number(c) } })}
                            options={(order || FOUR)
                              .split('-')
                              .sort((a, b) => Number(a) - Number(b))
                              .map((c) => ({ key: c, text: c }))}
                          />
                        )}
                      </>
                    )}
                    <Text
                      label="Vehicle named on the card"
                      value={document.source.vehicle ?? ''}
                      onChange={(vehicle) => set({ source: { ...document.source, vehicle } })}
                    />
                  </>
                )}
              </Fields>
              {document.source.kind === 'trainer' && (
                <label>
                  <input
                    type="checkbox"
                    checked={document.source.varied ?? false}
                    onChange={(e) => set({ source: { ...document.source, varied: e.target.checked } })}
                  />{' '}
                  Each learner gets a part of their own: levels, severity and cylinder a little apart, so that
                  neighbours cannot copy
                </label>
              )}
              <Choice
                label="Reference and limits from the shelf"
                value={document.reference_version_id ? String(document.reference_version_id) : null}
                onChange={(id) => set({ reference_version_id: Number(id), limits: [], options: {} })}
                options={references.map((r) => ({
                  key: String(r.version_id),
                  text: `${r.title}, version ${r.version}`,
                }))}
              />
              {document.reference_version_id && (
                <Choice
                  label="The learner’s part against the reference’s"
                  value={document.options?.design ?? 'same'}
                  onChange={(design) => set({ options: { ...document.options, design } })}
                  options={[
                    { key: 'same', text: 'Of the same design: its levels carry over' },
                    { key: 'other', text: 'Of another design: its shape only' },
                  ]}
                />
              )}
              <Muted>
                The deciding limits of that version go onto the card, with their marginal zones; the learner’s
                trace is laid over it when you mark.
              </Muted>
            </Stack>
          </Panel>
          <CardSchools document={document} maker={maker} onChange={set} />
          <Panel>
            <h2>Rules</h2>
            <Fields>
              <Choice
                label="Course"
                value={courseId}
                onChange={setCourseId}
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
                  onChange={(r) => reach.mutate(r as CardReach)}
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
        </Stack>
        <Stack>
          <CardSteps document={document} circuit={circuit} onChange={set} />
          <CardPoints document={document} maker={maker} onChange={set} />
          {card && <BlindFloor card={card} />}
          <Panel>
            <h2>Cautions on this card</h2>
            <ul style={{ paddingLeft: 18 }}>
              {circuit.cautions.map((c) => (
                <li key={c.key}>{c.text}</li>
              ))}
            </ul>
          </Panel>
        </Stack>
      </Two>
    </Page>
  )
}
