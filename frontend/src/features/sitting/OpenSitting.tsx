import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { Suspense, useEffect, useState } from 'react'
import styled from 'styled-components'
import { keepForOffline } from '../../offline/keep'
import { Strip } from '../../plot/Strip'
import type { Ghost, Pegs } from '../../plot/types'
import { captureQuery, useCircuit, usePegValues, useTrace, type Circuit } from '../../shared/facts'
import { keepSamples } from '../../shared/pegValues'
import { stepTitle } from '../../shared/steps'
import { useMeterBeside } from '../../shared/meter'
import { actionMarks, ofSitting } from '../../shared/records'
import { RecordsPanel } from '../../shared/RecordsPanel'
import { Note } from '../../ui/layout'
import { Brief } from './Brief'
import { Caution } from './Caution'
import { evidenceMarks, nameMarks } from './given'
import { HandInDialog } from './HandInDialog'
import { OtherAnswers } from './OtherAnswers'
import { sittingQuery, type Sitting, type Step } from './queries'
import { SittingHead } from './SittingHead'
import { StepList } from './StepList'
import { StepPanel } from './StepPanel'
import { LiveScope } from './trainer/LiveScope'
import { useRun } from './trainer/useRun'
import { useAutosave } from './useAutosave'

/** The learner at work: steps at the left, the trace, the question below. */
export function OpenSitting({ sitting }: { sitting: Sitting }) {
  const circuit = useCircuit(sitting.card.circuit)
  const { steps } = sitting.card
  const { answers, change, saving, flush, settled, others, putOtherAway } = useAutosave(sitting)
  const open = new Map(sitting.unanswered.map((u) => [u.step, u.what]))
  const [at, setAt] = useState(() =>
    Math.max(
      0,
      steps.findIndex((s) => open.has(s.id ?? '')),
    ),
  )
  const [pegs, setPegs] = useState<Pegs>([null, null])
  const [handing, setHanding] = useState(false)
  const recorded = useTrace(sitting.capture_id, sitting.card.circuit)
  const values = usePegValues(sitting.capture_id, pegs)
  const client = useQueryClient()
  const take = useMutation({
    mutationFn: (work: Promise<Sitting>) => work,
    onSuccess: (next) => {
      client.setQueryData(sittingQuery(sitting.id).queryKey, next)
      // Instants of a log belong to the capture it was typed beside.
      void client.invalidateQueries({ queryKey: ofSitting(sitting.id).query.queryKey })
      if (next.capture_id !== sitting.capture_id) setPegs([null, null])
    },
  })
  const run = useRun(sitting.id, sitting.card.source.kind === 'trainer')
  const held = useHeld(sitting.capture_id)
  const [laid, setLaid] = useState<Record<string, number>>({})
  const other = useBeside(sitting, circuit, steps[at], laid[steps[at]?.id ?? ''] ?? 0)
  const place = ofSitting(sitting.id)
  const { data: records = [] } = useQuery(place.query)
  const trace = useMeterBeside(recorded, answers, records)
  const step = steps[at]
  // What was frozen stays in sight until its trace has come.
  const onItsWay = run.frame !== null && (take.isPending || (sitting.capture_id !== null && trace === null))
  const live = step?.kind === 'capture' && (run.watching || onItsWay) && run.state ? run.state : null
  const title = (s: Step) => stepTitle(s, circuit)
  const caution = <Caution sitting={sitting} circuit={circuit} />
  const lane = circuit.lanes.find((l) => trace?.record.lanes.some((own) => own.lane === l.name))?.name ?? null
  return (
    <Desk data-traced={trace !== null || live !== null} data-live={live !== null}>
      <SittingHead
        sitting={sitting}
        saving={saving}
        held={held}
        settled={settled}
        onHandIn={() => void flush().then(() => setHanding(true))}
      />
      <div>
        <StepList steps={steps} open={open} at={at} onAt={setAt} title={title} records={records.length} />
        {live ? (
          <LiveScope circuit={circuit} run={run} settings={live.settings} />
        ) : trace ? (
          <Strip
            {...trace}
            key={trace.record.id}
            marks={[...evidenceMarks(answers), ...nameMarks(steps, answers, lane), ...actionMarks(records)]}
            onSelect={() => undefined}
            pegs={pegs}
            onPegs={setPegs}
            values={values}
            ghost={other}
          />
        ) : (
          <Brief sitting={sitting} circuit={circuit} />
        )}
      </div>
      <footer>
        <OtherAnswers
          others={others}
          answers={answers}
          steps={steps}
          circuit={circuit}
          title={title}
          onTake={(id, answer) => {
            putOtherAway(id)
            change(id, answer)
          }}
          onKeep={putOtherAway}
        />
        {at === steps.length &&
          (sitting.capture_id === null ? (
            <Note>
              Take the capture first: a drop test, resistances, voltages or a log of what was wiggled are kept
              with the trace that they explain.
            </Note>
          ) : (
            <Suspense fallback={null}>
              <RecordsPanel place={place} pegS={pegs[0]} />
            </Suspense>
          ))}
        {!step && caution}
        {step && (
          <StepPanel
            key={step.id}
            sitting={sitting}
            circuit={circuit}
            step={step}
            answer={answers[step.id ?? ''] ?? {}}
            onAnswer={(answer) => change(step.id ?? '', answer)}
            pegs={pegs}
            values={values}
            caution={caution}
            onLay={(shiftS) => setLaid({ ...laid, [step.id ?? '']: shiftS })}
            busy={take.isPending}
            problem={take.error?.message ?? null}
            run={run}
            onWork={(work) => take.mutate(work)}
            onBack={at > 0 ? () => setAt(at - 1) : null}
            onHandIn={() => void flush().then(() => setHanding(true))}
            onNext={at < steps.length - 1 ? () => setAt(at + 1) : null}
          />
        )}
      </footer>
      <HandInDialog
        open={handing}
        sitting={sitting}
        titles={Object.fromEntries(steps.map((s) => [s.id, title(s)]))}
        onClose={() => setHanding(false)}
        settled={settled}
      />
    </Desk>
  )
}

/** Whether the sitting is kept on this device; then its samples are, too. */
function useHeld(captureId: number | null): boolean {
  const [held, setHeld] = useState(false)
  useEffect(() => void keepForOffline().then(setHeld), [])
  const { data: capture } = useQuery({ ...captureQuery(captureId ?? 0), enabled: captureId !== null })
  useEffect(() => {
    // Should it not come, the pegs are read as long as there is a network.
    if (held && capture) keepSamples(capture).catch(() => undefined)
  }, [held, capture])
  return held
}

/** The lane that a comparing step holds the learner's beside, moved as they have laid it. */
function useBeside(sitting: Sitting, circuit: Circuit, step: Step | undefined, shiftS: number): Ghost | null {
  const shown = sitting.beside.find((b) => b.step === step?.id)
  const trace = useTrace(shown?.capture_id ?? null, sitting.card.circuit)
  if (!trace || !step) return null
  const lane = circuit.readings.find((r) => r.id === step.reading)?.lane
  return {
    ...trace,
    record: { ...trace.record, lanes: trace.record.lanes.filter((l) => l.lane === lane) },
    shiftS,
    label: step.against === 'before' ? 'before the repair' : 'the reference',
  }
}

const Desk = styled.main`
  height: 100vh;
  min-height: 700px;
  display: flex;
  flex-direction: column;
  header {
    display: flex;
    align-items: center;
    gap: 14px;
    min-height: 52px;
    padding: 4px 12px 4px 6px;
    background: ${(p) => p.theme.colour.bar};
    color: ${(p) => p.theme.colour.barInk};
    h1 {
      font-size: 16px;
      font-weight: 700;
    }
    a {
      padding: 6px 14px;
      font-size: 24px;
      line-height: 1;
      color: inherit;
      text-decoration: none;
    }
    span {
      font-size: 13.5px;
      color: ${(p) => p.theme.colour.barMuted};
    }
    strong {
      padding: 3px 10px;
      border: 1px solid currentColor;
      border-radius: 4px;
      font-variant-numeric: tabular-nums;
      white-space: nowrap;
      &[data-few='true'] {
        background: ${(p) => p.theme.colour.warn};
        color: ${(p) => p.theme.colour.ink};
      }
    }
    em {
      margin-left: auto;
      font-style: normal;
      font-size: 13.5px;
      &[data-state='waiting'],
      &[data-state='refused'] {
        color: ${(p) => p.theme.colour.accent};
      }
    }
  }
  > div {
    flex: 1;
    /* The trace keeps more than half of the height, whatever is asked below it. */
    min-height: 280px;
    display: grid;
    grid-template-columns: 196px minmax(0, 1fr);
    gap: 10px;
    padding: 10px 10px 0;
  }
  &[data-traced='true'] > div {
    min-height: calc(55vh + 10px);
  }
  &[data-traced='true'] > footer {
    max-height: calc(45vh - 62px);
  }
  /* Under hands the controls are all in reach; what runs has half of the height. */
  &[data-live='true'] > div {
    min-height: calc(48vh + 10px);
  }
  &[data-live='true'] > footer {
    max-height: calc(52vh - 62px);
  }
  nav {
    overflow: auto;
    padding: 3px;
    ol {
      /* What is only for screen readers scrolls with its step, instead of widening the page. */
      position: relative;
      list-style: none;
      padding: 0;
    }
    li button {
      display: grid;
      grid-template-columns: 20px 1fr;
      align-items: center;
      width: 100%;
      min-height: 31px;
      padding: 2px 8px;
      border: 0;
      border-radius: 4px;
      background: none;
      text-align: left;
      font-size: 14px;
      line-height: 1.2;
      cursor: pointer;
      @media (pointer: coarse) {
        min-height: 44px;
      }
      i {
        font-style: normal;
        font-size: 12px;
      }
      &[aria-current] {
        background: ${(p) => p.theme.colour.sheet};
        font-weight: 650;
        box-shadow: inset 4px 0 0 ${(p) => p.theme.colour.ink};
      }
    }
  }
  footer {
    padding: 10px;
    max-height: calc(100vh - 342px);
    overflow: auto;
    flex: none;
    display: flex;
    flex-direction: column;
  }
  @media (max-width: 700px) {
    height: auto;
    /* The steps in one row that scrolls: the trace stands right below them. */
    nav ol {
      display: flex;
      overflow-x: auto;
    }
    nav li {
      flex: none;
    }
    nav li button {
      min-height: 44px;
      white-space: nowrap;
    }
    > div {
      grid-template-columns: 1fr;
    }
    > div > section {
      height: max(420px, 56vh);
    }
    &[data-traced] > footer {
      max-height: none;
    }
  }
`
