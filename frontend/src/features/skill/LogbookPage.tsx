import { useSuspenseQuery } from '@tanstack/react-query'
import { Link, useParams } from 'react-router'
import styled from 'styled-components'
import { useWho } from '../../shared/who'
import { Empty, Muted, Page, PageHead, Panel, Stack, Table, Two } from '../../ui/layout'
import { dayText } from '../../ui/time'
import { CourseChart } from './CourseChart'
import { logbookQuery, type Logbook } from './queries'
import { pointsText } from '../../ui/numbers'

/** One learner over the course: each skill with its uncertainty over time, and what keeps costing points. */
export function LogbookPage() {
  const { courseId, learnerId } = useParams()
  const { data } = useSuspenseQuery(logbookQuery(Number(courseId), Number(learnerId)))
  const instructor = useWho().role === 'instructor'
  return (
    <Page>
      <PageHead
        title={instructor ? data.learner.name : 'Your logbook'}
        about={`${data.sittings.length} marked sittings · estimates from released marks only, with one standard deviation either way`}
      />
      {data.sittings.length === 0 ? (
        <Stack>
          <Empty>
            <p>The logbook begins with the first released mark.</p>
          </Empty>
          <Sat title={PRACTICE} rows={data.practice} instructor={instructor} />
        </Stack>
      ) : (
        <Two $left={1.5}>
          <Charts>
            {data.skills.map((s) => (
              <Panel key={s.skill}>
                <CourseChart skill={s} />
              </Panel>
            ))}
          </Charts>
          <Stack>
            <Panel>
              <h2>What keeps costing points</h2>
              {data.mistakes.length === 0 ? (
                <Muted>Nothing in particular.</Muted>
              ) : (
                data.mistakes.map((m) => (
                  <Mistake key={m.title}>
                    <b>{m.title}</b> <span className="num">{m.times}×</span>
                    <p>{m.latest}</p>
                  </Mistake>
                ))
              )}
            </Panel>
            <Sat title="Marked sittings" rows={data.sittings} instructor={instructor} />
            <Sat title={PRACTICE} rows={data.practice} instructor={instructor} />
          </Stack>
        </Two>
      )}
    </Page>
  )
}

const PRACTICE = 'Practice, which counts for nothing'

interface SatProps {
  title: string
  rows: Logbook['sittings']
  instructor: boolean
}

/** Sittings with their points, each a link to its trace. */
function Sat({ title, rows, instructor }: SatProps) {
  if (rows.length === 0) return null
  return (
    <Panel>
      <h2>{title}</h2>
      <Table>
        <tbody>
          {rows.map((s) => (
            <tr key={s.id}>
              <td>
                <Link to={instructor ? `/marking/${s.id}` : `/sittings/${s.id}`}>{s.title}</Link>
              </td>
              <td>{dayText(s.handed_in_at)}</td>
              <td className="num">
                {pointsText(s.earned ?? 0)} / {pointsText(s.points ?? 0)}
              </td>
            </tr>
          ))}
        </tbody>
      </Table>
    </Panel>
  )
}

const Charts = styled.div`
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(300px, 1fr));
  gap: 12px;
`

const Mistake = styled.div`
  padding: 6px 0;
  border-top: 1px solid ${(p) => p.theme.colour.faint};
  font-size: 14px;
  p {
    color: ${(p) => p.theme.colour.soft};
    font-size: 13.5px;
  }
`
