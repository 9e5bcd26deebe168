import type { Pegs } from '../../plot/types'
import type { Schemas } from '../../api/client'
import { EventParade } from '../../shared/EventParade'
import type { Circuit } from '../../shared/facts'

type Sheet = Pick<Schemas['SecondSheetOut'], 'card' | 'measured'>

/** The events of a sitting's capture laid over each other, for whoever marks it; pegs go where one is looked up. */
export function SheetParade({
  sheet,
  parade,
  circuit,
  onPegs,
}: {
  sheet: Sheet
  parade: Schemas['ParadeOut'] | undefined
  circuit: Circuit
  onPegs: (pegs: Pegs) => void
}) {
  if (!parade) return null
  return (
    <EventParade
      tall
      data={parade}
      circuit={circuit}
      findings={sheet.measured?.findings ?? []}
      ordered={Boolean(sheet.card.options?.firing_order)}
      onShow={(course) => onPegs([course.from, course.to])}
    />
  )
}
