import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { useCallback, useEffect, useRef, useState } from 'react'
import { Link, useLocation, useNavigate, useParams } from 'react-router'
import { Problem } from '../../api/client'
import { Strip } from '../../plot/Strip'
import type { Pegs } from '../../plot/types'
import { marksOf, useCircuit, usePegValues, useTrace } from '../../shared/facts'
import { BesideReference } from '../../shared/BesideReference'
import { KeptRecords } from '../../shared/KeptRecord'
import { useMeterBeside } from '../../shared/meter'
import { actionMarks } from '../../shared/records'
import { commentMarks, corridorOf, marksOfResults } from '../../shared/results'
import { Button } from '../../ui/Button'
import { Note, Page, PageHead, TraceAndSide } from '../../ui/layout'
import { useShortcuts } from '../../ui/shortcuts'
import { Comments } from './Comments'
import { SecondMarker } from './SecondMarker'
import { Criteria, type Decision } from './Criteria'
import { DeskKeys, keysWanted } from './DeskKeys'
import { GivenAnswers } from './GivenAnswers'
import { SheetParade } from './SheetParade'
import { Side } from './Side'
import { Likenesses } from './Likenesses'
import { MarkHead } from './MarkHead'
import {
  changeAlike,
  changeMark,
  corridorQuery,
  deskQuery,
  markAgain,
  markSheetQuery,
  noteLooked,
  paradeQuery,
  release,
  takeBack,
  type MarkSheet,
} from './queries'
import { useGhost } from '../../shared/alignment'

const NONE: never[] = []

/** Marks that are not there yet, or could not be worked out: told in words, and looked for again. */
const notYet = (error: unknown) => error instanceof Problem && error.status === 409

export function MarkPage() {
  const id = Number(useParams().id)
  const { data, error, refetch } = useQuery({
    ...markSheetQuery(id),
    retry: false,
    throwOnError: (problem) => !notYet(problem),
    refetchInterval: (query) => (notYet(query.state.error) ? 2000 : false),
  })
  if (data) return <Settle key={data.id} sheet={data} />
  return error ? <NotYet id={id} message={error.message} look={() => void refetch()} /> : null
}

function NotYet({ id, message, look }: { id: number; message: string; look: () => void }) {
  const again = useMutation({ mutationFn: () => markAgain(id), onSuccess: look })
  return (
    <Page>
      <PageHead title="Marking desk" />
      <Note>
        {message}. <Link to="/marking">Back to the desk</Link>
      </Note>
      {message.includes('could not') && (
        <Button isDisabled={again.isPending} onPress={() => again.mutate()}>
          Work them out again
        </Button>
      )}
    </Page>
  )
}

const RELEASE_AGAIN_MS = 3000

/** One sitting to settle: trace over the reference, criteria, change with a reason, release, next. */
function Settle({ sheet }: { sheet: MarkSheet }) {
  const circuit = useCircuit(sheet.card.circuit)
  const trace = useMeterBeside(useTrace(sheet.capture_id, circuit.code), sheet.answers, sheet.records)
  const theirs = useTrace(sheet.reference_capture_id, circuit.code)
  const [pegs, setPegs] = useState<Pegs>([null, null])
  const [selected, setSelected] = useState<string | null>(null)
  const values = usePegValues(sheet.capture_id, pegs)
  const { data: desk } = useQuery(deskQuery(sheet.course_id))
  const { data: parade } = useQuery(paradeQuery(sheet, circuit))
  const corridor = corridorOf(useQuery(corridorQuery(sheet)).data)
  const client = useQueryClient()
  const go = useNavigate()
  const settled = (next: MarkSheet) => {
    client.setQueryData(markSheetQuery(sheet.id).queryKey, next)
    void client.invalidateQueries({ queryKey: ['desk'] })
    void client.invalidateQueries({ queryKey: ['today'] })
    // A released mark moves the skill map, which may be on screen already when the release is done.
    void client.invalidateQueries({ queryKey: ['skill-map'] })
    void client.invalidateQueries({ queryKey: ['logbook'] })
  }
  const change = useMutation({
    mutationFn: async ({ also, ...body }: Decision) => {
      const own = await changeMark(sheet.id, body)
      const { criterion, earned, reason } = body
      return also.length ? changeAlike(sheet.id, { criterion, earned, reason, also }) : own
    },
    onSuccess: settled,
    // Somebody else may have decided meanwhile: what stands now is shown beside what is said about it.
    onError: () => void client.invalidateQueries({ queryKey: markSheetQuery(sheet.id).queryKey }),
  })
  const own = (desk ?? []).find((d) => d.id === sheet.id)
  const others = (desk ?? []).filter((d) => d.state === 'handed_in' && d.id !== sheet.id)
  const nextId = others[0]?.id
  const next = useCallback(
    (done = false) =>
      void go(nextId ? `/marking/${nextId}` : '/marking', {
        state: done ? { released: { id: sheet.id, learner: sheet.learner } } : null,
      }),
    [go, nextId, sheet.id, sheet.learner],
  )
  const letGo = useMutation({
    mutationFn: () => release(sheet.id),
    onSuccess: settled,
  })
  const { mutate } = letGo
  // On to the next one only if this page is still there: whoever has left it stays where they went.
  const releaseNow = useCallback(() => mutate(undefined, { onSuccess: () => next(true) }), [mutate, next])
  const open = sheet.state === 'handed_in'
  const [asked, setAsked] = useState(false)
  const [keys, setKeys] = useState(keysWanted)
  const back = useMutation({ mutationFn: (id: number) => takeBack(id), onSuccess: settled })
  const before = (useLocation().state as { released?: { id: number; learner: string } } | null)?.released
  useEffect(() => noteLooked(sheet.id), [sheet.id])
  // Letters act in the list of criteria alone, and a release takes its letter twice: a stray key releases nothing.
  const armed = useRef(-Infinity)
  const onKeyDown = useShortcuts({
    n: keys && (() => next()),
    r:
      keys &&
      open &&
      (() => {
        const at = performance.now()
        if (at - armed.current < RELEASE_AGAIN_MS) releaseNow()
        armed.current = at
        setAsked(true)
      }),
  })
  const error = change.error ?? letGo.error ?? back.error
  const phases = sheet.measured?.phases ?? NONE
  const ghost = useGhost(trace?.record, theirs, sheet.reference_title, phases, sheet.reference_phases)
  const findings = sheet.measured ? marksOf(sheet.measured, circuit).filter((m) => m.kind === 'fault') : []
  return (
    <Page>
      <MarkHead
        sheet={sheet}
        releasing={letGo.isPending}
        takingBack={back.isPending}
        onNext={() => next()}
        onRelease={releaseNow}
        onTakeBack={() => back.mutate(sheet.id)}
      />
      {error && <Note kind="error">{error.message}</Note>}
      {before && before.id !== sheet.id && (
        <Note>
          {before.learner}’s marks are released. <Link to={`/marking/${before.id}`}>Go back to them</Link>, to
          take them back until they are seen.
        </Note>
      )}
      {own?.asked && (
        <Note kind="warn">
          {sheet.learner} asks for a second look: “{own.asked}”.{' '}
          {!open && 'Take it back to change what stands.'}
        </Note>
      )}
      <Likenesses rows={sheet.likenesses} own={trace} code={circuit.code} />
      <TraceAndSide $side={372} $below={140}>
        {trace ? (
          <Strip
            {...trace}
            key={trace.record.id}
            phases={phases}
            marks={[
              ...findings,
              ...marksOfResults(sheet.grade.results),
              ...actionMarks(sheet.records),
              ...commentMarks(sheet.comments),
            ]}
            selected={selected}
            onSelect={setSelected}
            pegs={pegs}
            onPegs={setPegs}
            values={values}
            corridor={corridor}
            ghost={corridor ? null : ghost}
          />
        ) : (
          <Note>No capture was handed in.</Note>
        )}
        <Side onKeyDown={onKeyDown} aria-label="Criteria">
          <DeskKeys on={keys} onSet={setKeys} once={asked && open} />
          <Comments sheet={sheet} pegs={pegs} onSheet={settled} />
          <Criteria
            sheet={sheet}
            selected={selected}
            onSelect={setSelected}
            busy={change.isPending}
            onDecide={change.mutate}
          />
        </Side>
      </TraceAndSide>
      <BesideReference rows={sheet.beside_reference} circuit={circuit} />
      <SheetParade sheet={sheet} parade={parade} circuit={circuit} onPegs={setPegs} />
      <KeptRecords records={sheet.records} />
      <GivenAnswers sheet={sheet} learner={sheet.learner} circuit={circuit} />
      <SecondMarker sheet={sheet} onSheet={settled} />
    </Page>
  )
}
