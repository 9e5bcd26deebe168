import { useSuspenseQuery } from '@tanstack/react-query'
import styled from 'styled-components'
import { factsQuery, type Circuit } from '../../shared/facts'
import type { Sitting } from './queries'

/** What the card tells, in the place where the trace will stand. */
export function Brief({ sitting, circuit }: { sitting: Sitting; circuit: Circuit }) {
  const { card } = sitting
  return (
    <Paper>
      <h2>{card.title}</h2>
      {card.brief.split('\n').map((line, k) => (
        <p key={k}>{line}</p>
      ))}
      <Complaint condition={card.complaint} />
      <h3>Setting up</h3>
      <ul>
        {card.schools.map((s) => (
          <li key={s.key}>{s.says}</li>
        ))}
        {/* Where setting up or connecting is asked for, it is not told. */}
        {!card.steps.some((s) => s.kind === 'set_up' || s.kind === 'connect') &&
          circuit.setup_advice.map((a) => <li key={a}>{a}</li>)}
      </ul>
      <p>Your trace takes this place once you have captured it.</p>
    </Paper>
  )
}

/** When the complaint shows: a capture that never had that condition leaves it open. */
function Complaint({ condition }: { condition: string }) {
  const { data: facts } = useSuspenseQuery(factsQuery)
  const text = facts.conditions.find((c) => c.key === condition)?.text
  if (condition === 'always' || !text) return null
  return (
    <p>
      When the complaint shows: <b>{text.charAt(0).toLowerCase() + text.slice(1)}</b>.
    </p>
  )
}

const Paper = styled.section`
  overflow: auto;
  padding: 18px 22px;
  background: ${(p) => p.theme.colour.sheet};
  border: 1px solid ${(p) => p.theme.colour.hair};
  border-radius: ${(p) => p.theme.radius};
  font-size: 16px;
  > * + * {
    margin-top: 10px;
  }
  p {
    max-width: 66ch;
  }
`
