import { useQueryClient } from '@tanstack/react-query'
import { Link } from 'react-router'
import { useJob } from '../../shared/useJob'
import { Note, Page, PageHead } from '../../ui/layout'
import { dayText } from '../../ui/time'
import { sittingQuery, type Sitting } from './queries'

export function WaitingView({ sitting }: { sitting: Sitting }) {
  const client = useQueryClient()
  const job = sitting.marks_job
  useJob(job, () => void client.invalidateQueries({ queryKey: sittingQuery(sitting.id).queryKey }))
  return (
    <Page>
      <PageHead
        title={sitting.card.title}
        about={`attempt ${sitting.attempt}, handed in ${dayText(sitting.handed_in_at)}`}
      />
      <Note>
        Handed in and safe. {job && said(job.state)} Your instructor settles the mark; feedback on your own
        trace appears here after that. <Link to="/">Back to Today</Link>
      </Note>
    </Page>
  )
}

const said = (state: string) =>
  state === 'waiting' || state === 'running'
    ? 'The marks are being worked out; you need not wait here.'
    : 'The marks could not be worked out; your instructor sees why.'
