import styled from 'styled-components'
import type { Circuit } from '../../shared/facts'
import type { Sitting } from './queries'

/** The card's first caution, its warning in front. */
export function Caution({ sitting, circuit }: { sitting: Sitting; circuit: Circuit }) {
  const first = circuit.cautions.find((c) => sitting.card.cautions.includes(c.key))?.text ?? ''
  const [, warning = first, more = ''] = /^(.*?\.)(?: (.*))?$/s.exec(first) ?? []
  return (
    <Framed>
      <b>{warning}</b> {more} Follow the maker and your workshop’s rules.
    </Framed>
  )
}

const Framed = styled.p`
  padding: 4px 10px;
  font-size: 12.5px;
  line-height: 1.3;
  border: 1px solid ${(p) => p.theme.colour.warnEdge};
  border-radius: 4px;
  background: ${(p) => p.theme.colour.warn};
`
