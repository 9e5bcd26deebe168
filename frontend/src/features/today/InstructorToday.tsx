import { Link } from 'react-router'
import styled from 'styled-components'
import { Empty, Muted, PageHead, Panel, Stack, Table } from '../../ui/layout'
import { Certainty, Stage } from '../../ui/marks'
import { slipsOf } from '../../shared/slips'
import { dayText } from '../../ui/time'
import type { Today } from './queries'

export function InstructorToday({ today, name }: { today: Today; name: string }) {
  const { waiting, drifting, in_hand: cards } = today
  const further = today.to_settle - waiting.length
  return (
    <>
      <PageHead
        title={`Today, ${name}`}
        about={today.courses.map((c) => c.title).join(' · ') || 'no course yet'}
      />
      <Two>
        <Panel>
          <h2>To settle: {today.to_settle}</h2>
          {waiting.length === 0 ? (
            <Empty>
              <p>No sitting waits for you. They appear here as soon as a learner hands in.</p>
            </Empty>
          ) : (
            <Waiting>
              <thead>
                <tr>
                  <th>Learner and card</th>
                  <th>Tool is</th>
                  <th>Mistakes noticed</th>
                </tr>
              </thead>
              <tbody>
                {waiting.map((w) => (
                  <tr key={w.id}>
                    <td>
                      <Link to={`/marking/${w.id}`}>{w.learner}</Link>
                      <br />
                      <Muted>
                        {w.title}, attempt {w.attempt}, {dayText(w.handed_in_at)}
                      </Muted>
                    </td>
                    <td>
                      {w.certainty === null ? (
                        <Muted>working marks out</Muted>
                      ) : (
                        <Certainty value={w.certainty} />
                      )}
                    </td>
                    <td>
                      <Muted>{slipsOf(w)}</Muted>
                    </td>
                  </tr>
                ))}
              </tbody>
            </Waiting>
          )}
          {further > 0 && (
            <p>
              <Link to="/marking">{further} more at the marking desk</Link>
            </p>
          )}
        </Panel>
        <Stack>
          <Panel>
            <h2>Learners drifting</h2>
            {drifting.length === 0 ? (
              <Muted>Nobody’s skill fell in their last sitting.</Muted>
            ) : (
              <Table>
                <tbody>
                  {drifting.map((d) => (
                    <tr key={d.id}>
                      <td>
                        <Link to={`/skill/${d.course_id}/${d.id}`}>{d.name}</Link>
                      </td>
                      <td>{d.skill}</td>
                      <td className="num">
                        {Math.round(d.estimate * 100)} %, down {Math.round(-d.change * 100)}
                      </td>
                    </tr>
                  ))}
                </tbody>
              </Table>
            )}
          </Panel>
          <Panel>
            <h2>Job cards</h2>
            <Table>
              <tbody>
                {cards.map((c) => (
                  <tr key={c.id}>
                    <td>
                      <Link to={`/cards/${c.id}`}>{c.title}</Link>
                      <br />
                      <Muted>
                        {c.due ? `due ${dayText(c.due)} · ` : ''}
                        {c.sittings} {c.sittings === 1 ? 'sitting' : 'sittings'}
                      </Muted>
                    </td>
                    <td>
                      <Stage stage={c.state} />
                    </td>
                  </tr>
                ))}
              </tbody>
            </Table>
            <p>
              <Link to="/cards">All job cards</Link>
            </p>
          </Panel>
        </Stack>
      </Two>
    </>
  )
}

const Waiting = styled(Table)`
  td:first-child {
    width: 48%;
  }
`

const Two = styled.div`
  display: grid;
  grid-template-columns: 1.45fr 1fr;
  gap: 12px;
  align-items: start;
  @media (max-width: 900px) {
    grid-template-columns: 1fr;
  }
`
