import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { Link, useNavigate } from 'react-router'
import { useCourse } from '../../shared/CoursePicker'
import { Button } from '../../ui/Button'
import { Empty, Muted, Page, PageHead, Panel, Row, Table } from '../../ui/layout'
import { Certainty, Stage } from '../../ui/marks'
import { dayText } from '../../ui/time'
import { lookAt } from '../../shared/slips'
import { deskQuery, RELEASED } from './queries'

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
  const first = waiting.find((d) => d.certainty !== null)
  return (
    <Page>
      <PageHead title="Marking desk" about={`${title} · ${waiting.length} to settle`}>
        {picker}
        {first && (
          <Button $main onPress={() => void go(`/marking/${first.id}`)}>
            Settle the first
          </Button>
        )}
      </PageHead>
      {isPending ? (
        <Muted aria-busy="true">Loading…</Muted>
      ) : data.length === 0 ? (
        <Empty>
          <p>Sittings come here when learners hand in, those the tool is least sure about on top.</p>
        </Empty>
      ) : (
        <Panel $pad={false}>
          <Table>
            <thead>
              <tr>
                <th>Learner</th>
                <th>Card</th>
                <th>Handed in</th>
                <th>Points</th>
                <th>The tool is</th>
                <th>Look at</th>
                <th>State</th>
              </tr>
            </thead>
            <tbody>
              {data.map((d) => (
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
                      <td className="num">
                        {d.earned} / {d.points}
                      </td>
                      <td>
                        <Certainty value={d.certainty} />
                      </td>
                    </>
                  )}
                  <td>
                    <Muted>{lookAt(d)}</Muted>
                  </td>
                  <td>
                    <Stage stage={d.state} />
                  </td>
                </tr>
              ))}
            </tbody>
          </Table>
        </Panel>
      )}
      {data.length - waiting.length >= released && (
        <Row style={{ marginTop: 12 }}>
          <Button onPress={() => setReleased(released + 100)}>Earlier ones</Button>
        </Row>
      )}
    </Page>
  )
}
