import { useSuspenseQuery } from '@tanstack/react-query'
import { Link, Navigate } from 'react-router'
import { useCourse } from '../../shared/CoursePicker'
import { useWho } from '../../shared/who'
import { Empty, Muted, Page, PageHead, Panel, Table } from '../../ui/layout'
import { Band } from './Band'
import { skillMapQuery } from './queries'

/** Who can do what, how surely. A learner goes to their own logbook. */
export function SkillMapPage() {
  const who = useWho()
  const course = useCourse()
  if (course.id === null)
    return (
      <Page>
        <PageHead title="Skill map" />
        <Empty>
          <p>Skill is followed by course; you are in none yet.</p>
        </Empty>
      </Page>
    )
  if (who.role === 'learner') return <Navigate to={`/skill/${course.id}/${who.id}`} replace />
  return <Chart courseId={course.id} title={course.title} picker={course.picker} />
}

function Chart({ courseId, title, picker }: { courseId: number; title: string; picker: React.ReactNode }) {
  const { data } = useSuspenseQuery(skillMapQuery(courseId))
  return (
    <Page>
      <PageHead
        title="Skill map"
        about={`${title} · chance of full points on a criterion of standard difficulty, from released marks; the band is one standard deviation either way`}
      >
        {picker}
      </PageHead>
      {data.learners.length === 0 ? (
        <Empty>
          <p>No learner belongs to this course yet.</p>
        </Empty>
      ) : (
        <Panel $pad={false} style={{ overflow: 'auto' }}>
          <Table>
            <thead>
              <tr>
                <th>Learner</th>
                {data.skills.map((s) => (
                  <th key={s.key}>{s.title}</th>
                ))}
              </tr>
            </thead>
            <tbody>
              {data.learners.map((l) => (
                <tr key={l.id}>
                  <td style={{ whiteSpace: 'nowrap' }}>
                    <Link to={`/skill/${courseId}/${l.id}`}>{l.name}</Link>
                    <br />
                    <Muted>{l.sittings} marked</Muted>
                  </td>
                  {l.cells.map((cell) => (
                    <td key={cell.skill}>
                      <Band {...cell} known={cell.criteria > 0} />
                    </td>
                  ))}
                </tr>
              ))}
            </tbody>
          </Table>
        </Panel>
      )}
    </Page>
  )
}
