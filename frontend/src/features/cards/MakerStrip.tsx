import { figures, fixed } from '../../ui/numbers'
import styled, { useTheme } from 'styled-components'
import type { Circuit } from '../../shared/facts'
import type { CardCheck } from './queries'

type Drawn = NonNullable<CardCheck['trace']>
type Stretches = NonNullable<CardCheck['own']>['results'][number]['stretches']

interface Props {
  circuit: Circuit
  check: CardCheck | null
  stretches: Stretches
}

const WIDTH = 1000

const ON = {
  trainer: 'as the trainer records it for this card',
  reference: 'the reference’s capture',
  given: 'the capture that the card gives',
}

/** A capture such as the card asks for, and where on it the chosen step's answer lies. */
export function MakerStrip({ circuit, check, stretches }: Props) {
  const trace = check?.trace
  if (!trace) {
    return (
      <Empty>
        <p>
          {check
            ? 'Choose a reference from the shelf, or the trainer: the trace stands here beside each step.'
            : 'Keep the draft: then the trace stands here, with the tool’s own answer to each step.'}
        </p>
      </Empty>
    )
  }
  return (
    <Frame>
      {trace.lanes.map((lane) => (
        <Lane key={lane.name} trace={trace} lane={lane} circuit={circuit} stretches={stretches} />
      ))}
      <footer className="num">
        <span>{figures(trace.from, 3)} s</span>
        <span>
          {ON[check.on ?? 'reference']}
          {stretches.length > 0 ? '; shaded: where the answer lies' : ''}
        </span>
        <span>{figures(trace.to, 4)} s</span>
      </footer>
    </Frame>
  )
}

function Lane({
  trace,
  lane,
  circuit,
  stretches,
}: {
  trace: Drawn
  lane: Drawn['lanes'][number]
  circuit: Circuit
  stretches: Stretches
}) {
  const theme = useTheme()
  const about = circuit.lanes.find((l) => l.name === lane.name)
  const role = about?.role ?? 'signal'
  const { bottom, top } = lane
  const y = (v: number) => (100 * (top - v)) / (top - bottom)
  const x = (k: number) => (WIDTH * (k + 0.5)) / lane.low.length
  const edge = (values: number[]) => values.map((v, k) => `${fixed(x(k), 1)} ${fixed(y(v), 2)}`)
  const path = `M${edge(lane.high).join('L')}L${edge(lane.low).reverse().join('L')}Z`
  const at = (t: number) => (WIDTH * (t - trace.from)) / (trace.to - trace.from)
  const main = role === 'signal' || role === 'current'
  return (
    <Row data-main={main}>
      <b>
        {about?.title ?? lane.name} <span className="num">{lane.unit}</span>
      </b>
      <svg viewBox={`0 0 ${WIDTH} 100`} preserveAspectRatio="none" aria-hidden="true">
        {stretches
          .filter((s) => s.lane === null || s.lane === lane.name)
          .map((s, k) => (
            <rect
              key={k}
              x={at(s.from) - 2}
              y={0}
              width={Math.max(at(s.to) - at(s.from), 0) + 4}
              height={100}
              fill={theme.colour.warn}
              stroke={theme.colour.warnEdge}
              vectorEffect="non-scaling-stroke"
            />
          ))}
        <path
          d={path}
          fill={theme.colour.lane[role]}
          stroke={theme.colour.lane[role]}
          strokeWidth={1.5}
          strokeLinejoin="round"
          vectorEffect="non-scaling-stroke"
        />
      </svg>
    </Row>
  )
}

const Frame = styled.figure`
  display: flex;
  flex-direction: column;
  gap: 4px;
  margin: 0;
  padding: 8px 12px;
  min-height: 0;
  background: ${(p) => p.theme.colour.sheet};
  border: 1px solid ${(p) => p.theme.colour.hair};
  border-radius: ${(p) => p.theme.radius};
  footer {
    display: flex;
    justify-content: space-between;
    gap: 12px;
    padding-left: 92px;
    font-size: 12.5px;
    color: ${(p) => p.theme.colour.muted};
  }
`

const Row = styled.div`
  flex: 1 1 0;
  display: grid;
  grid-template-columns: 84px minmax(0, 1fr);
  gap: 8px;
  min-height: 0;
  &[data-main='true'] {
    flex-grow: 3;
  }
  b {
    align-self: center;
    font-size: 13px;
    font-weight: 600;
    line-height: 1.2;
  }
  svg {
    width: 100%;
    height: 100%;
    min-height: 0;
    background: ${(p) => p.theme.colour.sunk};
  }
`

const Empty = styled.div`
  display: grid;
  place-items: center;
  padding: 20px;
  text-align: center;
  color: ${(p) => p.theme.colour.muted};
  background: ${(p) => p.theme.colour.sunk};
  border: 1px dashed ${(p) => p.theme.colour.edge};
  border-radius: ${(p) => p.theme.radius};
`
