import { useMutation, useQuery, useQueryClient, useSuspenseQuery } from '@tanstack/react-query'
import { Suspense, useMemo, useState } from 'react'
import { useNavigate, useParams } from 'react-router'
import styled from 'styled-components'
import type { ParadeCourse } from '../../plot/Parade'
import { EventParade } from '../../shared/EventParade'
import type { LimitLine } from '../../plot/LimitLines'
import { Strip } from '../../plot/Strip'
import type { Ghost, Pegs, StripMark } from '../../plot/types'
import { marksOf, useCircuit, usePegValues, useTrace, type Circuit } from '../../shared/facts'
import { useMeterBeside } from '../../shared/meter'
import { actionMarks, besideCapture } from '../../shared/records'
import { FIRST, shiftBy } from '../../shared/alignment'
import { corridorOf } from '../../shared/results'
import { Button } from '../../ui/Button'
import { Text } from '../../ui/fields'
import { Note, Page, PageHead, TraceAndSide } from '../../ui/layout'
import { Stage } from '../../ui/marks'
import { dayText } from '../../ui/time'
import {
  compareQuery,
  copyReference,
  corridorQuery,
  paradeQuery,
  publishReference,
  referenceQuery,
  retireReference,
  saveReference,
  type Reference,
  type ReferenceDocument,
} from './queries'
import { useShortcuts } from '../../ui/shortcuts'
import { Exports } from './Exports'
import { emptyLimit, typedNumber, type LimitDraft } from './ReferenceEditor'
import { SecondLook } from './SecondLook'
import { ReferenceReach } from './ReferenceReach'
import { VersionChanges } from './VersionChanges'
import { SheetSide, type SideTab } from './SheetSide'

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
  const [selected, setSelected] = useState<string | null>(null)
  const [laidOver, setLaidOver] = useState(false)
  const [event, setEvent] = useState<StripMark | null>(null)
  const [title, setTitle] = useState<string | null>(null)
  const [tab, setTab] = useState<SideTab>('readings')
  const [begin, setBegin] = useState(0)
  const [limit, setLimit] = useState(() => emptyLimit(circuit.readings[0]?.id ?? ''))
  const client = useQueryClient()
  const go = useNavigate()
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
  const publish = useMutation({ mutationFn: () => publishReference(reference.id), onSuccess: take })
  const retire = useMutation({ mutationFn: () => retireReference(reference.id), onSuccess: take })
  const copy = useMutation({
    mutationFn: () => copyReference(reference.id),
    onSuccess: (made) => {
      void client.invalidateQueries({ queryKey: ['shelf'] })
      void go(`/shelf/${made.id}`)
    },
  })
  const error = save.error ?? publish.error ?? retire.error ?? copy.error
  const tags = reference.document.tags.map((t, k): StripMark => ({
    id: `tag-${k}`,
    kind: 'tag',
    from: t.from,
    to: t.to,
    lane: t.lane,
    label: t.text,
  }))
  const showOnStrip = (course: ParadeCourse, lane: string) => {
    setEvent({
      id: 'event',
      kind: 'tag',
      from: course.from,
      to: course.to,
      lane,
      label: `Event ${course.number}`,
    })
    setSelected('event')
    setLaidOver(false)
  }
  /** What is chosen on the trace is shown beside it. */
  const select = (id: string | null) => {
    setSelected(id)
    if (id?.startsWith('tag-')) setTab('tags')
    else if (id?.startsWith('finding-')) setTab('readings')
    if (id?.startsWith('reading-') && limit.low + limit.high === '') setLimit(emptyLimit(id.slice(8)))
  }
  const onKeyDown = useShortcuts(
    reference.may_change
      ? {
          t: () => {
            setTab('tags')
            setBegin(begin + 1)
          },
          l: () => setTab('limits'),
          p: () => setTab('phases'),
        }
      : {},
  )
  const putRight = (index: number, from: number, to: number) => {
    const name = reference.answer.phases[index]?.name
    if (!name) return
    // Told phases stand for all that are found under their name.
    const own = reference.answer.phases
      .map((p, k) => (k === index ? { name, from, to } : { name: p.name, from: p.from, to: p.to }))
      .filter((p) => p.name === name)
    const others = reference.document.phases.filter((p) => p.name !== name)
    save.mutate({ document: { ...reference.document, phases: [...others, ...own] } })
  }
  const actions = actionMarks(records)
  const beside = usePair(reference)
  const { data: corridor } = useQuery({
    ...corridorQuery(reference.id, reference.revision),
    enabled: tab === 'shape',
  })
  const latest = reference.versions[0]
  const { provenance } = reference.document
  const about = [provenance.vehicle, provenance.engine, provenance.conditions, provenance.ground]
    .filter(Boolean)
    .join(' · ')
  return (
    <Page>
      <PageHead
        title={
          !reference.may_change ? (
            reference.title
          ) : title === null ? (
            <TitleButton onClick={() => setTitle(reference.title)} title="Change the title">
              {reference.title}
            </TitleButton>
          ) : (
            <Text hidden label="Title" value={title} onChange={(t) => setTitle(t)} />
          )
        }
        about={about || 'no provenance yet: say under Origin where this capture comes from'}
      >
        {title !== null && (
          <Button
            $main
            onPress={() => {
              save.mutate({ title })
              setTitle(null)
            }}
          >
            Keep title
          </Button>
        )}
        <Stage stage={reference.state} version={latest?.version ?? null} />
        {reference.answer.events.length > 1 && (
          <Button aria-pressed={laidOver} onPress={() => setLaidOver(!laidOver)}>
            {laidOver ? 'Back to the strip' : 'Lay events over each other'}
          </Button>
        )}
        {!reference.owned && (
          <Button onPress={() => copy.mutate()} isDisabled={copy.isPending}>
            Copy it
          </Button>
        )}
        {reference.may_change && reference.state !== 'retired' && (
          <Button onPress={() => retire.mutate()} isDisabled={retire.isPending}>
            Retire
          </Button>
        )}
        {latest && (
          <Button onPress={() => void go(`/cards/new?reference=${latest.id}`)}>Make a job card</Button>
        )}
        {reference.may_change && reference.state !== 'published' && (
          <Button $main onPress={() => publish.mutate()} isDisabled={publish.isPending}>
            Publish version {(latest?.version ?? 0) + 1}
          </Button>
        )}
      </PageHead>
      {error && <Note kind="error">{error.message}</Note>}
      <SecondLook reference={reference} onTaken={take} />
      <TraceAndSide $side={400} $below={196} onKeyDown={onKeyDown}>
        {laidOver ? (
          <Suspense fallback={<div />}>
            <Events reference={reference} circuit={circuit} onShow={showOnStrip} />
          </Suspense>
        ) : trace ? (
          <Strip
            key={reference.capture_id}
            {...trace}
            phases={reference.answer.phases}
            marks={[...marksOf(reference.answer, circuit), ...tags, ...actions, ...(event ? [event] : [])]}
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
          onTab={setTab}
          begin={begin}
          onTaken={(next) => {
            setPegs([null, null])
            take(next)
          }}
          limit={limit}
          onLimit={setLimit}
        />
      </TraceAndSide>
      <Cautions aria-label="Cautions">
        {circuit.cautions.map((c) => (
          <li key={c.key}>{c.text}</li>
        ))}
      </Cautions>
      <Versions>
        <span>
          <ReferenceReach reference={reference} onChange={take} />
        </span>
        {reference.versions.map((v) => (
          <span key={v.id}>
            version {v.version}, published {dayText(v.published_at)} by {v.author}
          </span>
        ))}
        <Exports reference={reference} />
        <span>
          {reference.steps.length > 0 && <>measured {reference.steps.map((s) => s.words).join(', ')}; </>}
          last change {dayText(reference.changed_at)}, measured with engine {reference.answer.engine}
        </span>
      </Versions>
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
    const short = `${side === 'low' ? 'least' : 'most'} ${value.toFixed(spec.decimals)} ${spec.unit}`
    const label = `${spec.title}, ${short}`
    const onMove = (to: number) => onDraft({ ...draft, [side]: to.toFixed(spec.decimals) })
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

const Cautions = styled.ul`
  margin: 12px 0;
  padding: 9px 14px 9px 30px;
  border-left: 4px solid ${(p) => p.theme.colour.warnEdge};
  background: ${(p) => p.theme.colour.warn};
  font-size: 13.5px;
  columns: 2 420px;
  li {
    break-inside: avoid;
    padding: 1px 0;
  }
`

const TitleButton = styled.button`
  border: 0;
  padding: 0;
  background: none;
  font-weight: 650;
  cursor: text;
  text-align: left;
`

const Versions = styled.p`
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 4px 18px;
  margin-top: 12px;
  font-size: 13px;
  color: ${(p) => p.theme.colour.muted};
`
