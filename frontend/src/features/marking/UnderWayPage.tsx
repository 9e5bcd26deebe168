import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { useEffect, useState } from 'react'
import { Link } from 'react-router'
import styled from 'styled-components'
import { serverNow } from '../../api/client'
import { useCourse } from '../../shared/CoursePicker'
import { Button } from '../../ui/Button'
import { Text } from '../../ui/fields'
import { Empty, Muted, Note, Page, PageHead, Panel, Row, Table } from '../../ui/layout'
import { clockText, dayText } from '../../ui/time'
import { giveTime, underWayQuery, type UnderWay } from './queries'

const MINUTE = 60_000
const GIVEN = [5, 10, 15]

/** Who sits a card at the moment: how far, how long still, and more time for one of them. */
export function UnderWayPage() {
  const course = useCourse()
  return (
    <Page>
      <PageHead title="Sitting now" about={course.title}>
        {course.picker}
        <Link to="/marking">To the desk</Link>
      </PageHead>
      {course.id !== null && <Sittings key={course.id} courseId={course.id} />}
    </Page>
  )
}

function Sittings({ courseId }: { courseId: number }) {
  const query = underWayQuery(courseId)
  const { data, error } = useQuery(query)
  const client = useQueryClient()
  const now = useNow()
  const [chosen, setChosen] = useState<number | null>(null)
  const [why, setWhy] = useState('')
  const give = useMutation({
    mutationFn: (minutes: number) => giveTime(chosen ?? 0, minutes, why),
    onSuccess: (next) => {
      client.setQueryData(query.queryKey, next)
      setChosen(null)
      setWhy('')
    },
  })
  if (error) return <Note kind="error">{error.message}</Note>
  if (!data) return <Muted aria-busy="true">Loading…</Muted>
  if (data.length === 0)
    return (
      <Empty>
        <p>Nobody sits a card at the moment. Whoever begins one stands here until it is handed in.</p>
      </Empty>
    )
  return (
    <Panel>
      <Table>
        <thead>
          <tr>
            <th>Learner</th>
            <th>Card</th>
            <th>Done</th>
            <th>Capture</th>
            <th>Last saved</th>
            <th>Time left</th>
            <th>
              <span className="hidden-text">What to do</span>
            </th>
          </tr>
        </thead>
        <tbody>
          {data.map((s) => (
            <tr key={s.id}>
              <td>
                <b>{s.learner}</b>
              </td>
              <td>
                {s.card}{' '}
                <Muted>
                  attempt {s.attempt}
                  {s.practice && ' · practice'}
                </Muted>
              </td>
              <td>
                <Done>
                  <meter min={0} max={s.steps} value={s.done} aria-label={`Steps of ${s.learner}`} />
                  <span className="num">
                    {s.done} of {s.steps}
                  </span>
                </Done>
              </td>
              <td>{s.has_capture ? 'there' : <Muted>not yet</Muted>}</td>
              <td>{savedText(s, now)}</td>
              <td className="num">{leftText(s, now)}</td>
              <td>
                {s.ends_at !== null && (
                  <Button
                    aria-pressed={chosen === s.id}
                    aria-label={`More time for ${s.learner}`}
                    onPress={() => setChosen(chosen === s.id ? null : s.id)}
                  >
                    More time
                  </Button>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </Table>
      {chosen !== null && (
        <Row style={{ marginTop: 12 }}>
          <b>{data.find((s) => s.id === chosen)?.learner}:</b>
          <div style={{ flex: '0 1 320px' }}>
            <Text hidden placeholder label="Why, for the trail" value={why} onChange={setWhy} />
          </div>
          {GIVEN.map((minutes) => (
            <Button key={minutes} $main isDisabled={give.isPending} onPress={() => give.mutate(minutes)}>
              +{minutes} min
            </Button>
          ))}
        </Row>
      )}
      {give.error && <Note kind="error">{give.error.message}</Note>}
      <p style={{ marginTop: 10 }}>
        <Muted>
          Who always needs more time has it by <Link to="/courses">their course</Link>: it counts from the
          next card that they begin.
        </Muted>
      </p>
    </Panel>
  )
}

/** The server's time, second by second. */
function useNow(): number {
  const [now, setNow] = useState(serverNow)
  useEffect(() => {
    const timer = setInterval(() => setNow(serverNow()), 1000)
    return () => clearInterval(timer)
  }, [])
  return now
}

function savedText(s: UnderWay, now: number): string {
  const minutes = Math.floor((now - Date.parse(s.saved_at)) / MINUTE)
  if (minutes < 1) return 'just now'
  if (minutes < 60) return `${minutes} min ago`
  const day = dayText(s.saved_at)
  return day === 'today' ? `at ${clockText(s.saved_at)}` : day
}

function leftText(s: UnderWay, now: number): string {
  if (s.ends_at === null) return 'no limit'
  const left = Date.parse(s.ends_at) - now
  if (left <= 0) return 'time is up'
  return left < 2 * MINUTE ? `${Math.ceil(left / 1000)} s` : `${Math.ceil(left / MINUTE)} min`
}

const Done = styled.span`
  display: flex;
  align-items: center;
  gap: 8px;
  white-space: nowrap;
  meter {
    width: 70px;
  }
`
