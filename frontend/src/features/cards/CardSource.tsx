import { useQuery } from '@tanstack/react-query'
import { Tick } from '../../ui/Tick'
import type { Circuit } from '../../shared/facts'
import { Choice, Fields, Text } from '../../ui/fields'
import { Muted, Panel, Stack } from '../../ui/layout'
import { FOUR } from './fresh'
import { Instead } from './Instead'
import { offeredQuery, type CardDocument, type MakerFacts } from './queries'

interface Props {
  document: CardDocument
  circuit: Circuit
  maker: MakerFacts
  onChange: (change: Partial<CardDocument>) => void
}

/** Where the capture comes from, and the reference that it is held against. */
export function CardSource({ document, circuit, maker, onChange: set }: Props) {
  const { data: references = [] } = useQuery(
    offeredQuery(document.circuit, document.reference_version_id ?? 0),
  )
  const { data: given = [] } = useQuery(offeredQuery(document.circuit, document.source.version_id ?? 0))
  const reference = references.find((r) => r.version_id === document.reference_version_id)
  const order = document.options?.firing_order ?? reference?.options.firing_order ?? ''
  return (
    <Panel>
      <h2>Where the capture comes from</h2>
      <Stack $gap={10}>
        <Fields>
          <Choice
            label="Source"
            value={document.source.kind}
            onChange={(kind) =>
              set({
                ...(kind === 'shelf' && { steps: unprompted(document.steps) }),
                source:
                  kind === 'trainer'
                    ? { kind, fault: 'none', severity: 1, vehicle: '', varied: true }
                    : { kind: kind === 'shelf' ? 'shelf' : 'upload' },
              })
            }
            options={[
              { key: 'upload', text: 'The learner’s own scope file' },
              { key: 'trainer', text: 'The trainer' },
              { key: 'shelf', text: 'Given: one from the shelf' },
            ]}
          />
          {document.source.kind === 'shelf' && (
            <Choice
              label="Capture to read"
              value={document.source.version_id ? String(document.source.version_id) : null}
              onChange={(id) => set({ source: { kind: 'shelf', version_id: Number(id) } })}
              options={given.map((r) => ({
                key: String(r.version_id),
                text: `${r.title}, version ${r.version}`,
              }))}
            />
          )}
          {document.source.kind === 'trainer' && (
            <TrainerPart document={document} circuit={circuit} maker={maker} order={order} onChange={set} />
          )}
        </Fields>
        {document.source.kind === 'trainer' && (
          <Tick
            on={document.source.varied ?? false}
            onSet={(varied) => set({ source: { ...document.source, varied } })}
          >
            Each learner gets a part of their own: levels, severity and cylinder a little apart, so that
            neighbours cannot copy
          </Tick>
        )}
        {document.source.kind === 'trainer' && document.source.varied && (
          <Instead
            source={document.source}
            faults={maker.faults.filter((f) => f.circuit === document.circuit)}
            set={(instead) => set({ source: { ...document.source, instead } })}
          />
        )}
        {document.source.kind === 'shelf' && (
          <Muted>
            Everybody reads the same trace, so nothing is marked for taking it. They see it from the start,
            without its name and without what is known of it.
          </Muted>
        )}
        <Choice
          label="Reference and limits from the shelf"
          value={document.reference_version_id ? String(document.reference_version_id) : null}
          onChange={(id) => set({ reference_version_id: Number(id), limits: [], options: {} })}
          options={references.map((r) => ({
            key: String(r.version_id),
            text: `${r.title}, version ${r.version}`,
          }))}
        />
        {document.reference_version_id && (
          <Choice
            label="The learner’s part against the reference’s"
            value={document.options?.design ?? 'same'}
            onChange={(design) => set({ options: { ...document.options, design } })}
            options={[
              { key: 'same', text: 'Of the same design: its levels carry over' },
              { key: 'other', text: 'Of another design: its shape only' },
            ]}
          />
        )}
        <Muted>
          The deciding limits of that version go onto the card, with their marginal zones; the learner’s trace
          is laid over it when you mark.
        </Muted>
      </Stack>
    </Panel>
  )
}

/** What the trainer has for a part: fault, engine, cylinders. */
function TrainerPart({ document, circuit, maker, order, onChange: set }: Props & { order: string }) {
  const { layouts, rows } = circuit.trainer
  return (
    <>
      <Choice
        label="Part (the learner never sees this)"
        value={document.source.fault ?? 'none'}
        onChange={(fault) => set({ source: { ...document.source, fault } })}
        options={maker.faults
          .filter((f) => f.circuit === document.circuit)
          .map((f) => ({ key: f.key, text: f.title }))}
      />
      {layouts.length > 0 && (
        <Choice
          label="Engine"
          value={document.source.layout || (layouts[0]?.key ?? '')}
          onChange={(layout) => set({ source: { ...document.source, layout } })}
          options={layouts.map((l) => ({ key: l.key, text: l.title }))}
        />
      )}
      {rows.length > 0 && (
        <>
          {!document.reference_version_id && (
            <Choice
              label="Cylinders"
              value={order || FOUR}
              onChange={(firing_order) => set({ options: { firing_order } })}
              options={rows}
            />
          )}
          {(document.source.fault ?? 'none') !== 'none' && (
            <Choice
              label="Cylinder that has it"
              value={String(document.source.cylinder ?? 3)}
              onChange={(c) => set({ source: { ...document.source, cylinder: Number(c) } })}
              options={(order || FOUR)
                .split('-')
                .sort((a, b) => Number(a) - Number(b))
                .map((c) => ({ key: c, text: c }))}
            />
          )}
        </>
      )}
      <Text
        label="Vehicle named on the card"
        value={document.source.vehicle ?? ''}
        onChange={(vehicle) => set({ source: { ...document.source, vehicle } })}
      />
    </>
  )
}

/** What is given needs no setting up: the prompt of its taking goes. */
const unprompted = (steps: CardDocument['steps']): CardDocument['steps'] =>
  steps.map((s) => (s.kind === 'capture' ? { ...s, prompt: '' } : s))
