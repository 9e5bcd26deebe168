import { useState } from 'react'

import { Button } from '../../../ui/Button'
import { Row } from '../../../ui/layout'

import { recordOnTrainer } from '../queries'
import { ByHand } from './ByHand'
import { SetManoeuvre } from './SetManoeuvre'
import type { TrainerProps } from './TrainerProps'

/** The trainer: it drives a manoeuvre while the scope records, or the learner's hands do while the scope runs. */
export function TrainerPanel({ sitting, circuit, busy, run, onWork }: TrainerProps) {
  // A run that goes on is what one comes back to.
  const [chosen, setByHand] = useState<boolean | null>(null)
  const byHand = chosen ?? run.state !== null
  const ways = [
    { hand: false, text: 'A set manoeuvre' },
    { hand: true, text: 'With your own hands, live' },
  ]
  return (
    <>
      {!(byHand && run.state) && (
        <Row role="group" aria-label="How the trainer is driven">
          {ways.map(({ hand, text }) => (
            <Button
              key={text}
              $touch
              $main={byHand === hand}
              aria-pressed={byHand === hand}
              onPress={() => {
                run.pause()
                setByHand(hand)
              }}
            >
              {text}
            </Button>
          ))}
        </Row>
      )}
      {byHand ? (
        <ByHand
          {...{ sitting, circuit, busy, run, onWork }}
          onLeave={() => {
            run.pause()
            setByHand(false)
          }}
        />
      ) : (
        <SetManoeuvre
          circuit={circuit}
          busy={busy}
          again={sitting.capture_id !== null}
          onRecord={(settings) => onWork(recordOnTrainer(sitting.id, settings))}
        />
      )}
    </>
  )
}
