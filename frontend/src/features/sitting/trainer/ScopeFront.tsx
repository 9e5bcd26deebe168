import { numberIn } from '../../../ui/numbers'
import type { Circuit } from '../../../shared/facts'
import { Choice, Fields, Text } from '../../../ui/fields'
import { Fold } from '../../../ui/Fold'
import { Muted } from '../../../ui/layout'
import type { RecordSettings } from '../queries'

/** What a scope has behind its first knobs; a learner may leave all of it as it is. */
export interface Front {
  bits: string
  coupling: 'dc' | 'ac'
  bandwidth: string
  peaks: 'no' | 'yes'
  trigger: 'free' | 'rising' | 'falling'
  lane: string
  level: string
  pre: string
}

export const PLAIN_FRONT: Front = {
  bits: '12',
  coupling: 'dc',
  bandwidth: 'full',
  peaks: 'no',
  trigger: 'free',
  lane: '',
  level: '1',
  pre: '20',
}

const BANDWIDTHS = [100, 1000, 5000, 20_000, 100_000]

/** The level as a number; null where it is none, which the panel says. */
export const levelOf = (front: Front): number | null => numberIn(front.level)

export function frontSettings(front: Front, circuit: Circuit) {
  const level = levelOf(front)
  const trigger: RecordSettings['trigger'] =
    front.trigger === 'free' || level === null
      ? null
      : {
          lane: front.lane || mainLane(circuit),
          level,
          edge: front.trigger,
          pre: Number(front.pre) / 100,
        }
  return {
    bits: Number(front.bits),
    coupling: front.coupling,
    bandwidth_hz: front.bandwidth === 'full' ? null : Number(front.bandwidth),
    peak_capture: front.peaks === 'yes',
    trigger,
  }
}

/** The front as it stands on a scope that was set before. */
export const frontOf = (told: FrontSettings): Front => ({
  bits: String(told.bits),
  coupling: told.coupling,
  bandwidth: told.bandwidth_hz === null ? 'full' : String(told.bandwidth_hz),
  peaks: told.peak_capture ? 'yes' : 'no',
  trigger: told.trigger?.edge ?? 'free',
  lane: told.trigger?.lane ?? '',
  level: String(told.trigger?.level ?? PLAIN_FRONT.level),
  pre: told.trigger ? String(Math.round(100 * told.trigger.pre)) : PLAIN_FRONT.pre,
})

type FrontSettings = Pick<RecordSettings, 'bits' | 'coupling' | 'bandwidth_hz' | 'peak_capture' | 'trigger'>

const mainLane = (circuit: Circuit) =>
  (circuit.lanes.find((l) => l.role !== 'sync') ?? circuit.lanes[0])?.name ?? 'signal'

interface Props {
  circuit: Circuit
  front: Front
  onChange: (front: Front) => void
}

export function ScopeFront({ circuit, front, onChange }: Props) {
  const set = (change: Partial<Front>) => onChange({ ...front, ...change })
  const lanes = circuit.lanes.map((l) => ({ key: l.name, text: l.title }))
  const on = circuit.lanes.find((l) => l.name === (front.lane || mainLane(circuit)))
  const unit = on?.unit ?? 'V'
  const told = Object.keys(PLAIN_FRONT).some(
    (k) => k !== 'lane' && front[k as keyof Front] !== PLAIN_FRONT[k as keyof Front],
  )
  return (
    <Fold title={`Coupling, bandwidth, trigger and bits${told ? ': changed' : ''}`}>
      <Fields $least={130}>
        <Choice
          label="Coupling"
          value={front.coupling}
          onChange={(key) => set({ coupling: key as Front['coupling'] })}
          options={[
            { key: 'dc', text: 'direct' },
            { key: 'ac', text: 'without its rest' },
          ]}
        />
        <Choice
          label="Bandwidth"
          value={front.bandwidth}
          onChange={(bandwidth) => set({ bandwidth })}
          options={[
            { key: 'full', text: 'full' },
            ...BANDWIDTHS.map((hz) => ({
              key: String(hz),
              text: hz < 1000 ? `${hz} Hz` : `${hz / 1000} kHz`,
            })),
          ]}
        />
        <Choice
          label="Between samples"
          value={front.peaks}
          onChange={(key) => set({ peaks: key as Front['peaks'] })}
          options={[
            { key: 'no', text: 'not looked at' },
            { key: 'yes', text: 'extremes kept' },
          ]}
        />
        <Choice
          label="Bits"
          value={front.bits}
          onChange={(bits) => set({ bits })}
          options={['8', '12', '16'].map((b) => ({ key: b, text: b }))}
        />
        <Choice
          label="Trigger"
          value={front.trigger}
          onChange={(key) => set({ trigger: key as Front['trigger'] })}
          options={[
            { key: 'free', text: 'none, at once' },
            { key: 'rising', text: 'rising through' },
            { key: 'falling', text: 'falling through' },
          ]}
        />
        {front.trigger !== 'free' && (
          <>
            <Text label={`Trigger level, ${unit}`} value={front.level} onChange={(level) => set({ level })} />
            <Choice
              label="On the lane"
              value={front.lane || mainLane(circuit)}
              onChange={(lane) => set({ lane })}
              options={lanes}
            />
            <Choice
              label="Kept before it"
              value={front.pre}
              onChange={(pre) => set({ pre })}
              options={['0', '10', '20', '50', '80'].map((p) => ({ key: p, text: `${p} %` }))}
            />
          </>
        )}
      </Fields>
      {front.trigger !== 'free' && levelOf(front) === null && (
        <Muted role="alert">The trigger level is not a number: write one such as 2.5.</Muted>
      )}
    </Fold>
  )
}
