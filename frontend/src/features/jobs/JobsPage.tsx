import { fixed } from '../../ui/numbers'
import { useMutation, useQueryClient, useSuspenseQuery } from '@tanstack/react-query'
import { Button } from '../../ui/Button'
import { Empty, Muted, Note, Page, PageHead, Panel, Table } from '../../ui/layout'
import { clockText, dayText } from '../../ui/time'
import { cancelJob, jobAgain, jobsQuery, type ListedJob } from './queries'

const KINDS: Record<string, string> = {
  grade: 'Marks of a sitting',
  'time-up': 'A sitting whose time is up',
  regrade: 'Marks worked out anew',
  import: 'A large file',
  record: 'A long recording on the trainer',
  look: 'A look at one file of many',
  demo: 'The demo class',
  draft: 'A draft from one file of many',
  bundle: 'A bundle taken in',
}

const STATES: Record<string, string> = {
  waiting: 'waits',
  running: 'is being done',
  done: 'done',
  failed: 'failed',
  cancelled: 'cancelled',
}

/** What is being worked out in the background, for the administrator: the last hundred. */
export function JobsPage() {
  const { data } = useSuspenseQuery(jobsQuery)
  const client = useQueryClient()
  const settled = { onSettled: () => client.invalidateQueries({ queryKey: jobsQuery.queryKey }) }
  const cancel = useMutation({ mutationFn: cancelJob, ...settled })
  const again = useMutation({ mutationFn: jobAgain, ...settled })
  const error = cancel.error ?? again.error
  const open = data.filter((j) => j.state === 'waiting' || j.state === 'running').length
  const failed = data.filter((j) => j.state === 'failed').length
  return (
    <Page>
      <PageHead
        title="Background work"
        about={`${open ? `${open} to do` : 'nothing to do'}${failed ? `, ${failed} failed` : ''}`}
      />
      {error && <Note kind="error">{error.message}</Note>}
      {data.length === 0 ? (
        <Empty>
          <p>Marks are worked out here when learners hand in; nobody has yet.</p>
        </Empty>
      ) : (
        <Panel $pad={false}>
          <Table>
            <thead>
              <tr>
                <th>What</th>
                <th>For</th>
                <th>Asked</th>
                <th>Took</th>
                <th>State</th>
                <th>
                  <span className="hidden-text">What to do</span>
                </th>
              </tr>
            </thead>
            <tbody>
              {data.map((j) => (
                <tr key={j.id}>
                  <td>
                    {KINDS[j.kind] ?? j.kind} <Muted>{j.about.split(':')[1]}</Muted>
                  </td>
                  <td>{j.owner}</td>
                  <td>
                    {dayText(j.created_at)} {clockText(j.created_at)}
                  </td>
                  <td className="num">{took(j)}</td>
                  <td>
                    {STATES[j.state]} {j.problem && <Muted>{j.problem}</Muted>}
                  </td>
                  <td>
                    {(j.state === 'waiting' || j.state === 'running') && (
                      <Button $quiet onPress={() => cancel.mutate(j.id)}>
                        Cancel
                      </Button>
                    )}
                    {(j.state === 'failed' || j.state === 'cancelled') && (
                      <Button $quiet onPress={() => again.mutate(j.id)}>
                        Try again
                      </Button>
                    )}
                  </td>
                </tr>
              ))}
            </tbody>
          </Table>
        </Panel>
      )}
    </Page>
  )
}

function took(job: ListedJob): string {
  if (!job.started_at || !job.ended_at) return ''
  const seconds = (Date.parse(job.ended_at) - Date.parse(job.started_at)) / 1000
  return `${seconds < 10 ? fixed(seconds, 1) : Math.round(seconds)} s`
}
