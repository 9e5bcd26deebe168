import { useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { Link } from 'react-router'
import { useJob } from '../../shared/useJob'
import { Button } from '../../ui/Button'
import { Note, Page, PageHead } from '../../ui/layout'
import { dayText } from '../../ui/time'
import { sittingQuery, type Sitting } from './queries'
import { forgetLate, late } from './useAutosave'

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
      <Late sitting={sitting} />
    </Page>
  )
}

/** What was typed here after another window had handed in: not part of it, and not lost. */
function Late({ sitting }: { sitting: Sitting }) {
  const [unsent, setUnsent] = useState(() => late(sitting.id))
  const steps = Object.entries(unsent)
  if (steps.length === 0) return null
  return (
    <Note kind="error">
      This was typed after the sitting was handed in in another window, and is not part of it; tell your
      instructor if it should count.
      <ul>
        {steps.map(([step, answer]) => (
          <li key={step}>
            <b>{step}</b>: {JSON.stringify(answer)}
          </li>
        ))}
      </ul>
      <Button
        onPress={() => {
          forgetLate(sitting.id)
          setUnsent({})
        }}
      >
        Put it away
      </Button>
    </Note>
  )
}

const said = (state: string) =>
  state === 'waiting' || state === 'running'
    ? 'The marks are being worked out; you need not wait here.'
    : 'The marks could not be worked out; your instructor sees why.'
