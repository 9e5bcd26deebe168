import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { Tick, ticked } from '../../ui/Tick'
import { useState } from 'react'
import { Link } from 'react-router'
import { useCourse } from '../../shared/CoursePicker'
import { Button } from '../../ui/Button'
import { Text } from '../../ui/fields'
import { Empty, Muted, Note, Page, PageHead, Panel, Row, Stack, Table } from '../../ui/layout'
import { Stage } from '../../ui/marks'
import { dayText } from '../../ui/time'
import { beginAnew, anewQuery, takeAnew } from './queries'

/** Marks of past sittings as they would be given now: looked at first, and only then let stand. */
export function AnewPage() {
  const course = useCourse()
  return (
    <Page>
      <PageHead title="Marks anew" about={course.title}>
        {course.picker}
        <Link to="/marking">To the desk</Link>
      </PageHead>
      {course.id !== null && <Anew key={course.id} courseId={course.id} />}
    </Page>
  )
}

function Anew({ courseId }: { courseId: number }) {
  const client = useQueryClient()
  const query = anewQuery(courseId)
  const { data, error: none } = useQuery(query)
  const [chosen, setChosen] = useState<ReadonlySet<number>>(new Set())
  const [why, setWhy] = useState('')
  const settle = (next: typeof data) => client.setQueryData(query.queryKey, next)
  const begin = useMutation({
    mutationFn: (newest: boolean) => beginAnew(courseId, newest),
    onSuccess: settle,
  })
  const take = useMutation({
    mutationFn: () => takeAnew(courseId, { run_id: data?.id ?? 0, ids: [...chosen], why }),
    onSuccess: (next) => {
      settle(next)
      setChosen(new Set())
      setWhy('')
      for (const key of ['desk', 'today', 'skill-map', 'logbook', 'mark'])
        void client.invalidateQueries({ queryKey: [key] })
    },
  })
  const error = begin.error ?? take.error
  const running = data !== undefined && data.done < data.total
  const open = (data?.rows ?? []).filter((r) => r.taken_at === null && r.problem === null)
  return (
    <Stack>
      <Panel>
        <p>
          Works every marked sitting of this course out again and shows what would change. Nothing changes by
          it; a change of yours on a mark always stays.
        </p>
        <Row style={{ marginTop: 8 }}>
          <Button isDisabled={begin.isPending || running} onPress={() => begin.mutate(false)}>
            With this version of the tool
          </Button>
          <Button isDisabled={begin.isPending || running} onPress={() => begin.mutate(true)}>
            And by the newest version of each card
          </Button>
          {running && (
            <b role="status">
              {data.done} of {data.total} sittings
            </b>
          )}
        </Row>
      </Panel>
      {error && <Note kind="error">{error.message}</Note>}
      {!data && none && <Muted>Nothing was compared yet.</Muted>}
      {data && !running && data.rows.length === 0 && (
        <Empty>
          <p>
            All {data.total} sittings would get the marks they have ({dayText(data.created_at)}, engine{' '}
            {data.engine}).
          </p>
        </Empty>
      )}
      {data && data.rows.length > 0 && (
        <>
          <Row>
            <Button onPress={() => setChosen(new Set(open.map((r) => r.sitting_id)))}>
              Choose all {open.length}
            </Button>
            <div style={{ flex: '1 1 280px' }}>
              <Text hidden placeholder label="Why these marks change" value={why} onChange={setWhy} />
            </div>
            <Button
              $main
              isDisabled={!chosen.size || !why.trim() || take.isPending || running}
              onPress={() => take.mutate()}
            >
              Let {chosen.size} stand
            </Button>
          </Row>
          <Panel $pad={false}>
            <Table>
              <thead>
                <tr>
                  <th>
                    <span className="hidden-text">What to do</span>
                  </th>
                  <th>Learner</th>
                  <th>Card</th>
                  <th>State</th>
                  <th>What would change</th>
                </tr>
              </thead>
              <tbody>
                {data.rows.map((r) => (
                  <tr key={r.sitting_id}>
                    <td>
                      <Tick
                        label={`${r.learner}, ${r.title}, attempt ${r.attempt}`}
                        disabled={r.taken_at !== null || r.problem !== null}
                        on={chosen.has(r.sitting_id)}
                        onSet={(on) => setChosen(new Set(ticked([...chosen], r.sitting_id, on)))}
                      />
                    </td>
                    <td>
                      <Link to={`/marking/${r.sitting_id}`}>{r.learner}</Link>
                    </td>
                    <td>
                      {r.title} <Muted>attempt {r.attempt}</Muted>
                    </td>
                    <td>
                      <Stage stage={r.state} />
                    </td>
                    <td>
                      {r.problem && <Muted>{r.problem}</Muted>}
                      {r.taken_at && <b>stands now: </b>}
                      {r.changes.map((c) => (
                        <div key={c.criterion}>
                          {c.title}{' '}
                          <span className="num">
                            {c.from ?? 'not asked'} → {c.to ?? 'not asked'}
                          </span>{' '}
                          <Muted>{c.reason}</Muted>
                        </div>
                      ))}
                    </td>
                  </tr>
                ))}
              </tbody>
            </Table>
          </Panel>
        </>
      )}
    </Stack>
  )
}
