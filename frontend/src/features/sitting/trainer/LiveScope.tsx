/** The running scope in the place of the trace. */
import { counted } from '../../../ui/numbers'
import styled from 'styled-components'
import { LiveTrace, type LiveLane } from '../../../plot/LiveTrace'
import type { Circuit } from '../../../shared/facts'
import type { RunSettings } from '../queries'
import type { Run } from './useRun'

interface Props {
  circuit: Circuit
  run: Run
  settings: RunSettings
}

export function LiveScope({ circuit, run, settings }: Props) {
  const { frame, reach } = run
  const lanes: LiveLane[] = (frame?.lanes ?? []).map((l) => {
    const [lowest, highest] = reach[l.name] ?? [0, 1]
    const spec = circuit.lanes.find((own) => own.name === l.name)
    return {
      lane: l.name,
      title: spec?.title ?? l.name,
      role: spec?.role ?? 'signal',
      unit: l.unit,
      lowest,
      highest,
      low: l.low,
      high: l.high,
    }
  })
  const length = settings.duration_s
  const rolls = frame?.rolls ?? false
  const view = rolls ? { from: -length, to: 0 } : { from: 0, to: length }
  const filled = rolls ? { from: -(frame?.seconds ?? 0), to: 0 } : { from: 0, to: frame?.length_s ?? 0 }
  return (
    <LiveTrace lanes={lanes} view={view} filled={filled}>
      <Told role="status">
        <b>live</b>
        {frame?.scan.map(([name, value, unit]) => (
          <span key={name} className="num">
            {name} {counted(value)} {unit}
          </span>
        ))}
        {lanes.length === 0 && (
          <span>{frame?.waits ? 'waiting for the trigger' : 'the first record is being taken'}</span>
        )}
      </Told>
    </LiveTrace>
  )
}

const Told = styled.p`
  position: absolute;
  top: 32px;
  left: 140px;
  right: 14px;
  display: flex;
  gap: 18px;
  overflow: hidden;
  white-space: nowrap;
  font-size: 13.5px;
  color: ${(p) => p.theme.colour.soft};
  b {
    color: ${(p) => p.theme.colour.fault};
  }
`
