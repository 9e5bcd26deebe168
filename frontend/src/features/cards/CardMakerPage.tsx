import { useMutation, useQueryClient, useSuspenseQuery, useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { useNavigate, useParams, useSearchParams } from 'react-router'
import styled from 'styled-components'
import { factsQuery, useCircuit } from '../../shared/facts'
import { coursesQuery } from '../../shared/who'
import { Button } from '../../ui/Button'
import { Note, Page, PageHead } from '../../ui/layout'
import { Stage } from '../../ui/marks'
import { CardCheckView } from './CardCheckView'
import { CardRules } from './CardRules'
import { CardTold } from './CardTold'
import { CopyCard } from './CopyCard'
import { stepsFor } from './fresh'
import { MakerList, type Place } from './MakerList'
import { StepEditor } from './StepEditor'
import {
  cardQuery,
  checkQuery,
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

/** A card: what the learner is told, where the capture comes from, steps and points. */
function Maker({ card, first }: { card: Card | null; first: CardDocument }) {
  const [document, setDocument] = useState(first)
  const circuit = useCircuit(document.circuit)
  const { data: maker } = useSuspenseQuery(makerFactsQuery)
  const { data: courses } = useSuspenseQuery(coursesQuery)
  const [courseId, setCourseId] = useState(String(card?.course_id ?? courses[0]?.id ?? ''))
  const [at, setAt] = useState<Place>('told')
  const checked = useQuery(checkQuery(card))
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
      <Desk>
        <MakerList document={document} circuit={circuit} maker={maker} at={at} onGo={setAt} onChange={set} />
        <div inert={!may && at !== 'check'}>
          {at === 'told' && (
            <CardTold document={document} circuit={circuit} maker={maker} fresh={!card} onChange={set} />
          )}
          {at === 'rules' && (
            <CardRules
              card={card}
              document={document}
              maker={maker}
              courseId={courseId}
              onCourse={setCourseId}
              onReach={(wanted) => reach.mutate(wanted)}
              onChange={set}
            />
          )}
          {at === 'check' && <CardCheckView checked={checked} changed={changed} />}
          {typeof at === 'number' && (
            <StepEditor
              key={at}
              document={document}
              circuit={circuit}
              maker={maker}
              place={at}
              check={checked.data ?? null}
              onChange={set}
              onGo={setAt}
            />
          )}
        </div>
      </Desk>
    </Page>
  )
}

const Desk = styled.div`
  display: grid;
  grid-template-columns: 264px minmax(0, 1fr);
  gap: 12px;
  height: max(560px, calc(100vh - 130px));
  > * {
    min-height: 0;
  }
  > div {
    overflow: auto;
  }
  @media (max-width: 900px) {
    grid-template-columns: 1fr;
    height: auto;
  }
`
