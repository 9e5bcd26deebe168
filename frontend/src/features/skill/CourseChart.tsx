import { useTheme } from 'styled-components'
import { dayText } from '../../ui/time'
import type { SkillCourse } from './queries'

const WIDTH = 320
const HEIGHT = 130
const LEFT = 34

/** One skill over time: the estimate as steps between sittings, its band hatched behind. */
export function CourseChart({ skill }: { skill: SkillCourse }) {
  const theme = useTheme()
  const c = theme.colour
  const points = skill.course
  const times = points.map((p) => new Date(p.at).getTime())
  const first = times[0] ?? 0
  const span = Math.max((times.at(-1) ?? 1) - first, 1)
  const x = (k: number) =>
    points.length < 2
      ? (LEFT + WIDTH) / 2
      : LEFT + 8 + (((times[k] ?? 0) - first) / span) * (WIDTH - LEFT - 20)
  const y = (v: number) => 10 + (1 - v) * (HEIGHT - 34)
  const band = [
    ...points.map((p, k) => `${x(k)},${y(p.high)}`),
    ...points.map((p, k) => `${x(k)},${y(p.low)}`).reverse(),
  ]
  const now = `${Math.round(skill.estimate * 100)} %, surely between ${Math.round(skill.low * 100)} and ${Math.round(skill.high * 100)} %`
  return (
    <figure>
      <figcaption>
        <b>{skill.title}</b>{' '}
        <span className="num">
          {points.length ? `${Math.round(skill.estimate * 100)} %` : 'not seen yet'}
        </span>
      </figcaption>
      <svg
        viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
        width="100%"
        role="img"
        aria-label={`${skill.title}: ${points.length ? now : 'not seen yet'}`}
      >
        {[0, 0.5, 1].map((v) => (
          <g key={v}>
            <path d={`M${LEFT} ${y(v)}H${WIDTH - 6}`} stroke={c.faint} />
            <text
              x={LEFT - 6}
              y={y(v) + 4}
              textAnchor="end"
              fontSize="11"
              fill={c.muted}
              fontFamily={theme.type.mono}
            >
              {v * 100}
            </text>
          </g>
        ))}
        {points.length > 1 && <polygon points={band.join(' ')} fill={c.ghost.signal} opacity="0.4" />}
        <polyline
          points={points.map((p, k) => `${x(k)},${y(p.estimate)}`).join(' ')}
          fill="none"
          stroke={c.lane.signal}
          strokeWidth="2"
        />
        {points.map((p, k) => (
          <g key={p.at}>
            <path d={`M${x(k)} ${y(p.low)}V${y(p.high)}`} stroke={c.lane.signal} />
            <circle cx={x(k)} cy={y(p.estimate)} r="3.5" fill={c.lane.signal} />
          </g>
        ))}
        {points[0] && (
          <text x={LEFT} y={HEIGHT - 6} fontSize="11" fill={c.muted} fontFamily={theme.type.text}>
            {dayText(points[0].at)}
          </text>
        )}
        {points.length > 1 && (
          <text
            x={WIDTH - 6}
            y={HEIGHT - 6}
            textAnchor="end"
            fontSize="11"
            fill={c.muted}
            fontFamily={theme.type.text}
          >
            {dayText(points.at(-1)?.at ?? null)}
          </text>
        )}
      </svg>
    </figure>
  )
}
