import { counted } from '../../../ui/numbers'
import { useState } from 'react'
import styled from 'styled-components'
import type { Circuit } from '../../../shared/facts'
import { Button } from '../../../ui/Button'
import { Fold } from '../../../ui/Fold'
import { Muted, Note, Row } from '../../../ui/layout'
import type { RunSettings } from '../queries'
import { HandControls } from './HandControls'
import { Plug, type Wires } from './Plug'
import { isReady, ScopeKnobs, settingsOf, useKnobs, type Knobs } from './ScopeKnobs'
import { Always } from './SetManoeuvre'
import type { TrainerProps } from './TrainerProps'

/** The trainer under the learner's own hands: probes on wires, key, pedal and the rest, while the scope runs. */
export function ByHand({
  sitting,
  circuit,
  busy,
  run,
  onWork,
  onLeave,
}: TrainerProps & { onLeave: () => void }) {
  const idle = circuit.trainer.manoeuvres.at(-1)?.key ?? ''
  const { knobs, turn } = useKnobs(circuit, idle, run.state?.settings)
  const [wires, setWires] = useState<Wires>(() => placed(circuit.trainer.probed, run.state?.settings.wires))
  // A lane that is alone on its plug needs no choosing.
  const plugged = circuit.trainer.probed.length > 1
  const settings = (now: Knobs, on: Wires): RunSettings => ({
    ...settingsOf(now, circuit),
    // What is clamped round a wire stays there; only probes are moved.
    wires: plugged
      ? {
          ...Object.fromEntries(
            circuit.lanes
              .filter((l) => !circuit.trainer.probed.includes(l.name))
              .map((l) => [l.name, l.name]),
          ),
          ...on,
        }
      : null,
  })
  const told = (now: Knobs, on: Wires) => {
    if (run.state && isReady(now)) void run.setScope(settings(now, on))
  }
  const started = run.state !== null && !run.over
  const unconnected =
    plugged && Object.keys(wires).length === 0 && circuit.trainer.probed.length === circuit.lanes.length
  const ready = !busy && isReady(knobs) && !unconnected
  const { frame } = run
  const keep = () => {
    const keeping = run.freeze()
    if (keeping) onWork(keeping)
  }
  const plug = (
    <Plug
      circuit={circuit}
      wires={wires}
      onChange={(next) => {
        setWires(next)
        // With no probe on a wire there is nothing to look at.
        if (Object.keys(next).length > 0) told(knobs, next)
        else run.pause()
      }}
    />
  )
  const scope = (
    <ScopeKnobs
      circuit={circuit}
      knobs={knobs}
      turn={(change) => {
        turn(change)
        told({ ...knobs, ...change }, wires)
      }}
    />
  )
  return (
    <>
      <Desk>
        {plugged && !started && plug}
        <div>
          {started ? (
            <>
              <HandControls circuit={circuit} run={run} />
              <Fold
                title={`${plugged ? `Probes ${probesText(circuit, wires)}. ` : ''}Scope: ${knobs.range} ${circuit.lanes[0]?.unit ?? 'V'}, ${knobs.length} s, ${counted(Number(knobs.rate))} a second`}
              >
                <Desk>
                  {plugged && plug}
                  <div>
                    {scope}
                    <Button $touch $quiet isDisabled={busy} onPress={onLeave}>
                      Use a set manoeuvre instead
                    </Button>
                  </div>
                </Desk>
              </Fold>
            </>
          ) : (
            <>
              {scope}
              <Muted>
                {plugged && 'Put the probes on their wires. '}Set the scope up, then start: the key is off and
                everything is at rest.
              </Muted>
            </>
          )}
        </div>
      </Desk>
      {run.over && (
        <Note>A run lasts a quarter of an hour, and this one is over: start the trainer anew.</Note>
      )}
      {run.problem && <Note kind="error">{run.problem}</Note>}
      <Always>
        {!started && (
          <Button $touch $main isDisabled={!ready} onPress={() => void run.start(settings(knobs, wires))}>
            Start the trainer
          </Button>
        )}
        {started && (
          <>
            <Button
              $touch
              $main={!run.watching}
              isDisabled={!ready || run.watching}
              onPress={() => run.watch()}
            >
              {run.watching ? 'Running' : 'Run'}
            </Button>
            <Button
              $touch
              isDisabled={!ready}
              onPress={() => void run.setScope(settings(knobs, wires)).then(() => run.watch(onWork))}
            >
              Single
            </Button>
            <Button
              $touch
              $main={run.watching}
              isDisabled={!ready || !run.watching || !frame || frame.lanes.length === 0}
              onPress={keep}
            >
              Freeze and keep
            </Button>
            <Button $touch $quiet isDisabled={busy} onPress={() => void run.start(settings(knobs, wires))}>
              All off, begin again
            </Button>
          </>
        )}
        {unconnected && <Muted>No probe is on a wire yet.</Muted>}
        {run.watching && frame?.waits && <Muted>{frame.waits}</Muted>}
        {started && !run.watching && sitting.capture_id !== null && <Muted>Kept; the trainer runs on.</Muted>}
      </Always>
    </>
  )
}

const probesText = (circuit: Circuit, wires: Wires): string =>
  circuit.trainer.probed
    .filter((lane) => lane in wires)
    .map((lane) => {
      const title = (name: string) => circuit.lanes.find((l) => l.name === name)?.title.toLowerCase() ?? name
      const on = wires[lane] ?? lane
      return on === lane ? title(lane) : `${title(lane)} on the wire of the ${title(on)}`
    })
    .join(', ') || 'on no wire'

/** Where probes were put in a run that goes on. */
const placed = (probed: string[], wires: Wires | null | undefined): Wires =>
  Object.fromEntries(Object.entries(wires ?? {}).filter(([lane]) => probed.includes(lane)))

const Desk = styled(Row)`
  flex-wrap: nowrap;
  align-items: flex-start;
  gap: 18px;
  > div {
    flex: 1;
    min-width: 0;
  }
  @media (max-width: 700px) {
    flex-wrap: wrap;
  }
`
