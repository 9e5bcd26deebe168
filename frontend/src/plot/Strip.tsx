import { fixed } from '../ui/numbers'
import { useEffect, useMemo, useReducer, useRef, useState } from 'react'
import styled from 'styled-components'
import { useShortcuts } from '../ui/shortcuts'
import { useSize } from './canvas'
import { GUTTER, RIGHT, xOf, type Frame } from './frame'
import { PhaseBorders } from './Borders'
import { Flags } from './Flags'
import { LimitLines, type LimitLine } from './LimitLines'
import { LaneLabels } from './LaneLabels'
import { Overview } from './Overview'
import { PegHandle } from './PegHandle'
import { valueText } from './scale'
import { StripToolbar } from './StripToolbar'
import { nearest, onSample } from './snap'
import { summaryOf } from './summary'
import { useDrawing } from './useDrawing'
import { useLanes } from './useLanes'
import type {
  Ghost,
  Pegs,
  PegValues,
  StripCorridor,
  StripMark,
  StripPhase,
  StripRecord,
  TileSource,
} from './types'
import { usePointer } from './usePointer'
import { broughtIn, moved, type Bounds, type ViewEvent } from './view'

interface Props {
  record: StripRecord
  tiles: TileSource
  /** How much of its beginning the record is opened on; none given: the whole. */
  opensOnS?: number | null
  phases?: StripPhase[]
  marks?: StripMark[]
  selected?: string | null
  onSelect?: (id: string | null) => void
  pegs: Pegs
  onPegs: (pegs: Pegs) => void
  values: PegValues | null
  ghost?: Ghost | null
  /** Several records to compare with. */
  beside?: Ghost[]
  /** Given where phases may be put right: one of them has new borders. */
  onPhase?: (index: number, from: number, to: number) => void
  limits?: LimitLine[]
  corridor?: StripCorridor | null
}

const NONE: never[] = []
const SNAP_PX = 9

/** The view of a capture: lanes under each other on one time axis, with pegs, marks and an overview. */
export function Strip({
  record,
  tiles,
  opensOnS = null,
  phases = NONE,
  marks = NONE,
  selected = null,
  onSelect,
  pegs,
  onPegs,
  values,
  ghost = null,
  beside = NONE,
  onPhase,
  limits = NONE,
  corridor = null,
}: Props) {
  const area = useRef<HTMLDivElement>(null)
  const canvas = useRef<HTMLCanvasElement>(null)
  const size = useSize(area)
  const bounds = useMemo<Bounds>(
    () => ({
      start: record.startS,
      end: record.startS + record.samples * record.intervalS,
      interval: record.intervalS,
    }),
    [record],
  )
  const [view, onView] = useReducer((v: { from: number; to: number }, e: ViewEvent) => moved(bounds, v, e), {
    from: bounds.start,
    to: Math.min(bounds.end, bounds.start + (opensOnS ?? Infinity)),
  })
  const [active, setActive] = useState<0 | 1>(0)

  const ghosts = useMemo(() => (ghost ? [ghost, ...beside] : beside), [ghost, beside])
  const { boxes, onResize, onMove } = useLanes(record, ghosts, corridor, size.height)
  const frame: Frame = { width: size.width, height: size.height, view, boxes }

  const shown = useDrawing(canvas, size, frame, { record, tiles, phases, marks, selected, ghosts, corridor })
  const chosen = marks.find((m) => m.id === selected)
  const chosenKey = chosen ? `${chosen.id}/${chosen.from}/${chosen.to}` : ''
  useEffect(() => {
    const shown = chosen && broughtIn(bounds, view, chosen)
    if (shown) onView({ type: 'shown', ...shown })
    // Only a new choice moves the view; panning afterwards is the user's.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [chosenKey])

  const snapped = (s: number, free: boolean): number => {
    if (free) return onSample(record, s)
    const reach = (SNAP_PX / (size.width - GUTTER - RIGHT)) * (view.to - view.from)
    return onSample(record, nearest(s, reach, phases, marks) ?? s)
  }
  const setPeg = (which: 0 | 1, s: number | null) => onPegs(which === 0 ? [s, pegs[1]] : [pegs[0], s])
  usePointer(area, {
    frame: () => frame,
    onView,
    onTap: (s, free) => setPeg(active, snapped(s, free)),
  })

  const span = view.to - view.from
  const middle = (view.from + view.to) / 2
  const peg = (which: 0 | 1) => {
    setActive(which)
    setPeg(which, snapped(middle, true))
  }
  const onKey = useShortcuts({
    ArrowLeft: () => onView({ type: 'panned', byS: -span / 8 }),
    ArrowRight: () => onView({ type: 'panned', byS: span / 8 }),
    ArrowUp: () => onView({ type: 'zoomed', factor: 0.7, aroundS: middle }),
    ArrowDown: () => onView({ type: 'zoomed', factor: 1 / 0.7, aroundS: middle }),
    Home: () => onView({ type: 'whole' }),
    1: () => peg(0),
    2: () => peg(1),
    Escape: () => {
      onPegs([null, null])
      onSelect?.(null)
    },
  })

  const bottom = boxes.length ? (boxes.at(-1)?.top ?? 0) + (boxes.at(-1)?.height ?? 0) : 0
  return (
    <Shell>
      <StripToolbar
        view={view}
        onView={onView}
        active={active}
        onActive={setActive}
        pegs={pegs}
        onPegs={onPegs}
        shown={shown}
        alignment={corridor ? null : (ghost?.alignment ?? null)}
        beneath={corridor ? `hatched: ${corridor.label}` : ghost ? `pale: ${ghost.label}` : null}
      />
      <Area
        ref={area}
        tabIndex={0}
        onKeyDown={onKey}
        role="group"
        aria-label="Trace"
        aria-describedby={`strip-${record.id}`}
      >
        <canvas ref={canvas} aria-hidden="true" />
        <p id={`strip-${record.id}`} className="hidden-text">
          {summaryOf(record, phases, marks)}
        </p>
        <LaneLabels boxes={boxes} pegs={pegs} values={values} onResize={onResize} onMove={onMove} />
        {size.width > 0 && onSelect && (
          <Flags frame={frame} marks={marks} selected={selected} onSelect={onSelect} />
        )}
        {size.width > 0 && onPhase && (
          <PhaseBorders
            frame={frame}
            phases={phases}
            snapped={snapped}
            interval={record.intervalS}
            onPhase={onPhase}
          />
        )}
        {size.width > 0 && <LimitLines frame={frame} lines={limits} />}
        {size.width > 0 && chosen?.kind === 'tag' && (
          <TagNote style={noteAt(frame, chosen)}>{chosen.label}</TagNote>
        )}
        {size.width > 0 &&
          ([0, 1] as const).map((which) => {
            const at = pegs[which]
            if (at === null) return null
            return (
              <PegHandle
                key={which}
                which={which}
                atS={at}
                frame={frame}
                bottom={bottom}
                text={pegText(at, which, values, pegs)}
                onMove={(s, free) => setPeg(which, snapped(s, free))}
                onStep={(n) => setPeg(which, snapped(at + n * record.intervalS, true))}
                onActive={() => setActive(which)}
              />
            )
          })}
      </Area>
      <Overview record={record} tiles={tiles} view={view} bounds={bounds} onView={onView} />
    </Shell>
  )
}

function pegText(at: number, which: 0 | 1, values: PegValues | null, pegs: Pegs): string {
  const index = pegs[0] === null ? 0 : which
  const parts = (values?.lanes ?? []).map((l) => `${l.lane} ${valueText(l.at[index] ?? 0, l.unit)}`)
  return [`${fixed(at, 4)} seconds`, ...parts].join(', ')
}

function noteAt(frame: Frame, mark: StripMark): React.CSSProperties {
  const x = xOf(frame, (mark.from + mark.to) / 2)
  return { left: Math.min(Math.max(x - 110, GUTTER + 4), frame.width - 234), top: 84 }
}

const Shell = styled.section`
  display: flex;
  flex-direction: column;
  min-height: 0;
  min-width: 0;
  height: 100%;
  background: ${(p) => p.theme.colour.sheet};
  border: 1px solid ${(p) => p.theme.colour.hair};
  border-radius: ${(p) => p.theme.radius};
`

const Area = styled.div`
  position: relative;
  flex: 1;
  min-height: 180px;
  touch-action: none;
  overflow: hidden;
  cursor: crosshair;
  canvas {
    position: absolute;
    inset: 0;
    width: 100%;
    height: 100%;
  }
`

const TagNote = styled.p`
  position: absolute;
  width: 226px;
  padding: 6px 9px;
  font-size: 13.5px;
  line-height: 1.35;
  background: ${(p) => p.theme.colour.sheet};
  border: 1.5px solid ${(p) => p.theme.colour.soft};
  border-radius: ${(p) => p.theme.small};
  pointer-events: none;
`
