import { fixed } from '../../ui/numbers'
import { Slide } from '../../ui/Slide'
import { useState } from 'react'
import styled from 'styled-components'
import { Button } from '../../ui/Button'
import { Choice, Fields, Labelled } from '../../ui/fields'
import { Muted, Row } from '../../ui/layout'
import type { StepProps } from './StepProps'

const VERDICTS = [
  ['sound', 'Sound'],
  ['faulty', 'Faulty'],
  ['inconclusive', 'Cannot tell yet'],
] as const

/** Pieces of trace that count as evidence. */
const MOST_PIECES = 3

/** What to point at, for the call that is being made. */
const hint = (verdict: string | undefined): string =>
  ({
    sound: 'set pegs round a whole movement, or a few whole events',
    faulty: 'set pegs close round what shows it',
    inconclusive: 'what hides the answer; nothing where something did not happen',
  })[verdict ?? ''] ?? 'set pegs round what shows it'

/** Sound, faulty or cannot tell, with cause, evidence, next test and how sure. */
export function CallStep({ circuit, step, answer, onAnswer, pegs }: StepProps) {
  const set = (change: typeof answer) => onAnswer({ ...answer, ...change })
  const evidence = answer.evidence ?? []
  const stretch = pegs.filter((p) => p !== null).sort((a, b) => a - b)
  const sure = answer.confidence
  return (
    <>
      <h2>{step.prompt || 'Your call'}</h2>
      <Row>
        {VERDICTS.map(([verdict, text]) => (
          <Button
            key={verdict}
            $touch
            $main={answer.verdict === verdict}
            aria-pressed={answer.verdict === verdict}
            onPress={() => set({ verdict })}
          >
            {text}
          </Button>
        ))}
        <Sure>
          How sure?
          <Slide
            label="How sure, in percent"
            value={sure ?? 50}
            most={100}
            step={5}
            onSlide={(confidence) => set({ confidence })}
          />
          <b className="num">{sure === undefined ? '– %' : `${sure} %`}</b>
        </Sure>
      </Row>
      <Fields $least={260}>
        <Choice
          label="Cause"
          value={answer.cause ?? null}
          onChange={(cause) => set({ cause })}
          options={circuit.causes}
        />
        <Choice
          label="What you would do next"
          value={answer.next_test ?? null}
          onChange={(next_test) => set({ next_test })}
          options={circuit.next_tests}
        />
        {step.asks?.includes('otherwise') && (
          <Choice
            label="And if that does not cure it?"
            value={answer.otherwise ?? null}
            onChange={(otherwise) => set({ otherwise })}
            options={circuit.next_tests}
          />
        )}
        <Labelled label="Evidence on the trace">
          <Row $gap={6}>
            <Button
              $touch
              isDisabled={!stretch.length || evidence.length >= MOST_PIECES}
              onPress={() => set({ evidence: [...evidence, stretch] })}
            >
              Add from pegs
            </Button>
            {evidence.map((e, k) => (
              <Button
                key={k}
                aria-label={`Take evidence ${k + 1} away`}
                onPress={() => set({ evidence: evidence.filter((_, j) => j !== k) })}
              >
                {e.map((t) => fixed(t, 2)).join('–')} s ✕
              </Button>
            ))}
            <Muted>
              {evidence.length === 0 ? hint(answer.verdict) : `${evidence.length} of ${MOST_PIECES} pieces`}
            </Muted>
          </Row>
        </Labelled>
        {step.asks?.includes('ruled_out') && (
          <Beside>
            <RuledOut circuit={circuit} answer={answer} stretch={stretch} onChange={set} />
          </Beside>
        )}
      </Fields>
    </>
  )
}

/** Causes that are no part of the vehicle: nobody rules them out. */
const NO_PART = ['none', 'not-shown', 'connection']
const MOST_EXCLUDED = 3

interface RuledOutProps {
  circuit: StepProps['circuit']
  answer: StepProps['answer']
  stretch: number[]
  onChange: (change: StepProps['answer']) => void
}

/** What the trace excludes, each by the stretch between the pegs. */
function RuledOut({ circuit, answer, stretch, onChange }: RuledOutProps) {
  const [cause, setCause] = useState<string | null>(null)
  const ruled = answer.ruled_out ?? []
  const text = (key: string) => circuit.causes.find((c) => c.key === key)?.text ?? key
  return (
    <Labelled label="Ruled out, each by what the trace shows between the pegs">
      <Row $gap={6}>
        <div style={{ width: 280 }}>
          <Choice
            hidden
            label="Cause to rule out"
            placeholder="A cause that it is not"
            value={cause}
            onChange={setCause}
            options={circuit.causes.filter(
              (c) => !NO_PART.includes(c.key) && !ruled.some((r) => r.cause === c.key),
            )}
          />
        </div>
        <Button
          $touch
          isDisabled={!cause || ruled.length >= MOST_EXCLUDED}
          onPress={() => {
            onChange({ ruled_out: [...ruled, { cause: cause ?? '', by: stretch }] })
            setCause(null)
          }}
        >
          Rule it out
        </Button>
        {ruled.map((r) => (
          <Button
            key={r.cause}
            aria-label={`Rule ${text(r.cause)} out no more`}
            onPress={() => onChange({ ruled_out: ruled.filter((other) => other !== r) })}
          >
            {text(r.cause)}
            {r.by?.length ? ` by ${r.by.map((t) => fixed(t, 2)).join('–')} s` : ', nothing chosen'} ✕
          </Button>
        ))}
      </Row>
    </Labelled>
  )
}

/** Takes what is left of the row beside the evidence. */
const Beside = styled.div`
  grid-column: 2 / -1;
  @media (max-width: 700px) {
    grid-column: 1 / -1;
  }
`

const Sure = styled.label`
  display: flex;
  align-items: center;
  gap: 10px;
  margin-left: auto;
  font-size: 14px;
  color: ${(p) => p.theme.colour.muted};
  input {
    width: 180px;
    height: 44px;
    accent-color: ${(p) => p.theme.colour.ink};
  }
  b {
    min-width: 52px;
    color: ${(p) => p.theme.colour.ink};
  }
`
