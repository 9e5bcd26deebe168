import { fixed } from '../../ui/numbers'
import { useSuspenseQuery } from '@tanstack/react-query'
import { useMemo, useState } from 'react'
import { Link, useSearchParams } from 'react-router'
import styled, { useTheme } from 'styled-components'
import { BESIDE } from '../../plot/draw'
import { Strip } from '../../plot/Strip'
import type { Ghost, Pegs } from '../../plot/types'
import { useCircuit, usePegValues, useTrace } from '../../shared/facts'
import { alignments, shiftBy, useAlignment } from '../../shared/alignment'
import { Button } from '../../ui/Button'
import { Choice } from '../../ui/fields'
import { Muted, Page, PageHead, Panel, Table, TraceAndSide } from '../../ui/layout'
import { CallBadge, type Call } from '../../ui/marks'
import { compareQuery, type Comparison } from './queries'

/** Two to four references of one circuit on one strip, and the readings that part them, the most telling first. */
export function ComparePage() {
  const [query] = useSearchParams()
  const { data } = useSuspenseQuery(compareQuery(query.get('ids') ?? ''))
  return <Compared key={query.get('ids')} data={data} />
}

function Compared({ data }: { data: Comparison }) {
  const circuit = useCircuit(data.circuit)
  const [first, ...others] = data.references
  const { by, onBy, options } = useAlignment(
    alignments(
      first?.phases ?? [],
      others.map((o) => o.phases),
    ),
  )
  const [scaled, setScaled] = useState(false)
  const [pegs, setPegs] = useState<Pegs>([null, null])
  const trace = useTrace(first?.capture_id ?? null, data.circuit)
  // Four at the most, each asked for by a hook of its own.
  const beneath = [
    useTrace(others[0]?.capture_id ?? null, data.circuit),
    useTrace(others[1]?.capture_id ?? null, data.circuit),
    useTrace(others[2]?.capture_id ?? null, data.circuit),
  ]
  const values = usePegValues(first?.capture_id ?? null, pegs)
  const [one, two, three] = beneath
  const beside = useMemo(
    () =>
      [one, two, three].flatMap((t, k): Ghost[] => {
        const other = data.references[k + 1]
        const own = data.references[0]
        if (!t || !other || !own) return []
        const shiftS = shiftBy(
          by,
          { phases: own.phases, startS: trace?.record.startS ?? 0 },
          { phases: other.phases, startS: t.record.startS },
        )
        return [{ ...t, shiftS, label: other.title, nth: k, scaled }]
      }),
    [one, two, three, by, scaled, data.references, trace],
  )
  if (!first) return null
  return (
    <Page>
      <PageHead title="Compare" about={`${circuit.title}: ${others.length + 1} references`}>
        <Choice hidden label="Aligned by" value={by} onChange={onBy} options={options} />
        <Button aria-pressed={scaled} onPress={() => setScaled(!scaled)}>
          {scaled ? 'Heights scaled to the first' : 'Heights as measured'}
        </Button>
      </PageHead>
      <TraceAndSide $side={430} $below={132}>
        {trace ? (
          <Strip
            {...trace}
            phases={first.phases}
            beside={beside}
            pegs={pegs}
            onPegs={setPegs}
            values={values}
          />
        ) : (
          <div />
        )}
        <Panel $pad={false} style={{ overflow: 'auto' }}>
          <Legend>
            {data.references.map((r, k) => (
              <li key={r.id}>
                <Sample nth={k - 1} />
                <Link to={`/shelf/${r.id}`}>{r.title}</Link> <CallBadge call={r.call as Call} />
                {r.shape_only && <Muted>another design: its shape only</Muted>}
              </li>
            ))}
          </Legend>
          <Table>
            <thead>
              <tr>
                <th>Reading</th>
                {data.references.map((r, k) => (
                  <th key={r.id}>
                    <Sample nth={k - 1} />
                  </th>
                ))}
              </tr>
            </thead>
            <tbody>
              {data.rows.map((row) => {
                const spec = circuit.readings.find((s) => s.id === row.reading)
                if (!spec) return null
                return (
                  <tr key={row.reading}>
                    <td>
                      {spec.title} <Muted>{spec.unit}</Muted>
                      {row.matters === 0 && row.values.every((v) => v !== null) && <Muted> alike</Muted>}
                    </td>
                    {row.values.map((v, k) => (
                      <td key={k} className="num">
                        {v === null ? '—' : fixed(v, spec.decimals)}
                      </td>
                    ))}
                  </tr>
                )
              })}
            </tbody>
          </Table>
        </Panel>
      </TraceAndSide>
    </Page>
  )
}

/** The line that a reference is drawn with; the first is the strip's own. */
function Sample({ nth }: { nth: number }) {
  const theme = useTheme()
  const own = BESIDE[nth]
  return (
    <svg width="34" height="10" aria-hidden="true">
      <path
        d="M1 5h32"
        stroke={theme.colour.lane[own?.role ?? 'signal']}
        strokeWidth="2.4"
        strokeDasharray={own?.dash.join(' ')}
      />
    </svg>
  )
}

const Legend = styled.ul`
  margin: 0;
  padding: 10px 14px;
  list-style: none;
  li {
    display: flex;
    flex-wrap: wrap;
    align-items: center;
    gap: 4px 8px;
    padding: 3px 0;
  }
`
