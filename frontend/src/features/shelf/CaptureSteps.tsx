import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { useNavigate } from 'react-router'
import styled from 'styled-components'
import type { Pegs } from '../../plot/types'
import type { Circuit } from '../../shared/facts'
import { Button } from '../../ui/Button'
import { Choice, Fields, Text } from '../../ui/fields'
import { Muted, Note, Row, Stack } from '../../ui/layout'
import { setSteps, splitOff, type Reference, type Step, type StepKind } from './queries'
import { typedNumber } from '../../ui/numbers'

const KINDS: { key: StepKind; text: string; lane: boolean; pegs: boolean; number: string }[] = [
  { key: 'crop', text: 'Crop to the pegs', lane: false, pegs: true, number: '' },
  { key: 'zero', text: 'Zero between the pegs', lane: true, pegs: true, number: '' },
  { key: 'invert', text: 'Invert', lane: true, pegs: false, number: '' },
  { key: 'rescale', text: 'Rescale', lane: true, pegs: false, number: 'Factor' },
  { key: 'shift', text: 'Shift in time', lane: false, pegs: false, number: 'By, seconds' },
  { key: 'low_pass', text: 'Low-pass', lane: true, pegs: false, number: 'Cut-off, hertz' },
]
const FIELD = { rescale: 'factor', shift: 'by', low_pass: 'hz' } as const

interface Props {
  reference: Reference
  circuit: Circuit
  pegs: Pegs
  onTaken: (next: Reference) => void
}

/** What was done to the samples before they were measured; each step can be taken back, the raw ones are kept. */
export function CaptureSteps({ reference, circuit, pegs, onTaken }: Props) {
  const recorded = new Set(reference.answer.capture.lanes.map((l) => l.lane))
  const lanes = circuit.lanes.filter((l) => recorded.has(l.name))
  const [kind, setKind] = useState<StepKind>('crop')
  const [lane, setLane] = useState(lanes[0]?.name ?? '')
  const [text, setText] = useState('')
  const client = useQueryClient()
  const go = useNavigate()
  const change = useMutation({
    mutationFn: (steps: Step[]) => setSteps(reference.id, reference.revision, steps),
    onSuccess: (next) => {
      onTaken(next)
      setText('')
    },
  })
  const split = useMutation({
    mutationFn: ({ from, to }: { from: number; to: number }) => splitOff(reference.id, from, to),
    onSuccess: (made) => {
      void client.invalidateQueries({ queryKey: ['shelf'] })
      void go(`/shelf/${made.id}`)
    },
  })
  // What is sent names the fields of a step and no other.
  const steps: Step[] = reference.steps.map(({ kind, lane, factor, from, to, by, hz }) => ({
    kind,
    ...(lane !== undefined && { lane }),
    ...(factor !== undefined && { factor }),
    ...(from !== undefined && { from }),
    ...(to !== undefined && { to }),
    ...(by !== undefined && { by }),
    ...(hz !== undefined && { hz }),
  }))
  const spec = KINDS.find((k) => k.key === kind)
  const at = pegs.filter((p) => p !== null)
  const span = at.length === 2 ? { from: Math.min(...at), to: Math.max(...at) } : null
  const value = typedNumber(text)
  const usable = (!spec?.pegs || span) && (!spec?.number || (value !== null && Number.isFinite(value)))
  const wanted: Step = {
    kind,
    ...(spec?.lane && { lane }),
    ...(spec?.pegs && span),
    ...(kind in FIELD && value !== null && { [FIELD[kind as keyof typeof FIELD]]: value }),
  }
  const busy = change.isPending || split.isPending
  return (
    <Inside aria-label="Steps">
      <Stack $gap={10}>
        <Muted>
          {steps.length
            ? 'Made from the raw samples in this order. They are kept as they came.'
            : 'The samples are as they came. What is done here can be taken back.'}
        </Muted>
        {reference.steps.map((step, k) => (
          <Row key={k} style={{ flexWrap: 'nowrap' }}>
            <span style={{ flex: 1 }}>
              {k + 1}. {step.words}
            </span>
            <Button
              $quiet
              isDisabled={busy}
              aria-label={`Take back: ${step.words}`}
              onPress={() => change.mutate(steps.filter((_, j) => j !== k))}
            >
              ✕
            </Button>
          </Row>
        ))}
        <Fields $least={150}>
          <Choice
            label="Step"
            value={kind}
            onChange={(key) => setKind(key as StepKind)}
            options={KINDS.map(({ key, text }) => ({ key, text }))}
          />
          {spec?.lane && (
            <Choice
              label="Lane"
              value={lane}
              onChange={setLane}
              options={lanes.map((l) => ({ key: l.name, text: l.title }))}
            />
          )}
          {spec?.number && <Text label={spec.number} value={text} onChange={setText} />}
        </Fields>
        {kind === 'low_pass' && (
          <Note kind="warn">
            A filter smooths what a fault shows. Clean up first: ground, lead, range. Never rely on a filtered
            trace alone.
          </Note>
        )}
        {(change.error ?? split.error) && <Note kind="error">{(change.error ?? split.error)?.message}</Note>}
        <Row>
          <Button isDisabled={!usable || busy} onPress={() => change.mutate([...steps, wanted])}>
            {change.isPending ? 'Measuring again…' : 'Do it'}
          </Button>
          {kind === 'crop' && (
            <Button isDisabled={!span || busy} onPress={() => span && split.mutate(span)}>
              Split it off as a draft
            </Button>
          )}
          {spec?.pegs && !span && <Muted>set both pegs on the trace first</Muted>}
        </Row>
      </Stack>
    </Inside>
  )
}

const Inside = styled.section`
  padding: 12px 14px;
`
