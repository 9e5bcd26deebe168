import { fixed } from '../ui/numbers'
import { Muted, Panel, Table } from '../ui/layout'
import type { Circuit } from './facts'

export interface Beside {
  reading: string
  unit: string
  cylinder: number
  value: number
  expected: number
  apart: number
  told: boolean
}

const SHOWN = 6

/** Each cylinder against the same one of the reference: those that differ, or that none does. */
export function BesideReference({ rows, circuit }: { rows: Beside[]; circuit: Circuit }) {
  if (rows.length === 0) return null
  const told = rows.filter((r) => r.told).slice(0, SHOWN)
  return (
    <Panel style={{ marginTop: 12 }}>
      <h2>Cylinders against the reference</h2>
      {told.length === 0 ? (
        <Muted>No cylinder differs from the same one of the reference by more than engines do.</Muted>
      ) : (
        <Table>
          <tbody>
            {told.map((r) => {
              const spec = circuit.readings.find((x) => x.id === r.reading)
              const figure = (v: number) => `${fixed(v, spec?.decimals ?? 2)} ${r.unit}`
              return (
                <tr key={`${r.reading}-${r.cylinder}`}>
                  <td style={{ width: 260 }}>
                    Cylinder {r.cylinder}, {(spec?.title ?? r.reading).toLowerCase()}
                  </td>
                  <td className="num">
                    {figure(r.value)} where the reference leads one to expect {figure(r.expected)}
                  </td>
                  <td className="num">
                    {fixed(Math.abs(r.apart), 0)} spreads {r.apart > 0 ? 'over' : 'under'}
                  </td>
                </tr>
              )
            })}
          </tbody>
        </Table>
      )}
    </Panel>
  )
}
