import { useSuspenseQuery } from '@tanstack/react-query'
import { Tick, ticked } from '../../ui/Tick'
import { useEffect, useRef, type ReactNode } from 'react'
import styled from 'styled-components'
import { factsQuery } from '../../shared/facts'
import { ImportFile } from '../../shared/ImportFile'
import { ScopeForm } from '../../shared/ScopeForm'
import { Button } from '../../ui/Button'
import { Fold } from '../../ui/Fold'
import { Muted, Note, Panel, Row, Stack } from '../../ui/layout'
import { CallStep } from './CallStep'
import { CompareStep } from './CompareStep'
import {
  ConnectStep,
  ExplainStep,
  NameStep,
  RecordStep,
  SetUpStep,
  SpotStep,
  WorkOutStep,
} from './FurtherSteps'
import { takeCapture, takeHint, type Sitting } from './queries'
import { ReadingStep } from './ReadingStep'
import type { StepProps } from './StepProps'
import { TrainerPanel } from './trainer/TrainerPanel'
import type { Run } from './trainer/useRun'

interface Props extends StepProps {
  busy: boolean
  /** What went wrong when a capture was last taken. */
  problem: string | null
  caution: ReactNode
  run: Run
  onWork: (work: Promise<Sitting>) => void
  onBack: (() => void) | null
  onNext: (() => void) | null
  onHandIn: () => void
}

/** The question of one step, with its controls. */
export function StepPanel(props: Props) {
  const { step, onBack, onNext, onHandIn, problem } = props
  return (
    <Whole>
      <Stack $gap={8}>
        {step.locked ? <Note>This step opens once an earlier one is answered.</Note> : <Body {...props} />}
        {!step.locked && step.has_hint && <Hint {...props} />}
        {problem && <Problem key={problem} text={problem} />}
      </Stack>
      <Foot>
        <Button $touch isDisabled={!onBack} onPress={() => onBack?.()}>
          Back
        </Button>
        {props.caution}
        <Button $touch $main onPress={onNext ?? onHandIn}>
          {onNext ? 'Next step' : 'Hand in'}
        </Button>
      </Foot>
    </Whole>
  )
}

/** A hint costs part of the step's points, and says so before it is taken. */
function Hint({ sitting, step, onWork }: Props) {
  if (step.hint) return <Note>Hint: {step.hint}</Note>
  return (
    <Row>
      <Button $touch $quiet onPress={() => onWork(takeHint(sitting.id, step.id ?? ''))}>
        Take a hint: it costs part of this step’s points
      </Button>
    </Row>
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
  const given = sitting.card.source.kind === 'shelf'
  switch (step.kind) {
    case 'cautions':
      return <Cautions {...props} />
    case 'capture':
      return (
        <>
          <h2>{step.prompt || (given ? 'Look at the trace' : 'Take the capture')}</h2>
          {sitting.capture_id !== null && !props.run.watching && !given && <Schools sitting={sitting} />}
          {given ? (
            <p>The trace is given: look at the whole of it, then at each of its lanes, before you read.</p>
          ) : sitting.card.source.kind === 'trainer' ? (
            <TrainerPanel {...{ sitting, circuit, busy, onWork }} run={props.run} />
          ) : (
            <>
              <GroundPoint {...props} />
              <Away away={sitting.capture_id !== null} title="Bring another file">
                <ImportFile
                  circuit={circuit}
                  key={sitting.capture_id}
                  onImported={(c) => onWork(takeCapture(sitting.id, c.id))}
                />
                <Fold title="From a scope of the workshop">
                  <ScopeForm circuit={circuit} onRecorded={(c) => onWork(takeCapture(sitting.id, c.id))} />
                </Fold>
              </Away>
            </>
          )}
        </>
      )
    case 'reading':
      return <ReadingStep {...props} />
    case 'compare':
      return <CompareStep {...props} />
    case 'call':
      return <CallStep {...props} />
    case 'connect':
      return <ConnectStep {...props} />
    case 'set_up':
      return <SetUpStep {...props} />
    case 'work_out':
      return <WorkOutStep {...props} />
    case 'name':
      return <NameStep {...props} />
    case 'spot':
      return <SpotStep {...props} />
    case 'record':
      return <RecordStep {...props} />
    case 'explain':
      return <ExplainStep {...props} />
  }
}

/** Once there is a trace, what took it folds away: the trace is the largest thing. */
function Away({ away, title, children }: { away: boolean; title: string; children: ReactNode }) {
  return away ? <Fold title={title}>{children}</Fold> : children
}

/** How this card wants it done, where practitioners differ. */
function Schools({ sitting }: { sitting: Sitting }) {
  return (
    <Muted>
      {sitting.card.schools.map((s) => (
        <span key={s.key}>{s.says} </span>
      ))}
    </Muted>
  )
}

/** A scope file does not say where its ground lead was. */
function GroundPoint({ answer, onAnswer }: StepProps) {
  const { data: facts } = useSuspenseQuery(factsQuery)
  return (
    <Row>
      <span id="ground-point">The ground lead was on the</span>
      {facts.trainer.grounds.map((ground) => (
        <Button
          key={ground}
          $touch
          $main={answer.ground === ground}
          aria-pressed={answer.ground === ground}
          onPress={() => onAnswer({ ...answer, ground })}
        >
          {ground}
        </Button>
      ))}
    </Row>
  )
}

function Cautions({ sitting, circuit, answer, onAnswer, step }: StepProps) {
  const read = answer.read ?? []
  const cautions = circuit.cautions.filter((c) => sitting.card.cautions.includes(c.key))
  return (
    <>
      <h2>{step.prompt || 'Read before you begin'}</h2>
      <List>
        {cautions.map((c) => (
          <Tick
            key={c.key}
            on={read.includes(c.key)}
            onSet={(on) => onAnswer({ read: ticked(read, c.key, on) })}
          >
            {c.text}
          </Tick>
        ))}
      </List>
    </>
  )
}

/** The step scrolls where it is long; the way on and the caution, whole, stay below it. */
const Whole = styled(Panel)`
  display: flex;
  flex-direction: column;
  min-height: 0;
  padding: 8px 16px;
  > :first-child {
    min-height: 0;
    overflow: auto;
    /* Room for the ring round what has the focus. */
    padding: 4px;
    margin: -4px;
  }
`

const Foot = styled.div`
  flex: none;
  display: grid;
  grid-template-columns: auto minmax(0, 1fr) auto;
  align-items: center;
  gap: 12px;
  padding-top: 6px;
  @media (max-width: 700px) {
    grid-template-columns: 1fr auto;
    > p {
      grid-column: 1 / -1;
      grid-row: 1;
    }
    > button:first-child {
      justify-self: start;
    }
  }
`

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
