import { useEffect, useRef } from 'react'
import styled from 'styled-components'
import type { Pegs, PegValues } from '../../plot/types'
import type { Circuit } from '../../shared/facts'
import { ImportFile } from '../../shared/ImportFile'
import { Button } from '../../ui/Button'
import { Muted, Note, Panel, Row, Stack } from '../../ui/layout'
import { CallStep } from './CallStep'
import { takeCapture, recordOnTrainer, type Sitting, type Step, type StepAnswer } from './queries'
import { ReadingStep } from './ReadingStep'
import { TrainerPanel } from './TrainerPanel'

export interface StepProps {
  sitting: Sitting
  circuit: Circuit
  step: Step
  answer: StepAnswer
  onAnswer: (answer: StepAnswer) => void
  pegs: Pegs
  values: PegValues | null
}

interface Props extends StepProps {
  busy: boolean
  /** What went wrong when a capture was last taken. */
  problem: string | null
  onWork: (work: Promise<Sitting>) => void
  onBack: (() => void) | null
  onNext: (() => void) | null
  onHandIn: () => void
}

/** The question of one step, with its controls. */
export function StepPanel(props: Props) {
  const { step, onBack, onNext, onHandIn, problem } = props
  return (
    <Panel>
      <Stack $gap={10}>
        <Body {...props} />
        {problem && <Problem key={problem} text={problem} />}
        <Row style={{ justifyContent: 'space-between' }}>
          <Button $touch isDisabled={!onBack} onPress={() => onBack?.()}>
            Back
          </Button>
          {step.kind === 'reading' && (
            <Muted>Tap the trace to set a peg; arrow keys move it sample by sample.</Muted>
          )}
          <Button $touch $main onPress={onNext ?? onHandIn}>
            {onNext ? 'Next step' : 'Hand in'}
          </Button>
        </Row>
      </Stack>
    </Panel>
  )
}

/** Comes into sight by itself, however far down the panel it stands. */
function Problem({ text }: { text: string }) {
  const place = useRef<HTMLDivElement>(null)
  useEffect(() => {
    void place.current?.scrollIntoView({ block: 'nearest' })
  }, [])
  return (
    <div ref={place}>
      <Note kind="error">{text}</Note>
    </div>
  )
}

function Body(props: Props) {
  const { step, sitting, circuit, busy, onWork } = props
  switch (step.kind) {
    case 'cautions':
      return <Cautions {...props} />
    case 'capture':
      return (
        <>
          <h2>{step.prompt || 'Take the capture'}</h2>
          {sitting.card.source.kind === 'trainer' ? (
            <TrainerPanel
              circuit={circuit}
              busy={busy}
              again={sitting.capture_id !== null}
              onRecord={(settings) => onWork(recordOnTrainer(sitting.id, settings))}
            />
          ) : (
            <ImportFile
              circuit={circuit}
              key={sitting.capture_id}
              onImported={(c) => onWork(takeCapture(sitting.id, c.id))}
            />
          )}
        </>
      )
    case 'reading':
      return <ReadingStep {...props} />
    case 'compare':
      return <Compare {...props} />
    case 'call':
      return <CallStep {...props} />
  }
}

function Cautions({ circuit, answer, onAnswer, step }: StepProps) {
  const read = answer.read ?? []
  return (
    <>
      <h2>{step.prompt || 'Read before you begin'}</h2>
      <List>
        {circuit.cautions.map((c) => (
          <label key={c.key}>
            <input
              type="checkbox"
              checked={read.includes(c.key)}
              onChange={(e) =>
                onAnswer({ read: e.target.checked ? [...read, c.key] : read.filter((k) => k !== c.key) })
              }
            />
            {c.text}
          </label>
        ))}
      </List>
    </>
  )
}

const STATES = [
  ['inside', 'Inside the limit'],
  ['marginal', 'Marginal'],
  ['outside', 'Outside'],
] as const

function Compare({ sitting, circuit, step, answer, onAnswer }: StepProps) {
  const spec = circuit.readings.find((r) => r.id === step.reading)
  const limit = sitting.card.limits.find((l) => l.reading === step.reading)
  const own = sitting.answers[`reading-${step.reading}`]
  const bounds = !limit
    ? 'No limit stands on this card.'
    : `Limit (${limit.basis.replace('-', ' ')}): ${limit.low === null ? '' : `at least ${limit.low} ${spec?.unit}`}${limit.low !== null && limit.high !== null ? ', ' : ''}${limit.high === null ? '' : `at most ${limit.high} ${spec?.unit}`}.`
  return (
    <>
      <h2>
        {spec?.title}: {step.prompt || 'hold your reading against the limit'}
      </h2>
      <p>
        {bounds}{' '}
        {own?.value !== undefined && own.value !== null ? `You read ${own.value} ${spec?.unit}.` : ''}{' '}
        <Muted>Marginal begins at the limit and reaches outward by 5 %.</Muted>
      </p>
      <Row>
        {STATES.map(([state, text]) => (
          <Button
            key={state}
            $touch
            $main={answer.state === state}
            aria-pressed={answer.state === state}
            onPress={() => onAnswer({ state })}
          >
            {text}
          </Button>
        ))}
      </Row>
    </>
  )
}

const List = styled.div`
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(320px, 1fr));
  gap: 4px 18px;
  label {
    display: grid;
    grid-template-columns: 30px 1fr;
    align-items: center;
    min-height: 44px;
    cursor: pointer;
    font-size: 14.5px;
    line-height: 1.35;
  }
  input {
    width: 20px;
    height: 20px;
  }
`
