import { fixed, pointsText } from '../../ui/numbers'
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { Link, useNavigate } from 'react-router'
import { useCourse } from '../../shared/CoursePicker'
import { Button } from '../../ui/Button'
import { Fold } from '../../ui/Fold'
import { Empty, Muted, Note, Page, PageHead, Panel, Row, Stack, Table } from '../../ui/layout'
import { Stage } from '../../ui/marks'
import { dayText } from '../../ui/time'
import { slipsOf } from '../../shared/slips'
import {
  agreementQuery,
  deskQuery,
  lookedAt,
  secondWaitingQuery,
  RELEASED,
  releaseMany,
  type DeskItem,
} from './queries'

/** Sittings to settle, least certain first, then those released. */
export function DeskPage() {
  const course = useCourse()
  if (course.id === null)
    return (
      <Page>
        <PageHead title="Marking desk" />
        <Empty>
          <p>You are in no course yet; the administrator can bring you into one.</p>
        </Empty>
      </Page>
    )
  return <Desk courseId={course.id} title={course.title} picker={course.picker} />
}

function Desk({ courseId, title, picker }: { courseId: number; title: string; picker: React.ReactNode }) {
  const [released, setReleased] = useState(RELEASED)
  const { data = [], isPending } = useQuery(deskQuery(courseId, released))
  const go = useNavigate()
  const waiting = data.filter((d) => d.state === 'handed_in')
  const clear = waiting.filter((d) => d.clear)
  const others = data.filter((d) => !d.clear)
  const first = waiting.find((d) => d.certainty !== null)
  return (
    <Page>
      <PageHead title="Marking desk" about={`${title} · ${waiting.length} to settle`}>
        {picker}
        <Link to="/marking/now">Sitting now</Link>
        <Link to="/marking/anew">Marks anew</Link>
        {first && (
          <Button $main onPress={() => void go(`/marking/${first.id}`)}>
            Settle the first
          </Button>
        )}
      </PageHead>
      <SecondOnes />
      {isPending ? (
        <Muted aria-busy="true">Loading…</Muted>
      ) : data.length === 0 ? (
        <Empty>
          <p>Sittings come here when learners hand in, those the tool is least sure about on top.</p>
        </Empty>
      ) : (
        <Stack>
          {clear.length > 0 && <ClearOnes key={courseId} rows={clear} />}
          {others.length > 0 && <Rows rows={others} />}
        </Stack>
      )}
      <Agreement courseId={courseId} />
      {data.length - waiting.length >= released && (
        <Row style={{ marginTop: 12 }}>
          <Button onPress={() => setReleased(released + 100)}>Earlier ones</Button>
        </Row>
      )}
    </Page>
  )
}

/** What a colleague asked to have marked unseen. */
function SecondOnes() {
  const { data = [] } = useQuery(secondWaitingQuery)
  if (data.length === 0) return null
  return (
    <Panel style={{ marginBottom: 12 }}>
      <h2>To mark a second time, unseen: {data.length}</h2>
      <Row>
        {data.map((d) => (
          <Link key={d.id} to={`/marking/second/${d.id}`}>
            {d.title}, asked by {d.asker} {dayText(d.asked_at)}
          </Link>
        ))}
      </Row>
    </Panel>
  )
}

/** How far second markers agree with what stands. */
function Agreement({ courseId }: { courseId: number }) {
  const { data } = useQuery(agreementQuery(courseId))
  if (!data || data.sittings === 0) return null
  return (
    <Panel style={{ marginTop: 12 }}>
      <h2>Agreement of two markers</h2>
      <p>
        {data.sittings} {data.sittings === 1 ? 'sitting' : 'sittings'} marked twice: the same points in{' '}
        {data.same} of {data.decisions} decisions
        {data.kappa !== null && (
          <>
            , weighted kappa <b className="num">{fixed(data.kappa, 2)}</b>
          </>
        )}
        .{' '}
        <Muted>
          {data.kappa === null
            ? 'Kappa is told from ten decisions on.'
            : 'Kappa: 1 is full agreement, 0 no more than chance; near misses count for little.'}
        </Muted>
      </p>
      <Fold title="By criterion">
        <Table>
          <tbody>
            {data.criteria.map((c) => (
              <tr key={c.title}>
                <td>{c.title}</td>
                <td className="num">
                  {c.same} of {c.decisions} the same
                </td>
                <td className="num">{c.kappa === null ? '' : `kappa ${fixed(c.kappa, 2)}`}</td>
              </tr>
            ))}
          </tbody>
        </Table>
      </Fold>
    </Panel>
  )
}

/** Those with nothing in particular: a sample is looked at, then they are released together. */
function ClearOnes({ rows }: { rows: DeskItem[] }) {
  const client = useQueryClient()
  const [looked] = useState(lookedAt)
  const refresh = () => {
    for (const key of ['desk', 'today', 'skill-map', 'logbook'])
      void client.invalidateQueries({ queryKey: [key] })
  }
  const letGo = useMutation({ mutationFn: () => releaseMany(rows.map((d) => d.id)), onSettled: refresh })
  const left = rows.filter((d) => d.sample && !looked.includes(d.id))
  return (
    <Panel>
      <h2>
        {rows.length === 1 ? 'One with' : `${rows.length} with`} nothing in particular: the tool is sure, and
        none is unusual
      </h2>
      <Stack $gap={8}>
        <Row>
          <span>Look at {left.length ? 'this sample first:' : 'any of them:'}</span>
          {rows
            .filter((d) => d.sample)
            .map((d) => (
              <Link key={d.id} to={`/marking/${d.id}`}>
                {looked.includes(d.id) ? '✓ ' : ''}
                {d.learner}, {d.title} ({pointsText(d.earned ?? 0)} / {pointsText(d.points ?? 0)})
              </Link>
            ))}
          <Button
            $main={left.length === 0}
            isDisabled={left.length > 0 || letGo.isPending}
            onPress={() => letGo.mutate()}
          >
            Release {rows.length === 1 ? 'it' : `all ${rows.length}`}
          </Button>
        </Row>
        {letGo.error && <Note kind="error">{letGo.error.message}</Note>}
        {letGo.data?.refused.map((r) => (
          <Note key={r.id} kind="error">
            {r.why}
          </Note>
        ))}
        <Fold title="All of them">
          <Rows rows={rows} />
        </Fold>
      </Stack>
    </Panel>
  )
}

function Rows({ rows }: { rows: DeskItem[] }) {
  return (
    <Panel $pad={false}>
      <Table>
        <thead>
          <tr>
            <th>Learner</th>
            <th>Card</th>
            <th>Handed in</th>
            <th>Points</th>
            <th>Why to look</th>
            <th>What went wrong</th>
            <th>State</th>
          </tr>
        </thead>
        <tbody>
          {rows.map((d) => (
            <tr key={d.id}>
              <td style={{ whiteSpace: 'nowrap' }}>
                <Link to={`/marking/${d.id}`}>{d.learner}</Link>
              </td>
              <td>
                {d.title} <Muted>attempt {d.attempt}</Muted>
              </td>
              <td style={{ whiteSpace: 'nowrap' }}>{dayText(d.handed_in_at)}</td>
              {d.certainty === null ? (
                <td colSpan={2}>
                  <Muted>marks are being worked out</Muted>
                </td>
              ) : (
                <>
                  <td className="num" style={{ whiteSpace: 'nowrap' }}>
                    {pointsText(d.earned ?? 0)} / {pointsText(d.points ?? 0)}
                  </td>
                  <td>
                    {d.asked && d.state === 'released'
                      ? `asks for a second look: ${d.asked}`
                      : d.reasons.join('; ')}
                  </td>
                </>
              )}
              <td>
                <Muted>{slipsOf(d)}</Muted>
              </td>
              <td>
                <Stage stage={d.state} />
              </td>
            </tr>
          ))}
        </tbody>
      </Table>
    </Panel>
  )
}
