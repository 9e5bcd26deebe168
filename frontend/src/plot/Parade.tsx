import { fixed } from '../ui/numbers'
import { useMemo, useRef, useState } from 'react'
import styled, { useTheme } from 'styled-components'
import { useShortcuts } from '../ui/shortcuts'
import { useSize } from './canvas'
import { decimalsOf, roundStep, ticks, timeUnit } from './scale'
import type { LaneRole } from '../design/theme'

/** One event's course on the common axis; null outside the record. */
export interface ParadeCourse {
  number: number
  from: number
  to: number
  cylinder: number | null
  unusual: number
  by: string
  values: (number | null)[]
}

export interface ParadeData {
  title: string
  unit: string
  from: number
  to: number
  total: number
  courses: ParadeCourse[]
}

interface Props {
  data: ParadeData
  role: LaneRole
  /** What a reading is called, by its id. */
  reading: (id: string) => string
  /** What a number in the row is called: cylinder, or position where no firing order is told. */
  place: string
  /** The cylinder that a finding names: its most unusual event begins in front. */
  odd: number | null
  /** Takes the strip to an event. */
  onShow: (course: ParadeCourse) => void
}

/** Line textures by cylinder, so that no cylinder is told by colour alone. */
const TEXTURES = [
  '',
  '12 4',
  '5 3',
  '14 3 3 3',
  '3 3',
  '9 3 2 3 2 3',
  '18 6',
  '7 2 2 2',
  '4 6',
  '10 2',
  '6 2 6 6',
  '2 2',
]
const texture = (cylinder: number | null) => TEXTURES[((cylinder ?? 1) - 1) % TEXTURES.length] ?? ''

/** From so many spreads an event is named among the unusual ones. */
const STRANGE = 6
const MARGIN = { left: 54, right: 14, top: 12, bottom: 30 }

/** Events of one record laid over each other from their starts; the one looked at stands in front. */
export function Parade({ data, role, reading, place: word, odd, onShow }: Props) {
  const box = useRef<HTMLDivElement>(null)
  const { width, height } = useSize(box)
  const ranked = useMemo(() => [...data.courses].sort((a, b) => b.unusual - a.unusual), [data])
  const [front, setFront] = useState(() => (ranked.find((c) => c.cylinder === odd) ?? ranked[0])?.number ?? 0)
  const [only, setOnly] = useState<number | null>(null)
  const shown = only === null ? data.courses : data.courses.filter((c) => c.cylinder === only)
  const place = Math.max(
    0,
    shown.findIndex((c) => c.number === front),
  )
  const chosen = shown[place] ?? shown[0]
  const cylinders = [...new Set(data.courses.map((c) => c.cylinder))]
    .filter((c): c is number => c !== null)
    .sort((a, b) => a - b)
  const strange = ranked.filter((c) => c.unusual >= STRANGE).slice(0, 5)
  const step = (by: number) => {
    const next = shown[(place + by + shown.length) % shown.length]
    if (next) setFront(next.number)
  }
  const onKey = useShortcuts({
    ArrowRight: () => step(1),
    ArrowLeft: () => step(-1),
    Home: () => setFront(ranked.find((c) => shown.includes(c))?.number ?? front),
    Enter: () => chosen && onShow(chosen),
  })
  return (
    <Frame>
      <Head>
        <h2 className="small">
          {data.title}, {data.unit}
          <i>
            {data.courses.length === data.total
              ? `${data.total} events from their starts`
              : `${data.courses.length} of ${data.total} events from their starts, the most unusual among them`}
          </i>
        </h2>
        <Steps>
          <button aria-label="Event before" onClick={() => step(-1)}>
            ◂
          </button>
          <output aria-live="polite">
            {chosen && (
              <>
                <b>Event {chosen.number}</b>
                {chosen.cylinder !== null && `, ${word} ${chosen.cylinder}`}
                <small>
                  {chosen.unusual >= STRANGE
                    ? `stands out by ${chosen.unusual > 99 ? 'over 99' : fixed(chosen.unusual, 0)} spreads: ${reading(chosen.by)}`
                    : `like the others ${chosen.cylinder === null ? 'here' : `of its ${word}`}, at ${fixed(chosen.from, 3)} s`}
                </small>
              </>
            )}
          </output>
          <button aria-label="Event after" onClick={() => step(1)}>
            ▸
          </button>
          <button onClick={() => chosen && onShow(chosen)}>On the strip</button>
        </Steps>
      </Head>
      <Plot
        ref={box}
        tabIndex={0}
        role="group"
        aria-label="Events laid over each other. Left and right step through them, Home goes to the most unusual, Enter shows it on the strip."
        onKeyDown={onKey}
      >
        {width > 0 && chosen && (
          <Courses
            data={data}
            shown={shown}
            chosen={chosen}
            role={role}
            word={word}
            width={width}
            height={height}
          />
        )}
      </Plot>
      <Foot>
        {cylinders.length > 1 && (
          <div role="group" aria-label="Cylinders">
            {cylinders.map((c) => (
              <button
                key={c}
                aria-pressed={only === c}
                onClick={() => setOnly(only === c ? null : c)}
                title={only === c ? 'Show all' : `Show ${word} ${c} alone`}
              >
                <svg width="34" height="10" aria-hidden="true">
                  <line x1="1" y1="5" x2="33" y2="5" strokeWidth="2" strokeDasharray={texture(c)} />
                </svg>
                {c}
              </button>
            ))}
          </div>
        )}
        {strange.length > 0 && (
          <div role="group" aria-label="Most unusual events">
            <span>unusual</span>
            {strange.map((c) => (
              <button
                key={c.number}
                aria-pressed={chosen?.number === c.number}
                onClick={() => {
                  setOnly(null)
                  setFront(c.number)
                }}
              >
                {c.number}
              </button>
            ))}
          </div>
        )}
      </Foot>
    </Frame>
  )
}

interface CoursesProps {
  word: string
  data: ParadeData
  shown: ParadeCourse[]
  chosen: ParadeCourse
  role: LaneRole
  width: number
  height: number
}

function Courses({ data, shown, chosen, role, word, width, height }: CoursesProps) {
  const theme = useTheme()
  const [low, high] = useMemo(() => reach(data.courses), [data])
  const inner = { w: width - MARGIN.left - MARGIN.right, h: height - MARGIN.top - MARGIN.bottom }
  const x = (s: number) => MARGIN.left + ((s - data.from) / (data.to - data.from)) * inner.w
  const y = (v: number) => MARGIN.top + (1 - (v - low) / (high - low)) * inner.h
  const unit = timeUnit(data.to - data.from)
  const stepX = roundStep((data.to - data.from) * unit.factor, inner.w / 90)
  const stepY = roundStep(high - low, inner.h / 46)
  const top = furthest(chosen, data)
  const path = (course: ParadeCourse) => {
    let out = ''
    let on = false
    course.values.forEach((v, k) => {
      if (v === null) on = false
      else {
        const s = data.from + ((k + 0.5) / course.values.length) * (data.to - data.from)
        out += `${on ? 'L' : 'M'}${fixed(x(s), 1)} ${fixed(y(v), 1)}`
        on = true
      }
    })
    return out
  }
  return (
    <svg width={width} height={height} aria-hidden="true">
      {ticks(low, high, stepY).map((v) => (
        <g key={v}>
          <line x1={MARGIN.left} x2={width - MARGIN.right} y1={y(v)} y2={y(v)} stroke={theme.colour.grid} />
          <text x={MARGIN.left - 7} y={y(v) + 4} textAnchor="end">
            {fixed(v, decimalsOf(stepY))}
          </text>
        </g>
      ))}
      {ticks(data.from * unit.factor, data.to * unit.factor, stepX).map((t) => (
        <g key={t}>
          <line
            x1={x(t / unit.factor)}
            x2={x(t / unit.factor)}
            y1={MARGIN.top}
            y2={height - MARGIN.bottom}
            stroke={Math.abs(t) < 1e-9 ? theme.colour.zero : theme.colour.grid}
          />
          <text x={x(t / unit.factor)} y={height - 10} textAnchor="middle">
            {fixed(t, decimalsOf(stepX))}
          </text>
        </g>
      ))}
      <text x={width - MARGIN.right} y={height - MARGIN.bottom - 6} textAnchor="end">
        {unit.name}
      </text>
      {shown
        .filter((c) => c !== chosen)
        .map((c) => (
          <path
            key={c.number}
            d={path(c)}
            stroke={theme.colour.ghost[role]}
            strokeWidth={c.cylinder === chosen.cylinder ? 1.6 : 1}
            strokeDasharray={texture(c.cylinder)}
          />
        ))}
      <path d={path(chosen)} stroke={theme.colour.sheet} strokeWidth={5} />
      <path
        d={path(chosen)}
        stroke={theme.colour.lane[role]}
        strokeWidth={2.6}
        strokeDasharray={texture(chosen.cylinder)}
      />
      <text x={x(top.s)} y={y(top.v) + (top.v < top.first ? 18 : -8)} textAnchor="middle" className="name">
        {chosen.cylinder === null ? `event ${chosen.number}` : `${word} ${chosen.cylinder}`}
      </text>
    </svg>
  )
}

/** Where a course stands furthest from where it begins, as an instant and a value, and that beginning. */
function furthest(course: ParadeCourse, data: ParadeData): { s: number; v: number; first: number } {
  const first = course.values.find((v) => v !== null) ?? 0
  let at = 0
  course.values.forEach((v, k) => {
    if (v !== null && Math.abs(v - first) > Math.abs((course.values[at] ?? first) - first)) at = k
  })
  const s = data.from + ((at + 0.5) / course.values.length) * (data.to - data.from)
  return { s, v: course.values[at] ?? first, first }
}

/** Least and most of all courses with a little room. */
function reach(courses: ParadeCourse[]): [number, number] {
  let low = Infinity
  let high = -Infinity
  for (const c of courses)
    for (const v of c.values)
      if (v !== null) {
        low = Math.min(low, v)
        high = Math.max(high, v)
      }
  const room = 0.05 * (high - low || 1)
  return [low - room, high + room]
}

const Frame = styled.section`
  display: grid;
  grid-template-rows: auto minmax(0, 1fr) auto;
  min-width: 0;
  min-height: 0;
  background: ${(p) => p.theme.colour.sheet};
  border: 1px solid ${(p) => p.theme.colour.hair};
  border-radius: ${(p) => p.theme.radius};
  button {
    min-height: 34px;
    min-width: 34px;
    padding: 0 10px;
    border: 1px solid ${(p) => p.theme.colour.edge};
    border-radius: 4px;
    background: ${(p) => p.theme.colour.sheet};
    cursor: pointer;
    &[aria-pressed='true'] {
      background: ${(p) => p.theme.colour.pick};
    }
  }
`

const Head = styled.div`
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  justify-content: space-between;
  gap: 6px 16px;
  padding: 8px 12px;
  border-bottom: 1px solid ${(p) => p.theme.colour.faint};
  h2 i {
    margin-left: 10px;
    font-style: normal;
    font-weight: 400;
    font-size: 13px;
    color: ${(p) => p.theme.colour.muted};
  }
`

const Steps = styled.div`
  display: flex;
  align-items: center;
  gap: 8px;
  output {
    min-width: 216px;
    line-height: 1.2;
    text-align: center;
  }
  small {
    display: block;
    font-size: 12.5px;
    color: ${(p) => p.theme.colour.muted};
  }
`

const Plot = styled.div`
  position: relative;
  overflow: hidden;
  &:focus-visible {
    outline: 2px solid ${(p) => p.theme.colour.focus};
    outline-offset: -2px;
  }
  svg {
    position: absolute;
    inset: 0;
  }
  path {
    fill: none;
    stroke-linejoin: round;
  }
  text {
    font-family: ${(p) => p.theme.type.mono};
    font-size: 12px;
    fill: ${(p) => p.theme.colour.muted};
  }
  .name {
    font-family: ${(p) => p.theme.type.text};
    font-size: 14px;
    font-weight: 650;
    fill: ${(p) => p.theme.colour.ink};
    paint-order: stroke;
    stroke: ${(p) => p.theme.colour.sheet};
    stroke-width: 4px;
  }
`

const Foot = styled.div`
  display: flex;
  flex-wrap: wrap;
  justify-content: space-between;
  gap: 6px 18px;
  padding: 7px 12px;
  border-top: 1px solid ${(p) => p.theme.colour.faint};
  min-height: 12px;
  > div {
    display: flex;
    align-items: center;
    gap: 6px;
  }
  button {
    display: flex;
    align-items: center;
    gap: 7px;
  }
  line {
    stroke: ${(p) => p.theme.colour.ink};
  }
  span {
    font-size: 13px;
    color: ${(p) => p.theme.colour.muted};
  }
`
