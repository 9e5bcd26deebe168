import { fixed } from '../../ui/numbers'
import { BASIS, limitText, zoneText } from '../../shared/limits'
import { beside, whose } from '../../shared/steps'
import { Button } from '../../ui/Button'
import { Muted, Row } from '../../ui/layout'
import type { StepProps } from './StepProps'

const STATES = [
  ['inside', 'Inside the limit'],
  ['marginal', 'Marginal'],
  ['outside', 'Outside'],
] as const

const LIKENESSES = [
  ['lower', 'Lower'],
  ['alike', 'Alike'],
  ['higher', 'Higher'],
] as const

const TASKS = {
  limit: 'hold your reading against the limit',
  reference: 'hold your reading beside the reference’s',
  before: 'hold your reading beside that before the repair',
  siblings: 'hold this cylinder beside the others',
}

/** A reading held against a limit, a reference, what was before a repair, or the other cylinders. */
export function CompareStep(props: StepProps) {
  const { sitting, circuit, step, answer, onAnswer, pegs, onLay } = props
  const [peg] = pegs.filter((p) => p !== null)
  const spec = circuit.readings.find((r) => r.id === step.reading)
  const unit = spec?.unit ?? ''
  const name = `reading-${step.reading}${step.cylinder ? `@${step.cylinder}` : ''}`
  const own = sitting.answers[name]?.value
  const choices = beside(step) ? LIKENESSES : STATES
  return (
    <>
      <h2>
        {spec?.title}
        {whose(step) && `, ${whose(step)}`}: {step.prompt || TASKS[step.against ?? 'limit']}
      </h2>
      <p>
        {beside(step) ? (
          <Other {...props} unit={unit} decimals={spec?.decimals ?? 2} />
        ) : (
          <Limits {...props} unit={unit} />
        )}
        {own !== undefined && own !== null ? `You read ${own} ${unit}. ` : ''}
      </p>
      <Row>
        {choices.map(([state, text]) => (
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
        {sitting.beside.some((b) => b.step === step.id) && step.other && (
          <Button
            $touch
            isDisabled={peg === undefined}
            onPress={() => peg !== undefined && onLay(peg - (step.other?.from ?? 0))}
          >
            Lay its reading under your peg
          </Button>
        )}
      </Row>
    </>
  )
}

function Limits({ sitting, step, unit }: StepProps & { unit: string }) {
  // The highest-ranking basis comes first and decides; what stands below it is a note.
  const [limit, ...notes] = sitting.card.limits.filter((l) => l.reading === step.reading)
  return (
    <>
      {limit ? (
        <>
          <b>{limitText(limit, unit)}</b> ({BASIS[limit.basis]}
          {limit.source && `, ${limit.source}`}); {zoneText(limit, unit)}.{' '}
        </>
      ) : (
        'Common practice decides here, by what the capture itself shows. '
      )}
      {notes.map((n) => (
        <Muted key={n.basis}>
          Not deciding: {limitText(n, unit)} ({BASIS[n.basis]}).{' '}
        </Muted>
      ))}
    </>
  )
}

const WHOSE = { reference: 'The reference has', before: 'Before the repair it was' }

function Other({ sitting, step, unit, decimals }: StepProps & { unit: string; decimals: number }) {
  const within = `Alike is within ${step.within_pct ?? 10} %, or what a hand reads by. `
  if (step.against === 'siblings') return <>The middle of the other cylinders is what counts. {within}</>
  const shown = sitting.beside.some((b) => b.step === step.id)
  const value = `${step.other ? fixed(step.other.value, decimals) : ''} ${unit}`
  return (
    <>
      {WHOSE[step.against === 'before' ? 'before' : 'reference']} <b>{value}</b>
      {shown && ', and lies pale beneath your trace'}. {within}
    </>
  )
}
