import { fixed, typedNumber } from '../../ui/numbers'
import { useMutation, useQuery, useQueryClient, useSuspenseQuery } from '@tanstack/react-query'
import { Suspense, useMemo, useReducer, useState } from 'react'
import { useParams } from 'react-router'
import type { ParadeCourse } from '../../plot/Parade'
import { EventParade } from '../../shared/EventParade'
import type { LimitLine } from '../../plot/LimitLines'
import { Strip } from '../../plot/Strip'
import type { Ghost, Pegs } from '../../plot/types'
import { marksOf, useCircuit, usePegValues, useTrace, type Circuit } from '../../shared/facts'
import { useMeterBeside } from '../../shared/meter'
import { actionMarks, besideCapture } from '../../shared/records'
import { FIRST, shiftBy } from '../../shared/alignment'
import { corridorOf } from '../../shared/results'
import { Note, Page, TraceAndSide } from '../../ui/layout'
import {
  compareQuery,
  corridorQuery,
  paradeQuery,
  referenceQuery,
  saveReference,
  type Reference,
  type ReferenceDocument,
} from './queries'
import { useShortcuts } from '../../ui/shortcuts'
import type { LimitDraft } from './limitDraft'
import { SecondLook } from './SecondLook'
import { VersionChanges } from './VersionChanges'
import { SheetFoot } from './SheetFoot'
import { SheetHead } from './SheetHead'
import { SheetSide } from './SheetSide'
import { acted, opened } from './sheetState'
import { tagMarks, toldPhases } from './told'

export function ReferencePage() {
  const { id } = useParams()
  const { data } = useSuspenseQuery(referenceQuery(Number(id)))
  return <Sheet key={data.id} reference={data} />
}

const NO_ANSWERS = {}

/** One reference: strip, readings, tags, limits, provenance, versions. Each change is saved at once. */
function Sheet({ reference }: { reference: Reference }) {
  const circuit = useCircuit(reference.circuit)
  const { data: records } = useSuspenseQuery(besideCapture(reference.raw_id).query)
  const trace = useMeterBeside(useTrace(reference.capture_id, reference.circuit), NO_ANSWERS, records)
  const [pegs, setPegs] = useState<Pegs>([null, null])
  const values = usePegValues(reference.capture_id, pegs)
  const [state, act] = useReducer(acted, circuit.readings[0]?.id ?? '', opened)
  const { selected, laidOver, event, tab, begin, limit } = state
  const client = useQueryClient()
  const take = (next: Reference) => {
    client.setQueryData(referenceQuery(reference.id).queryKey, next)
    void client.invalidateQueries({ queryKey: ['shelf'] })
  }
  const save = useMutation({
    mutationFn: (change: { title?: string; document?: ReferenceDocument }) =>
      saveReference(reference.id, {
        revision: reference.revision,
        title: change.title ?? reference.title,
        document: change.document ?? reference.document,
      }),
    onSuccess: take,
  })
  const onKeyDown = useShortcuts(
    reference.may_change
      ? {
          t: () => act({ type: 'tagBegun' }),
          l: () => act({ type: 'turnedTo', tab: 'limits' }),
          p: () => act({ type: 'turnedTo', tab: 'phases' }),
        }
      : {},
  )
  const select = (id: string | null) => act({ type: 'selected', id })
  const setLimit = (draft: LimitDraft) => act({ type: 'limitTyped', draft })
  const putRight = (index: number, from: number, to: number) => {
    const phases = toldPhases(reference.answer.phases, reference.document.phases, index, { from, to })
    if (phases) save.mutate({ document: { ...reference.document, phases } })
  }
  const actions = actionMarks(records)
  const beside = usePair(reference)
  const { data: corridor } = useQuery({
    ...corridorQuery(reference.id, reference.revision),
    enabled: tab === 'shape',
  })
  return (
    <Page>
      <SheetHead
        reference={reference}
        state={state}
        act={act}
        onTitle={(title) => save.mutate({ title })}
        onTaken={take}
      />
      {save.error && <Note kind="error">{save.error.message}</Note>}
      <SecondLook reference={reference} onTaken={take} />
      <TraceAndSide $side={400} $below={196} onKeyDown={onKeyDown}>
        {laidOver ? (
          <Suspense fallback={<div />}>
            <Events
              reference={reference}
              circuit={circuit}
              onShow={(course, lane) => act({ type: 'eventShown', course, lane })}
            />
          </Suspense>
        ) : trace ? (
          <Strip
            key={reference.capture_id}
            {...trace}
            phases={reference.answer.phases}
            marks={[
              ...marksOf(reference.answer, circuit),
              ...tagMarks(reference.document.tags),
              ...actions,
              ...(event ? [event] : []),
            ]}
            selected={selected}
            onSelect={select}
            pegs={pegs}
            onPegs={setPegs}
            values={values}
            corridor={tab === 'shape' ? corridorOf(corridor) : null}
            beside={beside}
            limits={tab === 'limits' ? limitLines(limit, setLimit, circuit, reference) : []}
            {...(reference.may_change && { onPhase: putRight })}
          />
        ) : (
          <div />
        )}
        <SheetSide
          reference={reference}
          circuit={circuit}
          pegs={pegs}
          selected={selected}
          onSelect={select}
          onSave={(document) => save.mutate({ document })}
          saving={save.isPending}
          tab={tab}
          onTab={(next) => act({ type: 'turnedTo', tab: next })}
          begin={begin}
          onTaken={(next) => {
            setPegs([null, null])
            take(next)
          }}
          limit={limit}
          onLimit={setLimit}
        />
      </TraceAndSide>
      <SheetFoot reference={reference} circuit={circuit} onTaken={take} />
      <VersionChanges reference={reference} />
    </Page>
  )
}

/** The other half of a pair, drawn along this one from the first phase that both have. */
function usePair(reference: Reference): Ghost[] {
  const { pair } = reference
  const ids = pair ? `${reference.id},${pair.id}` : ''
  const { data } = useQuery({ ...compareQuery(ids), enabled: pair !== null })
  const other = data?.references[1]
  const trace = useTrace(other?.capture_id ?? null, reference.circuit)
  return useMemo(
    () =>
      trace && other && pair
        ? [
            {
              ...trace,
              shiftS: shiftBy(
                FIRST,
                { phases: reference.answer.phases, startS: 0 },
                { phases: other.phases, startS: 0 },
              ),
              label: `${other.title}, ${pair.words}`,
              nth: 0,
            },
          ]
        : [],
    [trace, other, pair, reference.answer.phases],
  )
}

/** The limit that is being set, to be dragged on its lane, and those that stand, where the reading is a level. */
function limitLines(
  draft: LimitDraft,
  onDraft: (draft: LimitDraft) => void,
  circuit: Circuit,
  reference: Reference,
): LimitLine[] {
  const spec = circuit.readings.find((r) => r.id === draft.reading)
  const lane = circuit.lanes.find((l) => l.name === spec?.lane)
  if (!spec || spec.how !== 'level' || spec.unit !== lane?.unit) return []
  const standing = reference.answer.limits.find((l) => l.reading === spec.id && l.decides)
  return (['low', 'high'] as const).flatMap((side): LimitLine[] => {
    const typed = typedNumber(draft[side])
    const value = typed ?? standing?.[side] ?? null
    if (value === null || !Number.isFinite(value)) return []
    const short = `${side === 'low' ? 'least' : 'most'} ${fixed(value, spec.decimals)} ${spec.unit}`
    const label = `${spec.title}, ${short}`
    const onMove = (to: number) => onDraft({ ...draft, [side]: fixed(to, spec.decimals) })
    return [{ lane: lane.name, label, short, side, value, ...(reference.may_change && { onMove }) }]
  })
}

/** The events of the capture over each other, with its odd one in front. */
function Events({
  reference,
  circuit,
  onShow,
}: {
  reference: Reference
  circuit: Circuit
  onShow: (course: ParadeCourse, lane: string) => void
}) {
  const { data } = useSuspenseQuery(paradeQuery(reference.id, reference.revision))
  return (
    <EventParade
      data={data}
      circuit={circuit}
      findings={reference.answer.findings}
      ordered={Boolean(reference.document.options.firing_order)}
      onShow={onShow}
    />
  )
}
