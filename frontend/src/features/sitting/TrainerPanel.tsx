import { useSuspenseQuery } from '@tanstack/react-query'
import { useEffect, useRef, useState } from 'react'
import styled from 'styled-components'
import { factsQuery, type Circuit } from '../../shared/facts'
import { Button } from '../../ui/Button'
import { Choice, Fields } from '../../ui/fields'
import { Muted, Row } from '../../ui/layout'
import { frontSettings, levelOf, PLAIN_FRONT, ScopeFront } from './ScopeFront'
import type { RecordSettings } from './queries'

interface Props {
  circuit: Circuit
  busy: boolean
  again: boolean
  onRecord: (settings: RecordSettings) => void
}

const LENGTHS = [0.2, 0.5, 1, 2, 5, 10, 20, 32, 60, 120]
const MOVE_MS = 20

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

/** The trainer: set the scope up, then let it drive the manoeuvre, or move the pedal by hand while it records. */
export function TrainerPanel({ circuit, busy, again, onRecord }: Props) {
  const { data } = useSuspenseQuery(factsQuery)
  const { manoeuvres, by_hand: canMove } = circuit.trainer
  const [manoeuvre, setManoeuvre] = useState(
    (manoeuvres.find((m) => m.sweeps || m.key === 'idle') ?? manoeuvres.at(-1))?.key ?? '',
  )
  const begin = beginningOf(circuit, manoeuvre)
  const [range, setRange] = useState(begin.range)
  const [length, setLength] = useState(begin.length)
  const [rate, setRate] = useState(begin.rate)
  const sweeps = manoeuvres.find((m) => m.key === manoeuvre)?.sweeps ?? false
  const [ground, setGround] = useState(data.trainer.grounds[0] ?? 'sensor ground')
  const [way, setWay] = useState('3')
  const main = circuit.lanes.find((l) => l.role !== 'sync')
  const clamp = main?.role === 'current'
  // A kick of an injector or coil needs an attenuator before the input.
  const attenuated = !clamp && circuit.trainer.range_v > HIGHEST_PLAIN_V && main?.unit === 'V'
  const [factor, setFactor] = useState('1')
  const [arrow, setArrow] = useState('right')
  const [zeroed, setZeroed] = useState('yes')
  const [pickup, setPickup] = useState('scaled')
  const [front, setFront] = useState(PLAIN_FRONT)
  const ready = front.trigger === 'free' || levelOf(front) !== null
  const [left, setLeft] = useState<number | null>(null)
  const [pedal, setPedal] = useState(0)
  const travel = useRef(0)
  const stop = useRef<ReturnType<typeof setInterval>>(undefined)
  useEffect(() => () => clearInterval(stop.current), [])
  const settings = (): RecordSettings => ({
    range_v: Number(range),
    duration_s: Number(length),
    rate_hz: Number(rate),
    ground: ground as RecordSettings['ground'],
    sweeps: 2,
    way_s: Number(way),
    hold_s: 0.8,
    movement: null,
    ...frontSettings(front, circuit),
    manoeuvre,
    probe_factor: Number(factor) as RecordSettings['probe_factor'],
    probe_reversed: arrow !== 'right',
    probe_zeroed: zeroed === 'yes',
    probe_scaled: pickup === 'scaled',
  })
  const byHand = () => {
    const begun = performance.now()
    const points: number[][] = [[0, travel.current]]
    setLeft(Number(length))
    stop.current = setInterval(() => {
      const s = (performance.now() - begun) / 1000
      points.push([s, travel.current])
      setLeft(Math.max(0, Number(length) - s))
      if (s < Number(length)) return
      clearInterval(stop.current)
      setLeft(null)
      onRecord({ ...settings(), movement: points })
    }, MOVE_MS)
  }
  const one = (n: number, unit: string) => ({ key: String(n), text: `${n} ${unit}` })
  return (
    <>
      <Fields $least={130}>
        <Choice
          label="Range"
          value={range}
          onChange={setRange}
          options={data.trainer.ranges_v.map((r) => one(r, main?.unit ?? 'V'))}
        />
        <Choice
          label="Length"
          value={length}
          onChange={setLength}
          options={LENGTHS.map((s) => one(s, 's'))}
        />
        <Choice
          label="Samples a second"
          value={rate}
          onChange={setRate}
          options={data.trainer.rates_hz.map((r) => one(r, ''))}
        />
        <Choice
          label="Ground lead on"
          value={ground}
          onChange={setGround}
          options={data.trainer.grounds.map((g) => ({ key: g, text: g }))}
        />
        {(clamp || attenuated) && (
          <Choice
            label={clamp ? 'Factor, clamp 100 mV/A' : 'Factor, probe 10:1'}
            value={factor}
            onChange={setFactor}
            options={clamp ? CLAMP_FACTORS : PROBE_FACTORS}
          />
        )}
        {main?.unit === 'kV' && (
          <Choice
            label="Pickup on the lead"
            value={pickup}
            onChange={setPickup}
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
              value={arrow}
              onChange={setArrow}
              options={[
                { key: 'right', text: 'with the current' },
                { key: 'wrong', text: 'against it' },
              ]}
            />
            <Choice
              label="Zeroed before"
              value={zeroed}
              onChange={setZeroed}
              options={[
                { key: 'yes', text: 'yes' },
                { key: 'no', text: 'no' },
              ]}
            />
          </>
        )}
        <Choice
          label="What is done"
          value={manoeuvre}
          onChange={setManoeuvre}
          options={manoeuvres.map((m) => ({ key: m.key, text: m.title }))}
        />
        {sweeps && (
          <Choice
            label="Sweep, each way"
            value={way}
            onChange={setWay}
            options={[0.5, 1, 2, 3, 4.5, 6, 8].map((s) => one(s, 's'))}
          />
        )}
      </Fields>
      <ScopeFront circuit={circuit} front={front} onChange={setFront} />
      <Always>
        <Button
          $touch
          $main
          isDisabled={busy || !ready || left !== null}
          onPress={() => onRecord(settings())}
        >
          {busy ? 'Recording…' : `Record${sweeps ? ' two sweeps' : ''}${again ? ' again' : ''}`}
        </Button>
        {canMove && (
          <Button $touch isDisabled={busy || !ready || left !== null} onPress={byHand}>
            Record while I move the pedal
          </Button>
        )}
        <Pedal hidden={!canMove}>
          pedal
          <input
            type="range"
            min={0}
            max={1}
            step={0.002}
            value={pedal}
            aria-label="Pedal"
            onChange={(e) => {
              travel.current = Number(e.target.value)
              setPedal(travel.current)
            }}
          />
        </Pedal>
        {left !== null && <b className="num">{left.toFixed(1)} s left</b>}
        {again && left === null && (
          <Muted>A new recording takes the place of this one; your answers stay.</Muted>
        )}
      </Always>
    </>
  )
}

/** In sight however many settings stand above it. */
const Always = styled(Row)`
  position: sticky;
  bottom: 0;
  padding: 6px 0;
  background: ${(p) => p.theme.colour.sheet};
`
const Pedal = styled.label`
  display: flex;
  flex: 1;
  align-items: center;
  gap: 10px;
  min-width: 200px;
  font-size: 14px;
  &[hidden] {
    display: none;
  }
  input {
    flex: 1;
    height: 44px;
    accent-color: ${(p) => p.theme.colour.ink};
  }
`
