import styled from 'styled-components'
import { said } from '../../shared/answers'
import type { Circuit } from '../../shared/facts'
import { Button } from '../../ui/Button'
import { Note } from '../../ui/layout'
import type { Overwritten } from './overwritten'
import type { Step, StepAnswer } from './queries'

/** What was answered on another device and written over by this one: both are shown, one is chosen. */
export function OtherAnswers({
  others,
  answers,
  steps,
  circuit,
  title,
  onTake,
  onKeep,
}: {
  others: Overwritten
  answers: Record<string, StepAnswer>
  steps: Step[]
  circuit: Circuit
  title: (step: Step) => string
  onTake: (step: string, answer: StepAnswer) => void
  onKeep: (step: string) => void
}) {
  return steps.map((step) => {
    const id = step.id ?? ''
    const other = others[id]
    if (!other) return null
    const unit = circuit.readings.find((r) => r.id === step.reading)?.unit ?? ''
    return (
      <Note kind="error" key={id}>
        <Row>
          <span>
            <b>{title(step)}</b> was answered on another device meanwhile: <b>{said(other, unit, circuit)}</b>
            . What stands is what you typed here: <b>{said(answers[id] ?? {}, unit, circuit)}</b>.
          </span>
          <Button onPress={() => onTake(id, other)}>Take the other</Button>
          <Button onPress={() => onKeep(id)}>Keep mine</Button>
        </Row>
      </Note>
    )
  })
}

const Row = styled.div`
  display: flex;
  align-items: center;
  gap: 10px;
  span {
    flex: 1;
  }
`
