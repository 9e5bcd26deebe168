import { fixed } from '../../../ui/numbers'
import { Slide } from '../../../ui/Slide'
import { useEffect, useRef, useState } from 'react'
import styled from 'styled-components'
import type { Circuit } from '../../../shared/facts'
import { Button } from '../../../ui/Button'
import { Choice } from '../../../ui/fields'
import { Muted, Row } from '../../../ui/layout'
import type { RecordSettings } from '../queries'
import { isReady, ScopeKnobs, settingsOf, useKnobs } from './ScopeKnobs'

interface Props {
  circuit: Circuit
  busy: boolean
  again: boolean
  onRecord: (settings: RecordSettings) => void
}

const MOVE_MS = 20

/** Set the scope up, then let the trainer drive the manoeuvre, or move the pedal by hand while it records. */
export function SetManoeuvre({ circuit, busy, again, onRecord }: Props) {
  const { manoeuvres, by_hand: canMove } = circuit.trainer
  const [manoeuvre, setManoeuvre] = useState(
    (manoeuvres.find((m) => m.sweeps || m.key === 'idle') ?? manoeuvres.at(-1))?.key ?? '',
  )
  const { knobs, turn } = useKnobs(circuit, manoeuvre)
  const sweeps = manoeuvres.find((m) => m.key === manoeuvre)?.sweeps ?? false
  const [way, setWay] = useState('3')
  const ready = isReady(knobs)
  const lasts = Number(knobs.length)
  const [left, setLeft] = useState<number | null>(null)
  const [pedal, setPedal] = useState(0)
  const travel = useRef(0)
  const stop = useRef<ReturnType<typeof setInterval>>(undefined)
  useEffect(() => () => clearInterval(stop.current), [])
  const settings = (): RecordSettings => ({
    ...settingsOf(knobs, circuit),
    sweeps: 2,
    way_s: Number(way),
    hold_s: 0.8,
    movement: null,
    manoeuvre,
  })
  const byHand = () => {
    const begun = performance.now()
    const points: number[][] = [[0, travel.current]]
    setLeft(lasts)
    stop.current = setInterval(() => {
      const s = (performance.now() - begun) / 1000
      points.push([s, travel.current])
      setLeft(Math.max(0, lasts - s))
      if (s < lasts) return
      clearInterval(stop.current)
      setLeft(null)
      onRecord({ ...settings(), movement: points })
    }, MOVE_MS)
  }
  return (
    <>
      <ScopeKnobs circuit={circuit} knobs={knobs} turn={turn}>
        <Wide>
          <Choice
            label="What is done"
            value={manoeuvre}
            onChange={setManoeuvre}
            options={manoeuvres.map((m) => ({ key: m.key, text: m.title }))}
          />
        </Wide>
        {sweeps && (
          <Choice
            label="Sweep, each way"
            value={way}
            onChange={setWay}
            options={[0.5, 1, 2, 3, 4.5, 6, 8].map((s) => ({ key: String(s), text: `${s} s` }))}
          />
        )}
      </ScopeKnobs>
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
          <Slide
            label="Pedal"
            value={pedal}
            most={1}
            step={0.002}
            onSlide={(to) => {
              travel.current = to
              setPedal(to)
            }}
          />
        </Pedal>
        {left !== null && <b className="num">{fixed(left, 1)} s left</b>}
        {again && left === null && (
          <Muted>A new recording takes the place of this one; your answers stay.</Muted>
        )}
      </Always>
    </>
  )
}

const Wide = styled.div`
  grid-column: span 2;
`

/** In sight however many settings stand above it. */
export const Always = styled(Row)`
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
