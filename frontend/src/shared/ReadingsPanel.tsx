import { figures, fixed } from '../ui/numbers'
import styled from 'styled-components'
import { CallBadge, Gauge, type Call, type State } from '../ui/marks'
import type { Answer, Circuit } from './facts'
import { BASIS, limitText, zoneText } from './limits'

interface Props {
  answer: Answer
  circuit: Circuit
  /** What a number in the row is: a cylinder only where the firing order is told. */
  place?: string
  selected: string | null
  onSelect: (id: string | null) => void
}

/** Readings with their limits, and findings; choosing one takes the strip there. */
export function ReadingsPanel({ answer, circuit, place = 'Cylinder', selected, onSelect }: Props) {
  const choose = (id: string) => onSelect(id === selected ? null : id)
  const readings = answer.readings.filter((r) => r.cycle === null && r.cylinder === null)
  return (
    <Side>
      <h2 className="small">
        Readings <i>value · limit · basis</i>
      </h2>
      <ul>
        {circuit.readings.map((spec) => {
          const reading = readings.find((r) => r.id === spec.id)
          if (!reading) return null
          const limits = answer.limits.filter((l) => l.reading === spec.id)
          const decides = limits.find((l) => l.decides)
          const id = `reading-${spec.id}`
          return (
            <li key={id}>
              <button
                aria-pressed={id === selected}
                title={`${spec.definition}; ${spec.taken}`}
                onClick={() => choose(id)}
              >
                <span>
                  {spec.title}
                  {decides && (
                    <small
                      title={`${zoneText(decides, spec.unit)}${decides.source ? `. ${decides.source}` : ''}`}
                    >
                      {BASIS[decides.basis]} {limitText(decides, spec.unit)}
                    </small>
                  )}
                  {decides?.says && <small>{decides.says}</small>}
                  {limits
                    .filter((l) => !l.decides && l.state !== 'inside')
                    .map((l) => (
                      <small key={l.basis}>
                        note: {l.state} {BASIS[l.basis]} {limitText(l, spec.unit)}
                      </small>
                    ))}
                </span>
                <b
                  className="num"
                  title={`standard uncertainty ${figures(reading.uncertainty, 2)} ${spec.unit}`}
                >
                  {fixed(reading.value, spec.decimals)} {spec.unit}
                </b>
                {decides ? (
                  <Gauge
                    value={reading.value}
                    low={decides.low}
                    high={decides.high}
                    zone={decides.zone}
                    state={decides.state as State}
                  />
                ) : (
                  <span />
                )}
              </button>
            </li>
          )
        })}
      </ul>
      {answer.findings.length > 0 && <h2 className="small">Findings</h2>}
      {answer.findings.map((finding, k) => {
        const id = `finding-${k}`
        const title = circuit.findings.find((f) => f.code === finding.code)?.title ?? finding.code
        return (
          <Finding
            key={id}
            data-kind={finding.kind}
            aria-pressed={id === selected}
            onClick={() => choose(id)}
          >
            <b>{title}</b> <span className="num">{fixed(finding.from, 2)} s</span> {finding.text}
          </Finding>
        )
      })}
      <ByCylinder answer={answer} circuit={circuit} place={place} />
    </Side>
  )
}

/** What the core calls it, and because of what. */
export function CallFoot({ answer, circuit }: { answer: Answer; circuit: Circuit }) {
  return (
    <CallBox>
      <CallBadge call={answer.call as Call} />
      <p>{callText(answer, circuit)}</p>
    </CallBox>
  )
}

/** Readings of each cylinder side by side; the one that a finding names is marked. */
function ByCylinder({ answer, circuit, place }: { answer: Answer; circuit: Circuit; place: string }) {
  const own = answer.readings.filter((r) => r.cylinder !== null && r.cycle === null)
  const cylinders = [...new Set(own.map((r) => r.cylinder as number))].sort((a, b) => a - b)
  if (cylinders.length < 2) return null
  const odd = new Set(answer.findings.filter((f) => f.kind === 'fault').map((f) => f.cylinder))
  const rows = circuit.readings.filter((spec) => own.some((r) => r.id === spec.id))
  return (
    <Grid>
      <table>
        <thead>
          <tr>
            <th>{place}</th>
            {cylinders.map((c) => (
              <th key={c} data-odd={odd.has(c) || undefined}>
                {c}
                {odd.has(c) && <span> ◆</span>}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.map((spec) => (
            <tr key={spec.id}>
              <th scope="row">
                {spec.title} <small>{spec.unit}</small>
              </th>
              {cylinders.map((c) => {
                const reading = own.find((r) => r.id === spec.id && r.cylinder === c)
                return (
                  <td key={c} className="num" data-odd={odd.has(c) || undefined}>
                    {reading ? fixed(reading.value, spec.decimals) : '–'}
                  </td>
                )
              })}
            </tr>
          ))}
        </tbody>
      </table>
    </Grid>
  )
}

function callText(answer: Answer, circuit: Circuit): string {
  const named = answer.because.map(
    (code) =>
      circuit.findings.find((f) => f.code === code)?.title ??
      circuit.readings.find((r) => r.id === code)?.title ??
      code,
  )
  const because = [...new Set(named)].join(', ').toLowerCase()
  if (answer.call === 'faulty') return `Because of: ${because}.`
  if (answer.call === 'inconclusive') return `This capture hides the answer: ${because}.`
  return because
    ? `Nothing condemns the part. To be named with it: ${because}.`
    : 'Nothing is outside its limit.'
}

const Side = styled.aside`
  display: flex;
  flex-direction: column;
  min-height: 0;
  overflow: auto;
  background: ${(p) => p.theme.colour.sheet};
  border: 1px solid ${(p) => p.theme.colour.hair};
  border-radius: ${(p) => p.theme.radius};
  h2 {
    display: flex;
    justify-content: space-between;
    padding: 10px 14px 5px;
    i {
      font-style: normal;
      font-weight: 400;
    }
  }
  ul {
    list-style: none;
    padding: 0;
  }
  li button {
    display: grid;
    grid-template-columns: 1fr auto 78px;
    gap: 8px;
    align-items: center;
    width: 100%;
    padding: 2px 12px 2px 14px;
    line-height: 1.25;
    min-height: 36px;
    border: 0;
    border-top: 1px solid ${(p) => p.theme.colour.faint};
    background: none;
    text-align: left;
    font-size: 14.5px;
    cursor: pointer;
    &[aria-pressed='true'] {
      background: ${(p) => p.theme.colour.pick};
    }
    b {
      font-weight: 500;
      font-size: 16.5px;
      white-space: nowrap;
    }
    small {
      display: block;
      font-size: 12px;
      line-height: 1.3;
      color: ${(p) => p.theme.colour.muted};
    }
  }
`

const Grid = styled.div`
  overflow-x: auto;
  flex-shrink: 0;
  margin: 6px 0 8px;
  padding: 0 14px;
  table {
    width: 100%;
    border-collapse: collapse;
    font-size: 13.5px;
  }
  th,
  td {
    padding: 4px 5px;
    border-top: 1px solid ${(p) => p.theme.colour.faint};
    text-align: right;
    font-weight: 400;
    white-space: nowrap;
  }
  thead th {
    font-weight: 650;
    border-top: 0;
  }
  th:first-child {
    padding-left: 0;
    text-align: left;
  }
  small {
    color: ${(p) => p.theme.colour.muted};
  }
  [data-odd] {
    background: ${(p) => p.theme.colour.pick};
  }
  thead span {
    color: ${(p) => p.theme.colour.fault};
  }
`

const Finding = styled.button`
  margin: 0 14px 6px;
  padding: 3px 4px 3px 10px;
  border: 0;
  border-left: 4px solid ${(p) => p.theme.colour.unsure};
  background: none;
  text-align: left;
  font-size: 13.5px;
  line-height: 1.35;
  cursor: pointer;
  b {
    color: ${(p) => p.theme.colour.unsure};
  }
  &[data-kind='fault'] {
    border-color: ${(p) => p.theme.colour.fault};
    b {
      color: ${(p) => p.theme.colour.fault};
    }
  }
  &[aria-pressed='true'] {
    background: ${(p) => p.theme.colour.pick};
  }
`

const CallBox = styled.div`
  position: sticky;
  bottom: 0;
  margin-top: auto;
  padding: 9px 14px;
  background: ${(p) => p.theme.colour.sheet};
  border-top: 2px solid ${(p) => p.theme.colour.hair};
  font-size: 14px;
  p {
    margin-top: 5px;
  }
`
