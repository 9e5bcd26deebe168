import { fixed, roundedTo } from '../../ui/numbers'
import { useState } from 'react'
import styled from 'styled-components'
import type { Pegs, PegValues } from '../../plot/types'
import type { Circuit } from '../../shared/facts'
import { whose } from '../../shared/steps'
import { Button } from '../../ui/Button'
import { factorBetween, quantity, scaled, unitsBeside } from '../../shared/quantity'
import { Muted, Note, Row } from '../../ui/layout'
import type { StepProps } from './StepProps'
import { WorkItOut } from './WorkItOut'

type Spec = Circuit['readings'][number]

/** A value taken from the pegs, or typed, or said not to be there. */
export function ReadingStep({ circuit, step, answer, onAnswer, pegs, values }: StepProps) {
  const spec = circuit.readings.find((r) => r.id === step.reading)
  const [typed, setTyped] = useState<string | null>(null)
  const [unit, setUnit] = useState(spec?.unit ?? '')
  if (!spec) return null
  const taken = fromPegs(spec, pegs, values)
  const kept = answer.value ?? null
  const shown = typed ?? (kept === null ? '' : String(scaled(kept, factorBetween(spec.unit, unit) ?? 1)))
  const take = (text: string, told: string) => {
    const value = quantity(text, told)
    if (text.trim() === '') onAnswer({})
    else if (value !== null)
      onAnswer({ value: scaled(value, factorBetween(told, spec.unit) ?? 1), pegs: setPegs(pegs) })
  }
  const misread = typed !== null && typed.trim() !== '' && quantity(typed, unit) === null
  return (
    <>
      <h2>
        {step.prompt || `${spec.title}: ${spec.definition}`}
        {whose(step) && `, ${whose(step)}`}
      </h2>
      <p>
        <Muted>
          {spec.title}: {spec.definition}. Taken with {spec.taken}.
          {spec.how !== 'number' &&
            ' A number counts whole with its pegs where it was read: tap the trace to set a peg, arrow keys move it.'}
        </Muted>
      </p>
      <Row>
        <Field>
          <input
            className="num"
            aria-label={`${spec.title} in ${spec.unit || 'number'}`}
            inputMode="decimal"
            value={answer.absent && typed === null ? '' : shown}
            placeholder="value"
            aria-invalid={misread}
            onChange={(e) => {
              setTyped(e.target.value)
              take(e.target.value, unit)
            }}
            onBlur={() => !misread && setTyped(null)}
          />
          {unitsBeside(spec.unit).length > 1 ? (
            <select
              aria-label={`Unit of ${spec.title}`}
              value={unit}
              onChange={(e) => {
                setUnit(e.target.value)
                // The figure stays as it was read off; what it means changes with its unit.
                if (kept !== null && !answer.absent) take(shown, e.target.value)
              }}
            >
              {unitsBeside(spec.unit).map((u) => (
                <option key={u}>{u}</option>
              ))}
            </select>
          ) : (
            spec.unit
          )}
        </Field>
        <Button
          $touch
          $main={taken !== null}
          isDisabled={taken === null}
          onPress={() => {
            setTyped(null)
            setUnit(spec.unit)
            if (taken !== null)
              onAnswer({ value: roundedTo(taken, Math.max(spec.decimals, 3)), pegs: setPegs(pegs) })
          }}
        >
          Take from pegs{taken === null ? '' : `: ${fixed(taken, spec.decimals)} ${spec.unit}`}
        </Button>
        <Button
          $touch
          aria-pressed={Boolean(answer.absent)}
          $main={Boolean(answer.absent)}
          onPress={() => onAnswer({ absent: true })}
        >
          There is none here
        </Button>
      </Row>
      {misread && (
        <Note kind="error">
          ‘{typed}’ is not kept: write a number in {unit || 'figures'}
          {unitsBeside(unit).length > 1 && `, or one with its unit, such as 20 ${unitsBeside(unit)[1]}`}.
        </Note>
      )}
      {spec.how === 'number' && (
        <WorkItOut
          unit={spec.unit}
          onTake={(value) => {
            setTyped(null)
            setUnit(spec.unit)
            onAnswer({ value, pegs: setPegs(pegs) })
          }}
        />
      )}
    </>
  )
}

const setPegs = (pegs: Pegs): number[] => pegs.filter((p) => p !== null)

/** What the pegs say of this reading; worked out from the samples, not from rounded figures. */
function fromPegs(spec: Spec, pegs: Pegs, values: PegValues | null): number | null {
  const at = setPegs(pegs)
  if (spec.how === 'number' || !at.length) return null
  const thousand = spec.unit.startsWith('m') && spec.unit !== 'mA' ? 1000 : 1
  if (spec.how === 'span') return at.length === 2 ? Math.abs((at[1] ?? 0) - (at[0] ?? 0)) * thousand : null
  const lane = values?.lanes.find((l) => l.lane === spec.lane) ?? values?.lanes[0]
  if (!lane) return null
  if (spec.how === 'difference')
    return lane.at.length === 2 ? Math.abs((lane.at[1] ?? 0) - (lane.at[0] ?? 0)) * thousand : null
  return (at.length === 2 ? lane.level : (lane.at[0] ?? 0)) * thousand
}

const Field = styled.label`
  display: flex;
  align-items: center;
  gap: 8px;
  min-height: 44px;
  padding: 0 12px;
  border: 1px solid ${(p) => p.theme.colour.edge};
  border-radius: 4px;
  background: ${(p) => p.theme.colour.sunk};
  font-size: 18px;
  input {
    width: 110px;
    border: 0;
    background: none;
    font-size: 18px;
    outline: none;
  }
  select {
    min-height: 44px;
    padding: 0 4px;
    border: 0;
    background: none;
    font: inherit;
    color: inherit;
    cursor: pointer;
  }
  &:focus-within {
    outline: 3px solid ${(p) => p.theme.colour.focus};
  }
`
