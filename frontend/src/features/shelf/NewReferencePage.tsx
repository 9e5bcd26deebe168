import { useMutation, useQuery, useSuspenseQuery } from '@tanstack/react-query'
import { useState } from 'react'
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
            ? `${capture.title}, ${capture.samples.toLocaleString('en')} samples`
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
  const [fault, setFault] = useState('none')
  const { trainer } = circuit
  const [rate, setRate] = useState(String(trainer.rate_hz))
  const [way, setWay] = useState('6')
  const [manoeuvre, setManoeuvre] = useState(trainer.manoeuvres[0]?.key ?? '')
  const [layout, setLayout] = useState(trainer.layouts[0]?.key ?? '')
  const done = trainer.manoeuvres.find((m) => m.key === manoeuvre)
  const sweeps = done?.sweeps ?? false
  const [order, setOrder] = useState(trainer.rows[1]?.key ?? '')
  const [cylinder, setCylinder] = useState('3')
  const cylinders = order
    .split('-')
    .map(Number)
    .sort((a, b) => a - b)
  const odd = cylinders.includes(Number(cylinder)) ? cylinder : '1'
  const record = useMutation({
    mutationFn: () =>
      recordOnTrainer({
        circuit: circuit.code,
        range_v: trainer.range_v,
        duration_s: sweeps ? 2 * (2 * Number(way) + 2) + 6 : (done?.duration_s ?? 20),
        bits: 12,
        manoeuvre,
        rate_hz: Number(rate),
        ground: 'sensor ground',
        sweeps: 2,
        way_s: Number(way),
        hold_s: 0.8,
        movement: null,
        probe_factor: 1,
        probe_reversed: false,
        probe_zeroed: true,
        probe_scaled: true,
        layout,
        firing_order: order,
        cylinder: Number(odd),
        coupling: 'dc',
        bandwidth_hz: null,
        peak_capture: false,
        trigger: null,
        fault,
        severity: 1,
      }),
    onSuccess: (made) => {
      const told: Record<string, string> = order ? { firing_order: order } : {}
      onRecorded(made, told)
    },
  })
  const one = (key: string, unit: string) => ({ key, text: `${key} ${unit}` })
  return (
    <Stack>
      <Fields>
        <Choice
          label="Part"
          value={fault}
          onChange={setFault}
          options={data.faults
            .filter((f) => f.circuit === circuit.code)
            .map((f) => ({ key: f.key, text: f.title }))}
        />
        {trainer.layouts.length > 0 && (
          <Choice
            label="Engine"
            value={layout}
            onChange={setLayout}
            options={trainer.layouts.map((l) => ({ key: l.key, text: l.title }))}
          />
        )}
        <Choice
          label="Samples a second"
          value={rate}
          onChange={setRate}
          options={facts.trainer.rates_hz.filter((r) => r >= 100).map((r) => one(String(r), ''))}
        />
        {trainer.rows.length > 0 && (
          <>
            <Choice label="Cylinders" value={order} onChange={setOrder} options={trainer.rows} />
            {fault !== 'none' && (
              <Choice
                label="Cylinder that has it"
                value={odd}
                onChange={setCylinder}
                options={cylinders.map((c) => one(String(c), ''))}
              />
            )}
          </>
        )}
        <Choice
          label="What is done"
          value={manoeuvre}
          onChange={setManoeuvre}
          options={trainer.manoeuvres.map((m) => ({ key: m.key, text: m.title }))}
        />
        {sweeps && (
          <Choice
            label="Each way"
            value={way}
            onChange={setWay}
            options={['1', '3', '4.5', '6', '8'].map((s) => one(s, 's'))}
          />
        )}
      </Fields>
      {record.error && <Note kind="error">{record.error.message}</Note>}
      <Row>
        <Button $main isDisabled={record.isPending} onPress={() => record.mutate()}>
          {record.isPending ? 'Recording…' : sweeps ? 'Record two sweeps' : 'Record'}
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
