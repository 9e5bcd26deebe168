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
