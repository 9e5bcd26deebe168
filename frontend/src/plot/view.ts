/** What stretch of the record is shown: a pure reducer, so that every way of moving follows the same rules. */

export interface View {
  from: number
  to: number
}

export interface Bounds {
  start: number
  end: number
  interval: number
}

export type ViewEvent =
  | { type: 'shown'; from: number; to: number }
  | { type: 'panned'; byS: number }
  | { type: 'zoomed'; factor: number; aroundS: number }
  | { type: 'whole' }

const FEWEST_SAMPLES = 8

export function moved(bounds: Bounds, view: View, event: ViewEvent): View {
  switch (event.type) {
    case 'whole':
      return { from: bounds.start, to: bounds.end }
    case 'shown':
      return kept(bounds, event.from, event.to)
    case 'panned':
      return kept(bounds, view.from + event.byS, view.to + event.byS)
    case 'zoomed': {
      const from = event.aroundS - (event.aroundS - view.from) * event.factor
      return kept(bounds, from, from + (view.to - view.from) * event.factor)
    }
  }
}

function kept(bounds: Bounds, from: number, to: number): View {
  const whole = bounds.end - bounds.start
  const span = Math.min(whole, Math.max(Math.abs(to - from), FEWEST_SAMPLES * bounds.interval))
  const left = Math.min(Math.max(Math.min(from, to), bounds.start), bounds.end - span)
  return { from: left, to: left + span }
}

/** The view that a chosen stretch comes into with room around it; null where it is seen well already. */
export function broughtIn(bounds: Bounds, view: View, chosen: View): View | null {
  const long = chosen.to - chosen.from
  const inside = chosen.from >= view.from && chosen.to <= view.to
  if (inside && long > (view.to - view.from) / 60) return null
  const whole = bounds.end - bounds.start
  const half = Math.min(Math.max(long * 6, 0.02 * whole), whole) / 2
  const middle = (chosen.from + chosen.to) / 2
  return { from: middle - half, to: middle + half }
}
