import styled from 'styled-components'
import { Tick, ticked } from '../../ui/Tick'
import { Muted } from '../../ui/layout'
import type { CardDocument, MakerFacts } from './queries'

interface Props {
  source: CardDocument['source']
  /** Those of the card's circuit. */
  faults: MakerFacts['faults']
  set: (instead: string[]) => void
}

/** Which other parts are dealt out in turn with the card's own, so that a neighbour's call is no use either. */
export function Instead({ source, faults, set }: Props) {
  const own = source.fault ?? 'none'
  const instead = source.instead ?? []
  return (
    <details open={instead.length > 0}>
      <summary>
        {instead.length > 0
          ? `Dealt out in turn with ${instead.length} other part${instead.length > 1 ? 's' : ''}`
          : 'Deal out other parts as well'}
      </summary>
      <Among aria-label="Other parts that are dealt out in turn">
        {faults
          .filter((f) => f.key !== own)
          .map((f) => (
            <Tick key={f.key} on={instead.includes(f.key)} onSet={(on) => set(ticked(instead, f.key, on))}>
              {f.title}
            </Tick>
          ))}
      </Among>
      <Muted>
        The class takes turns: whoever sits beside another has another part. The card’s complaint, reference
        and steps stay the same, and each sitting is marked by its own trace.
      </Muted>
    </details>
  )
}

const Among = styled.fieldset`
  border: 0;
  margin: 8px 0;
  padding: 0;
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(190px, 1fr));
  gap: 4px 14px;
  label {
    min-height: 26px;
  }
`
