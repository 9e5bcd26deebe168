import { counted } from '../../ui/numbers'
import { useMutation, useQuery, useSuspenseQuery } from '@tanstack/react-query'
import { useReducer, useState } from 'react'
import { Link, useNavigate } from 'react-router'
import styled from 'styled-components'
import type { Schemas } from '../../api/client'
import { Strip } from '../../plot/Strip'
import type { Pegs } from '../../plot/types'
import { factsQuery, useCircuit, usePegValues, useTrace, type Circuit } from '../../shared/facts'
import { ImportFile } from '../../shared/ImportFile'
import { Button } from '../../ui/Button'
import { Choice, Fields, Text } from '../../ui/fields'
import { Note, Page, PageHead, Panel, Row, Stack, Two } from '../../ui/layout'
import { createReference, EMPTY_DOCUMENT } from '../../shared/references'
import { ScopeForm } from '../../shared/ScopeForm'
import { makerFactsQuery, recordOnTrainer, sameQuery } from './queries'
import { cylindersOf, oddOne, orderFor, planFor, planned, sweeps } from './trainerPlan'

/** From a file or the trainer to a draft on the shelf. */
export function NewReferencePage() {
  const { data: facts } = useSuspenseQuery(factsQuery)
  const [code, setCode] = useState(facts.circuits[0]?.code ?? '')
  const circuit = useCircuit(code)
  const [capture, setCapture] = useState<Schemas['CaptureOut'] | null>(null)
  const [title, setTitle] = useState('')
  /** What was told of the engine when it was recorded, and belongs to the reference. */
  const [options, setOptions] = useState<Record<string, string>>({})
  const go = useNavigate()
  const make = useMutation({
    mutationFn: (captureId: number) =>
      createReference({
        capture_id: captureId,
        title,
        document: { ...EMPTY_DOCUMENT, options },
        word: false,
      }),
    onSuccess: (made) => void go(`/shelf/${made.id}`),
  })
  return (
    <Page>
      <PageHead
        title="New reference"
        about={
          capture
            ? `${capture.title}, ${counted(capture.samples)} samples`
            : 'from a capture file or the trainer'
        }
      >
        <Choice
          hidden
          label="Circuit"
          value={code}
          onChange={setCode}
          options={facts.circuits.map((c) => ({ key: c.code, text: c.title }))}
        />
      </PageHead>
      {!capture ? (
        <Two $left={1.6}>
          <Panel>
            <h2>From a file</h2>
            <ImportFile
              circuit={circuit}
              onImported={(c) => {
                setCapture(c)
                setTitle(`${circuit.title}, `)
              }}
            />
          </Panel>
          <Stack>
            <Panel>
              <h2>From the trainer</h2>
              <TrainerForm
                key={code}
                circuit={circuit}
                onRecorded={(c, told) => {
                  setCapture(c)
                  setOptions(told)
                  setTitle(`${circuit.title}, trainer`)
                }}
              />
            </Panel>
            <Panel>
              <h2>From a scope on this machine</h2>
              <ScopeForm
                circuit={circuit}
                onRecorded={(c) => {
                  setCapture(c)
                  setOptions({})
                  setTitle(`${circuit.title}, `)
                }}
              />
            </Panel>
          </Stack>
        </Two>
      ) : (
        <Stack>
          <Look capture={capture} />
          <Same captureId={capture.id} />
          {capture.notes.length > 0 && <Note kind="warn">{capture.notes.join('; ')}</Note>}
          <Panel>
            <Row>
              <Wide>
                <Text label="Title on the shelf" value={title} onChange={setTitle} />
              </Wide>
              <Button
                $main
                isDisabled={!title.trim() || make.isPending}
                onPress={() => make.mutate(capture.id)}
              >
                Keep as draft
              </Button>
              <Button
                onPress={() => {
                  setCapture(null)
                  setOptions({})
                }}
              >
                Another capture
              </Button>
            </Row>
            {make.error && <Note kind="error">{make.error.message}</Note>}
          </Panel>
        </Stack>
      )}
    </Page>
  )
}

/** The same samples stand on the shelf already: said before they do so twice. */
function Same({ captureId }: { captureId: number }) {
  const { data = [] } = useQuery(sameQuery(captureId))
  if (data.length === 0) return null
  return (
    <Note kind="warn">
      The same capture stands on the shelf already:{' '}
      {data.map((r, k) => (
        <span key={r.id}>
          {k > 0 && ', '}
          <Link to={`/shelf/${r.id}`}>{r.title}</Link>
        </span>
      ))}
      .
    </Note>
  )
}

function Look({ capture }: { capture: Schemas['CaptureOut'] }) {
  const trace = useTrace(capture.id, capture.circuit)
  const [pegs, setPegs] = useState<Pegs>([null, null])
  const values = usePegValues(capture.id, pegs)
  return <Tall>{trace && <Strip {...trace} pegs={pegs} onPegs={setPegs} values={values} />}</Tall>
}

interface TrainerProps {
  circuit: Circuit
  onRecorded: (capture: Schemas['CaptureOut'], options: Record<string, string>) => void
}

function TrainerForm({ circuit, onRecorded }: TrainerProps) {
  const { data } = useSuspenseQuery(makerFactsQuery)
  const { data: facts } = useSuspenseQuery(factsQuery)
  const { trainer } = circuit
  const [plan, change] = useReducer(planned, trainer, planFor)
  const cylinders = cylindersOf(plan.order)
  const sweeping = sweeps(plan, trainer)
  const record = useMutation({
    mutationFn: () => recordOnTrainer(orderFor(plan, circuit)),
    onSuccess: (made) => {
      const told: Record<string, string> = plan.order ? { firing_order: plan.order } : {}
      onRecorded(made, told)
    },
  })
  const one = (key: string, unit: string) => ({ key, text: `${key} ${unit}` })
  return (
    <Stack>
      <Fields>
        <Choice
          label="Part"
          value={plan.fault}
          onChange={(fault) => change({ fault })}
          options={data.faults
            .filter((f) => f.circuit === circuit.code)
            .map((f) => ({ key: f.key, text: f.title }))}
        />
        {trainer.layouts.length > 0 && (
          <Choice
            label="Engine"
            value={plan.layout}
            onChange={(layout) => change({ layout })}
            options={trainer.layouts.map((l) => ({ key: l.key, text: l.title }))}
          />
        )}
        <Choice
          label="Samples a second"
          value={plan.rate}
          onChange={(rate) => change({ rate })}
          options={facts.trainer.rates_hz.filter((r) => r >= 100).map((r) => one(String(r), ''))}
        />
        {trainer.rows.length > 0 && (
          <>
            <Choice
              label="Cylinders"
              value={plan.order}
              onChange={(order) => change({ order })}
              options={trainer.rows}
            />
            {plan.fault !== 'none' && (
              <Choice
                label="Cylinder that has it"
                value={oddOne(plan)}
                onChange={(cylinder) => change({ cylinder })}
                options={cylinders.map((c) => one(String(c), ''))}
              />
            )}
          </>
        )}
        <Choice
          label="What is done"
          value={plan.manoeuvre}
          onChange={(manoeuvre) => change({ manoeuvre })}
          options={trainer.manoeuvres.map((m) => ({ key: m.key, text: m.title }))}
        />
        {sweeping && (
          <Choice
            label="Each way"
            value={plan.way}
            onChange={(way) => change({ way })}
            options={['1', '3', '4.5', '6', '8'].map((s) => one(s, 's'))}
          />
        )}
      </Fields>
      {record.error && <Note kind="error">{record.error.message}</Note>}
      <Row>
        <Button $main isDisabled={record.isPending} onPress={() => record.mutate()}>
          {record.isPending ? 'Recording…' : sweeping ? 'Record two sweeps' : 'Record'}
        </Button>
      </Row>
    </Stack>
  )
}
const Tall = styled.div`
  height: 520px;
`
const Wide = styled.div`
  flex: 1;
  min-width: 260px;
`
