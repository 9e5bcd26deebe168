import styled from 'styled-components'
import { Muted, Note, Panel } from '../../ui/layout'
import { fixed } from '../../ui/numbers'
import type { Suspicion } from './queries'
import { place } from './words'

const SHOWN = 6

const share = (p: number) => (p < 0.005 ? 'under 1 %' : `${fixed(100 * p)} %`)
const numbered = (at: number[]) => at.map((k) => k + 1).join(', ')

/** Who is suspected, what speaks for each, and whether one may stop. */
export function SuspectList({ found }: { found: Suspicion }) {
  const out = found.suspects.filter((s) => s.ruled_out).length
  const first = found.suspects[0]
  return (
    <Panel aria-label="Suspects">
      <h2>Suspects</h2>
      {found.supported && first ? (
        <Note>
          Supported: {first.title}
          {first.place && `, ${place(first.place)}`}. Before ordering, say what comes next if it does not
          cure.
        </Note>
      ) : (
        <Muted>Not supported yet: {found.why_not[0]}.</Muted>
      )}
      <List>
        {found.suspects.slice(0, SHOWN).map((s) => (
          <li key={s.cause} data-out={s.ruled_out || undefined}>
            <span className="name">
              {s.title}
              {s.place && <Muted> {place(s.place)}</Muted>}
            </span>
            <span className="num">{s.ruled_out ? 'ruled out' : share(s.probability)}</span>
            <Bar style={{ width: `${100 * s.probability}%` }} aria-hidden="true" />
            <small>
              {s.speaks_for.length > 0 && <>for: {numbered(s.speaks_for)} </>}
              {s.speaks_against.length > 0 && <>against: {numbered(s.speaks_against)}</>}
              {s.speaks_for.length + s.speaks_against.length === 0 && 'nothing measured speaks of it'}
            </small>
          </li>
        ))}
      </List>
      {found.pairs.map((p) => (
        <Muted key={p.causes.join()}>
          Both at once: {p.causes.join(' and ')}, {share(p.probability)}.{' '}
        </Muted>
      ))}
      <Muted>
        {found.suspects.length} causes that this vehicle can have, {out} ruled out by captures.
      </Muted>
    </Panel>
  )
}

const List = styled.ol`
  list-style: none;
  margin: 10px 0;
  padding: 0;
  li {
    display: grid;
    grid-template-columns: 1fr auto;
    gap: 0 10px;
    padding: 6px 0;
    border-bottom: 1px solid ${(p) => p.theme.colour.faint};
  }
  li[data-out] .name {
    text-decoration: line-through;
    color: ${(p) => p.theme.colour.muted};
  }
  small {
    grid-column: 1 / 3;
    font-size: 12.5px;
    color: ${(p) => p.theme.colour.muted};
  }
`

const Bar = styled.span`
  grid-column: 1 / 3;
  height: 5px;
  min-width: 1px;
  margin: 2px 0;
  background: ${(p) => p.theme.colour.focus};
`
