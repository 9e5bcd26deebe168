/** What hands can do with the part and the vehicle: by mouse, touch and keyboard alike. */
import { Slide } from '../../../ui/Slide'
import styled from 'styled-components'
import { Button } from '../../../ui/Button'
import { Choice } from '../../../ui/fields'
import type { Circuit } from '../../../shared/facts'
import type { Run } from './useRun'

const OFF = 0
const ON = 1
const START = 2
const SPEEDS = [1500, 2500, 4000]
const WAIT_S = 30

/** What stays on until it is pressed again, and what only lasts as long as it is held. */
const STAYS = ['load', 'heat']
const HELD = ['wiggle', 'pull', 'press']

interface Props {
  circuit: Circuit
  run: Run
}

export function HandControls({ circuit, run }: Props) {
  const { controls, move } = run
  const has = (key: string) => circuit.trainer.controls.find((c) => c.key === key)
  const at = (key: string) => controls[key] ?? 0
  const pedal = has('travel')
  return (
    <Bench role="group" aria-label="What hands do">
      {has('key') && (
        <Set role="group" aria-label="Key">
          <span>Key</span>
          {[
            { value: OFF, text: 'Off' },
            { value: ON, text: 'On' },
          ].map(({ value, text }) => (
            <Button
              key={text}
              $touch
              $main={at('key') === value}
              aria-pressed={at('key') === value}
              onPress={() => move('key', value)}
            >
              {text}
            </Button>
          ))}
          <Held
            text="Hold to start"
            down={at('key') === START}
            onChange={(d) => move('key', d ? START : ON)}
          />
        </Set>
      )}
      {pedal && (
        <Set role="group" aria-label={pedal.title}>
          <span>{pedal.title}</span>
          <Slide
            label={pedal.title}
            value={at('travel')}
            most={1}
            step={0.005}
            onSlide={(to) => move('travel', to)}
          />
          <Held text="Snap: hold" down={false} onChange={(d) => move('travel', d ? 1 : 0)} />
        </Set>
      )}
      {has('speed') && (
        <Choice
          label="Speed that the driver holds"
          hidden
          value={String(at('speed'))}
          onChange={(key) => move('speed', Number(key))}
          options={[
            { key: '0', text: 'No speed held' },
            ...SPEEDS.map((n) => ({ key: String(n), text: `Held at ${n} rpm` })),
          ]}
        />
      )}
      <Set>
        {circuit.trainer.controls
          .filter(({ key }) => STAYS.includes(key))
          .map(({ key, title }) => (
            <Button
              key={key}
              $touch
              $main={at(key) > 0}
              aria-pressed={at(key) > 0}
              onPress={() => move(key, at(key) > 0 ? 0 : 1)}
            >
              {title}
            </Button>
          ))}
        {circuit.trainer.controls
          .filter(({ key }) => HELD.includes(key))
          .map(({ key, title }) => (
            <Held
              key={key}
              text={`${title}: hold`}
              down={at(key) > 0}
              onChange={(d) => move(key, d ? 1 : 0)}
            />
          ))}
        <Button $touch onPress={() => void run.wait(WAIT_S)}>
          Wait {WAIT_S} s
        </Button>
      </Set>
    </Bench>
  )
}

/** Does something as long as it is held, by mouse, finger or key. */
function Held({ text, down, onChange }: { text: string; down: boolean; onChange: (down: boolean) => void }) {
  return (
    <Button $touch $main={down} onPressStart={() => onChange(true)} onPressEnd={() => onChange(false)}>
      {text}
    </Button>
  )
}

const Bench = styled.div`
  display: flex;
  flex-wrap: wrap;
  align-items: end;
  gap: 8px 16px;
`
const Set = styled.div`
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 6px;
  > span {
    font-size: 13px;
    color: ${(p) => p.theme.colour.muted};
  }
  input {
    width: 170px;
    height: 44px;
    accent-color: ${(p) => p.theme.colour.ink};
  }
  button {
    padding: 0 12px;
    font-size: 14px;
  }
`
