/** What is chosen and open on a sheet: a reducer, so that each way there follows the same rules. */
import type { StripMark } from '../../plot/types'
import type { ParadeCourse } from '../../plot/Parade'
import { emptyLimit, type LimitDraft } from './limitDraft'
import type { SideTab } from './SheetSide'

export interface SheetState {
  selected: string | null
  /** Events are laid over each other in the place of the strip. */
  laidOver: boolean
  /** The event that was chosen there, shown on the strip. */
  event: StripMark | null
  /** The title while it is being changed. */
  title: string | null
  tab: SideTab
  /** Goes up each time a tag is begun by its key. */
  begin: number
  limit: LimitDraft
}

export type SheetEvent =
  | { type: 'selected'; id: string | null }
  | { type: 'turnedTo'; tab: SideTab }
  | { type: 'tagBegun' }
  | { type: 'eventShown'; course: Pick<ParadeCourse, 'from' | 'to' | 'number'>; lane: string }
  | { type: 'laidOver'; on: boolean }
  | { type: 'titleTyped'; title: string | null }
  | { type: 'limitTyped'; draft: LimitDraft }

/** A sheet as it opens; a limit would be set on the circuit's first reading. */
export const opened = (reading: string): SheetState => ({
  selected: null,
  laidOver: false,
  event: null,
  title: null,
  tab: 'readings',
  begin: 0,
  limit: emptyLimit(reading),
})

export function acted(state: SheetState, event: SheetEvent): SheetState {
  switch (event.type) {
    case 'selected':
      return { ...state, selected: event.id, ...besideIt(state, event.id) }
    case 'turnedTo':
      return { ...state, tab: event.tab }
    case 'tagBegun':
      return { ...state, tab: 'tags', begin: state.begin + 1 }
    case 'eventShown': {
      const { from, to, number } = event.course
      const mark: StripMark = {
        id: 'event',
        kind: 'tag',
        from,
        to,
        lane: event.lane,
        label: `Event ${number}`,
      }
      return { ...state, event: mark, selected: mark.id, laidOver: false }
    }
    case 'laidOver':
      return { ...state, laidOver: event.on }
    case 'titleTyped':
      return { ...state, title: event.title }
    case 'limitTyped':
      return { ...state, limit: event.draft }
  }
}

/** What is chosen on the trace is shown beside it; a limit that was typed already stays with its reading. */
function besideIt(state: SheetState, id: string | null): Partial<SheetState> {
  if (id?.startsWith('tag-')) return { tab: 'tags' }
  if (id?.startsWith('finding-')) return { tab: 'readings' }
  if (id?.startsWith('reading-') && state.limit.low + state.limit.high === '')
    return { limit: emptyLimit(id.slice('reading-'.length)) }
  return {}
}
