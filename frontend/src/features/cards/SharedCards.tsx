import { useSuspenseQuery } from '@tanstack/react-query'
import { Link } from 'react-router'
import { factsQuery } from '../../shared/facts'
import { Muted, Panel, Table } from '../../ui/layout'
import { CopyCard } from './CopyCard'
import { sharedCardsQuery } from './queries'

/** Cards of other courses that their owners share with the school. */
export function SharedCards() {
  const { data } = useSuspenseQuery(sharedCardsQuery)
  const { data: facts } = useSuspenseQuery(factsQuery)
  if (data.length === 0) return null
  return (
    <Panel $pad={false} style={{ marginTop: 12 }}>
      <Table>
        <thead>
          <tr>
            <th>Shared by other courses</th>
            <th>Circuit</th>
            <th>By</th>
            <th>
              <span className="hidden-text">What to do</span>
            </th>
          </tr>
        </thead>
        <tbody>
          {data.map((card) => (
            <tr key={card.id}>
              <td>
                <Link to={`/cards/${card.id}`}>{card.title}</Link>
                <br />
                <Muted>
                  {card.course} · {card.steps} steps
                </Muted>
              </td>
              <td>{facts.circuits.find((c) => c.code === card.circuit)?.title}</td>
              <td>{card.author}</td>
              <td style={{ width: 190 }}>
                <CopyCard id={card.id} title={card.title} />
              </td>
            </tr>
          ))}
        </tbody>
      </Table>
    </Panel>
  )
}
