/** What is set on the trainer's scope and on what hangs before it. */
import { useSuspenseQuery } from '@tanstack/react-query'
import { useState, type ReactNode } from 'react'
import { factsQuery, type Circuit } from '../../../shared/facts'
import { Choice, Fields } from '../../../ui/fields'
import { frontOf, frontSettings, levelOf, PLAIN_FRONT, ScopeFront, type Front } from './ScopeFront'
import type { RecordSettings } from '../queries'

const LENGTHS = [0.2, 0.5, 1, 2, 5, 10, 20, 32, 60, 120]
/** Over this an input needs an attenuator before it. */
const HIGHEST_PLAIN_V = 50

/** What is set on the scope, by how many times too much it then shows. */
const CLAMP_FACTORS = [
  { key: '1', text: '100 mV/A' },
  { key: '10', text: '10 mV/A' },
  { key: '0.1', text: '1 V/A' },
]
const PROBE_FACTORS = [
  { key: '1', text: '10:1' },
  { key: '0.1', text: '1:1' },
  { key: '10', text: '100:1' },
]

/** From this rate a circuit's events pass in milliseconds: a scope left on seconds would show none of them. */
const FAST_HZ = 50_000

/** What the scope stands on before anything is set: as it was left, but on the time scale of the circuit. */
function beginningOf(circuit: Circuit, manoeuvre: string) {
  const { by_hand, rate_hz, range_v, manoeuvres } = circuit.trainer
  if (by_hand) return { range: '10', length: '20', rate: '1000' }
  if (rate_hz < FAST_HZ) return { range: '10', length: '5', rate: '500' }
  const lasts = manoeuvres.find((m) => m.key === manoeuvre)?.duration_s ?? 2
  const length = LENGTHS.filter((s) => s <= lasts).at(-1) ?? 1
  return { range: String(range_v), length: String(length), rate: String(rate_hz) }
}

/** Everything that a scope is set to, as it is sent. */
export type ScopeSettings = Omit<RecordSettings, 'manoeuvre' | 'movement' | 'sweeps' | 'way_s' | 'hold_s'>

export interface Knobs {
  range: string
  length: string
  rate: string
  ground: string
  factor: string
  arrow: string
  zeroed: string
  pickup: string
  front: Front
}

/** The knobs as a scope was left that is `set` already, else as one stands before anything is. */
export function useKnobs(circuit: Circuit, manoeuvre: string, set?: ScopeSettings) {
  const { data } = useSuspenseQuery(factsQuery)
  const [knobs, setKnobs] = useState<Knobs>(() =>
    set
      ? knobsOf(set)
      : {
          ...beginningOf(circuit, manoeuvre),
          ground: data.trainer.grounds[0] ?? 'sensor ground',
          factor: '1',
          arrow: 'right',
          zeroed: 'yes',
          pickup: 'scaled',
          front: PLAIN_FRONT,
        },
  )
  return { knobs, turn: (change: Partial<Knobs>) => setKnobs((before) => ({ ...before, ...change })) }
}

const knobsOf = (set: ScopeSettings): Knobs => ({
  range: String(set.range_v),
  length: String(set.duration_s),
  rate: String(set.rate_hz),
  ground: set.ground,
  factor: String(set.probe_factor),
  arrow: set.probe_reversed ? 'wrong' : 'right',
  zeroed: set.probe_zeroed ? 'yes' : 'no',
  pickup: set.probe_scaled ? 'scaled' : 'plain',
  front: frontOf(set),
})

export const isReady = ({ front }: Knobs) => front.trigger === 'free' || levelOf(front) !== null

export const settingsOf = (knobs: Knobs, circuit: Circuit): ScopeSettings => ({
  range_v: Number(knobs.range),
  duration_s: Number(knobs.length),
  rate_hz: Number(knobs.rate),
  ground: knobs.ground as RecordSettings['ground'],
  ...frontSettings(knobs.front, circuit),
  probe_factor: Number(knobs.factor) as RecordSettings['probe_factor'],
  probe_reversed: knobs.arrow !== 'right',
  probe_zeroed: knobs.zeroed === 'yes',
  probe_scaled: knobs.pickup === 'scaled',
})

interface Props {
  circuit: Circuit
  knobs: Knobs
  turn: (change: Partial<Knobs>) => void
  /** More fields beside these. */
  children?: ReactNode
}

export function ScopeKnobs({ circuit, knobs, turn, children }: Props) {
  const { data } = useSuspenseQuery(factsQuery)
  const main = circuit.lanes.find((l) => l.role !== 'sync')
  const clamp = main?.role === 'current'
  // A kick of an injector or coil needs an attenuator before the input.
  const attenuated = !clamp && circuit.trainer.range_v > HIGHEST_PLAIN_V && main?.unit === 'V'
  const one = (n: number, unit: string) => ({ key: String(n), text: `${n} ${unit}` })
  return (
    <>
      <Fields $least={130}>
        <Choice
          label="Range"
          value={knobs.range}
          onChange={(range) => turn({ range })}
          options={data.trainer.ranges_v.map((r) => one(r, main?.unit ?? 'V'))}
        />
        <Choice
          label="Length"
          value={knobs.length}
          onChange={(length) => turn({ length })}
          options={LENGTHS.map((s) => one(s, 's'))}
        />
        <Choice
          label="Samples a second"
          value={knobs.rate}
          onChange={(rate) => turn({ rate })}
          options={data.trainer.rates_hz.map((r) => one(r, ''))}
        />
        <Choice
          label="Ground lead on"
          value={knobs.ground}
          onChange={(ground) => turn({ ground })}
          options={data.trainer.grounds.map((g) => ({ key: g, text: g }))}
        />
        {(clamp || attenuated) && (
          <Choice
            label={clamp ? 'Factor, clamp 100 mV/A' : 'Factor, probe 10:1'}
            value={knobs.factor}
            onChange={(factor) => turn({ factor })}
            options={clamp ? CLAMP_FACTORS : PROBE_FACTORS}
          />
        )}
        {main?.unit === 'kV' && (
          <Choice
            label="Pickup on the lead"
            value={knobs.pickup}
            onChange={(pickup) => turn({ pickup })}
            options={[
              { key: 'scaled', text: 'with a scale, 1 V a kV' },
              { key: 'plain', text: 'clip-on, no scale' },
            ]}
          />
        )}
        {clamp && (
          <>
            <Choice
              label="Arrow of the clamp"
              value={knobs.arrow}
              onChange={(arrow) => turn({ arrow })}
              options={[
                { key: 'right', text: 'with the current' },
                { key: 'wrong', text: 'against it' },
              ]}
            />
            <Choice
              label="Zeroed before"
              value={knobs.zeroed}
              onChange={(zeroed) => turn({ zeroed })}
              options={[
                { key: 'yes', text: 'yes' },
                { key: 'no', text: 'no' },
              ]}
            />
          </>
        )}
        {children}
      </Fields>
      <ScopeFront circuit={circuit} front={knobs.front} onChange={(front) => turn({ front })} />
    </>
  )
}
