import { useEffect, useMemo, useReducer, useRef, useState } from 'react'
import styled, { useTheme } from 'styled-components'
import { useShortcuts } from '../ui/shortcuts'
import { sharp, useFrame, useSize } from './canvas'
import { drawStrip, GUTTER, laneBoxes, RIGHT, shareOf, xOf, type Frame } from './draw'
import { PhaseBorders } from './Borders'
import { holdingCorridor } from './corridor'
import { LimitLines, type LimitLine } from './LimitLines'
import { LaneLabels } from './LaneLabels'
import { Overview } from './Overview'
import { PegHandle } from './PegHandle'
import { valueText } from './scale'
import { StripToolbar } from './StripToolbar'
import { summaryOf } from './summary'
import { Tiles } from './tiles'
import type {
  Ghost,
  Pegs,
  PegValues,
  StripLane,
  StripCorridor,
  StripMark,
  StripPhase,
  StripRecord,
  TileSource,
} from './types'
import { usePointer } from './usePointer'
import { moved, type Bounds, type ViewEvent } from './view'

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
  const theme = useTheme()
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
  const [order, setOrder] = useState(() => record.lanes.map((l) => l.lane))
  const [shares, setShares] = useState<Record<string, number>>({})
  const [active, setActive] = useState<0 | 1>(0)
  const [shown, setShown] = useState({ envelope: false, dots: false })

  const ghosts = useMemo(() => (ghost ? [ghost, ...beside] : beside), [ghost, beside])
  const lanes = useMemo(
    () =>
      [...record.lanes]
        .sort((a, b) => order.indexOf(a.lane) - order.indexOf(b.lane))
        .map((lane) => ghosts.reduce((held, g) => (g.scaled ? held : holding(held, g.record)), lane))
        .map((lane) => (corridor ? holdingCorridor(lane, corridor.pieces) : lane)),
    [record.lanes, order, ghosts, corridor],
  )
  const share = (lane: StripLane) => shares[lane.lane] ?? shareOf(lane)
  const boxes = laneBoxes(lanes, lanes.map(share), size.height)
  const frame: Frame = { width: size.width, height: size.height, view, boxes }

  const { request, onDraw } = useFrame()
  const cache = useMemo(() => new Tiles(record, tiles, request), [record, tiles, request])
  const ghostCaches = useMemo(
    () => new Map(ghosts.map((g) => [g.record.id, new Tiles(g.record, g.tiles, request)])),
    [ghosts, request],
  )
  useEffect(() => {
    onDraw(() => {
      if (!canvas.current || !size.width) return
      const ctx = sharp(canvas.current, size.width, size.height)
      if (!ctx) return
      const scene = {
        record,
        tiles: cache,
        phases,
        marks,
        selected,
        ghosts: ghosts.flatMap((g) => {
          const held = ghostCaches.get(g.record.id)
          return held ? [{ ...g, cache: held }] : []
        }),
        corridor: corridor?.pieces ?? NONE,
      }
      const now = drawStrip(ctx, frame, scene, theme)
      if (now.envelope !== shown.envelope || now.dots !== shown.dots) setShown(now)
    })
    request()
  })

  // A mark that is chosen comes into view with room around it.
  const chosen = marks.find((m) => m.id === selected)
  const chosenKey = chosen ? `${chosen.id}/${chosen.from}/${chosen.to}` : ''
  useEffect(() => {
    if (!chosen) return
    const span = view.to - view.from
    const inside = chosen.from >= view.from && chosen.to <= view.to
    const wide = Math.max((chosen.to - chosen.from) * 6, 0.02 * (bounds.end - bounds.start))
    if (inside && chosen.to - chosen.from > span / 60) return
    const half = Math.min(wide, bounds.end - bounds.start) / 2
    const middle = (chosen.from + chosen.to) / 2
    onView({ type: 'shown', from: middle - half, to: middle + half })
    // Only a new choice moves the view; panning afterwards is the user's.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [chosenKey])

  const snapped = (s: number, free: boolean): number => {
    const sample = (t: number) =>
      record.startS +
      Math.min(Math.max(Math.round((t - record.startS) / record.intervalS), 0), record.samples - 1) *
        record.intervalS
    if (free) return sample(s)
    const reach = (SNAP_PX / (size.width - GUTTER - RIGHT)) * (view.to - view.from)
    const events = [...phases, ...marks.filter((m) => m.kind !== 'reading')].flatMap((p) => [p.from, p.to])
    const near = events
      .filter((t) => Math.abs(t - s) < reach)
      .sort((a, b) => Math.abs(a - s) - Math.abs(b - s))[0]
    return sample(near ?? s)
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
        <LaneLabels
          boxes={boxes}
          pegs={pegs}
          values={values}
          onResize={(k, px) => {
            const [one, two] = [lanes[k], lanes[k + 1]]
            if (!one || !two) return
            const perPx = lanes.reduce((sum, l) => sum + share(l), 0) / Math.max(size.height - 80, 1)
            const by = Math.max(-share(one) + 0.3, Math.min(share(two) - 0.3, px * perPx))
            setShares({ ...shares, [one.lane]: share(one) + by, [two.lane]: share(two) - by })
          }}
          onMove={(k, by) => {
            const next = lanes.map((l) => l.lane)
            const [name] = next.splice(k, 1)
            if (name) next.splice(k + by, 0, name)
            setOrder(next)
          }}
        />
        {size.width > 0 &&
          onSelect &&
          flagged(frame, marks).map((own) => {
            const at = own.marks.findIndex((m) => m.id === selected)
            const label = own.marks.map((m) => m.label).join(', ')
            return (
              <Flag
                key={own.marks[0]?.id}
                data-kind={own.kind}
                data-many={own.marks.length > 1 || undefined}
                aria-pressed={at >= 0}
                title={label}
                aria-label={own.marks.length > 1 ? `${own.marks.length} marks: ${label}` : label}
                style={{ left: own.x }}
                // One after the other, then none.
                onClick={() => onSelect(own.marks[at + 1]?.id ?? null)}
              >
                {own.marks.length > 1 && <span>{own.marks.length}</span>}
              </Flag>
            )
          })}
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

/** The lane with room for what lies beneath it. */
function holding(lane: StripLane, beneath: StripRecord): StripLane {
  const other = beneath.lanes.find((l) => l.lane === lane.lane)
  if (!other) return lane
  return {
    ...lane,
    lowest: Math.min(lane.lowest, other.lowest),
    highest: Math.max(lane.highest, other.highest),
  }
}

/** Flags stand so far from each other that a finger finds each (24 px, WCAG 2.2, 2.5.8), in px. */
const FLAG_APART = 26

interface FlagOf {
  marks: StripMark[]
  kind: StripMark['kind']
  x: number
}

/** The flags of marks in view, over their places; marks whose flags would touch share one, which counts them. */
function flagged(frame: Frame, marks: StripMark[]): FlagOf[] {
  const shown = marks
    .filter((mark) => mark.kind !== 'reading')
    .map((mark) => ({ mark, x: xOf(frame, (mark.from + mark.to) / 2) }))
    .filter(({ x }) => x >= GUTTER && x <= frame.width - RIGHT)
    .sort((a, b) => a.x - b.x)
  const flags: FlagOf[] = []
  for (const { mark, x } of shown) {
    const last = flags.at(-1)
    if (!last || x - last.x >= FLAG_APART) flags.push({ marks: [mark], kind: mark.kind, x })
    else {
      last.marks.push(mark)
      // A fault among them is what the flag says.
      if (mark.kind === 'fault') last.kind = 'fault'
    }
  }
  return flags
}

function pegText(at: number, which: 0 | 1, values: PegValues | null, pegs: Pegs): string {
  const index = pegs[0] === null ? 0 : which
  const parts = (values?.lanes ?? []).map((l) => `${l.lane} ${valueText(l.at[index] ?? 0, l.unit)}`)
  return [`${at.toFixed(4)} seconds`, ...parts].join(', ')
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

const Flag = styled.button`
  position: absolute;
  top: 51px;
  width: 24px;
  height: 24px;
  margin-left: -12px;
  padding: 0;
  border: 0;
  background: none;
  cursor: pointer;
  z-index: 1;
  span {
    position: absolute;
    left: 13px;
    top: 7px;
    padding: 0 3px;
    border-radius: 7px;
    background: ${(p) => p.theme.colour.sheet};
    color: ${(p) => p.theme.colour.ink};
    font-size: 11px;
    line-height: 14px;
    font-variant-numeric: tabular-nums;
    z-index: 1;
  }
  &::after {
    content: '';
    position: absolute;
    left: 7px;
    top: 3px;
    width: 10px;
    height: 10px;
    background: ${(p) => p.theme.colour.soft};
    border-radius: 50%;
  }
  &[data-kind='fault']::after {
    background: ${(p) => p.theme.colour.fault};
    border-radius: 0;
    transform: rotate(45deg);
  }
  &[data-kind='set-up']::after,
  &[data-kind='note']::after {
    background: ${(p) => p.theme.colour.unsure};
    border-radius: 0;
  }
  &[aria-pressed='true']::after {
    outline: 2px solid ${(p) => p.theme.colour.ink};
    outline-offset: 2px;
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
