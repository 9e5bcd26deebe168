import { useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { Link } from 'react-router'
import styled from 'styled-components'
import { said as answered } from '../../shared/answers'
import { useCircuit } from '../../shared/facts'
import { stepTitle } from '../../shared/steps'
import { useJob } from '../../shared/useJob'
import { Button } from '../../ui/Button'
import { Note, Page, PageHead } from '../../ui/layout'
import { dayText } from '../../ui/time'
import { sittingQuery, type Sitting } from './queries'
import { forgetLate, late } from './outbox'

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
        {sitting.feedback_waits ? (
          <>
            Its feedback is closed while another attempt of yours at this card is not released yet, and comes
            back with that.
          </>
        ) : (
          <>
            Handed in and safe. {job && said(job.state)}{' '}
            {sitting.practice
              ? 'Feedback on your own trace appears here by itself.'
              : 'Your instructor settles the mark; feedback on your own trace appears here after that.'}
          </>
        )}{' '}
        <Link to="/">Back to Today</Link>
      </Note>
      <Gap />
      <Late sitting={sitting} />
    </Page>
  )
}

/** What was typed here after another window had handed in: not part of it, and not lost. */
function Late({ sitting }: { sitting: Sitting }) {
  const [unsent, setUnsent] = useState(() => late(sitting.id))
  const circuit = useCircuit(sitting.card.circuit)
  const steps = sitting.card.steps.filter((s) => unsent[s.id] !== undefined)
  if (steps.length === 0) return null
  const unit = (id: string | null | undefined) => circuit.readings.find((r) => r.id === id)?.unit ?? ''
  return (
    <Note kind="error">
      This was typed after the sitting was handed in, in another window or as its time was up, and is not part
      of it; tell your instructor if it should count.
      <Unsent>
        {steps.map((s) => (
          <li key={s.id}>
            <b>{stepTitle(s, circuit)}</b>: {answered(unsent[s.id] ?? {}, unit(s.reading), circuit)}
          </li>
        ))}
      </Unsent>
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

const Gap = styled.div`
  height: 12px;
`

const Unsent = styled.ul`
  margin: 8px 0 12px;
`
