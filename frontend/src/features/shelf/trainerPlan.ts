/** What is recorded on the trainer for a reference: what was chosen, and the order for it. */
import type { Circuit } from '../../shared/facts'

type Trainer = Circuit['trainer']

export interface Plan {
  fault: string
  rate: string
  /** Seconds of each way of a sweep. */
  way: string
  manoeuvre: string
  layout: string
  /** The cylinders of the engine in the order they fire. */
  order: string
  cylinder: string
}

export const planned = (plan: Plan, change: Partial<Plan>): Plan => ({ ...plan, ...change })

export const planFor = (trainer: Trainer): Plan => ({
  fault: 'none',
  rate: String(trainer.rate_hz),
  way: '6',
  manoeuvre: trainer.manoeuvres[0]?.key ?? '',
  layout: trainer.layouts[0]?.key ?? '',
  order: trainer.rows[1]?.key ?? '',
  cylinder: '3',
})

export const cylindersOf = (order: string): number[] =>
  order
    .split('-')
    .map(Number)
    .sort((a, b) => a - b)

/** The cylinder that has the fault: the one chosen, or the first where the engine has not so many. */
export const oddOne = (plan: Plan): string =>
  cylindersOf(plan.order).includes(Number(plan.cylinder)) ? plan.cylinder : '1'

export const sweeps = (plan: Plan, trainer: Trainer): boolean =>
  trainer.manoeuvres.find((m) => m.key === plan.manoeuvre)?.sweeps ?? false

const HOLD_S = 0.8

/** Two sweeps with their rests before, between and after; else as long as the manoeuvre lasts. */
export const lastsS = (plan: Plan, trainer: Trainer): number =>
  sweeps(plan, trainer)
    ? 2 * (2 * Number(plan.way) + 2) + 6
    : (trainer.manoeuvres.find((m) => m.key === plan.manoeuvre)?.duration_s ?? 20)

/** The order for the trainer. */
export const orderFor = (plan: Plan, circuit: Pick<Circuit, 'code' | 'trainer'>) => ({
  circuit: circuit.code,
  range_v: circuit.trainer.range_v,
  duration_s: lastsS(plan, circuit.trainer),
  bits: 12 as const,
  manoeuvre: plan.manoeuvre,
  rate_hz: Number(plan.rate),
  ground: 'sensor ground' as const,
  sweeps: 2,
  way_s: Number(plan.way),
  hold_s: HOLD_S,
  movement: null,
  probe_factor: 1 as const,
  probe_reversed: false,
  probe_zeroed: true,
  probe_scaled: true,
  layout: plan.layout,
  firing_order: plan.order,
  cylinder: Number(oddOne(plan)),
  coupling: 'dc' as const,
  bandwidth_hz: null,
  peak_capture: false,
  trigger: null,
  fault: plan.fault,
  severity: 1,
})
