import { useQuery, type UseQueryResult } from '@tanstack/react-query'
import styled from 'styled-components'
import { Muted, Note, Panel, Stack, Table, Two } from '../../ui/layout'
import { checkingKey, type CardCheck } from './queries'

/** From which part of the points somebody who never looks earns too much. */
const TOO_MUCH = 0.3

interface Props {
  checked: UseQueryResult<CardCheck>
  /** True while there is work on the card that was not kept yet. */
  changed: boolean
}

const ON = {
  trainer: 'a recording of the trainer with this part',
  reference: 'the reference’s capture',
  given: 'the capture that it gives',
}

/** Before a card is published: the tool sits it, makes each typical mistake on it, and plays it without looking. */
export function CardCheckView({ checked, changed }: Props) {
  const { data, error, isPending, isEnabled } = checked
  const { data: share = 0 } = useQuery<number>({ queryKey: checkingKey, enabled: false })
  const own = data?.own
  const on = ON[data?.on ?? 'reference']
  const short = own?.results.filter((r) => r.earned < r.points - 0.001) ?? []
  const most = Math.max(0, ...(data?.strategies ?? []).map((s) => s.share))
  return (
    <Stack>
      {!isEnabled && <Note>Keep the draft: then the tool sits the card, and what it finds stands here.</Note>}
      {changed && isEnabled && <Note>These figures are of the card as it was last kept.</Note>}
      {isEnabled && isPending && <Muted>The tool sits the card… {Math.round(100 * share)} %</Muted>}
      {error && <Note kind="error">{error.message}</Note>}
      {data && !own && (
        <Note>Choose a reference from the shelf, or the trainer: the card is played on its capture.</Note>
      )}
      {data && own && (
        <Two $left={1.35}>
          <Panel>
            <h2>
              The tool’s own score: {own.earned} of {own.points}
            </h2>
            <Muted>
              Sat on {on}, with the answers that the trace gives.
              {own.left_out.length > 0 && ' Records and explanations are the learner’s own, and left out.'}
            </Muted>
            {short.map((r) => (
              <Note kind="warn" key={r.title}>
                {r.title}: {r.earned} of {r.points}. {r.reason}
              </Note>
            ))}
            <Table>
              <thead>
                <tr>
                  <th>One mistake made</th>
                  <th>costs</th>
                  <th>at</th>
                </tr>
              </thead>
              <tbody>
                {own.mistakes.map((m) => (
                  <tr key={m.key}>
                    <td>{m.title}</td>
                    <td className="num">{m.cost}</td>
                    <td>
                      <Muted>{m.where.join(', ') || 'nothing on this card'}</Muted>
                    </td>
                  </tr>
                ))}
              </tbody>
            </Table>
          </Panel>
          <Panel>
            <h2>Earned without looking</h2>
            <Muted>
              Of the points for reading the trace, on the same capture; what earns most comes first.
            </Muted>
            <List>
              {worstFirst(data.strategies).map((s) => (
                <li key={s.key}>
                  <span>{s.title}</span>
                  <Bar aria-hidden="true" data-much={s.share > TOO_MUCH || undefined}>
                    <i style={{ width: `${Math.round(100 * s.share)}%` }} />
                  </Bar>
                  <b className="num">{Math.round(100 * s.share)} %</b>
                </li>
              ))}
            </List>
            {most > TOO_MUCH && (
              <Muted>
                A guess that happens to be right always earns something: balance sound, faulty and ‘cannot
                tell’ over the course, and give readings and evidence more of the points.
              </Muted>
            )}
          </Panel>
        </Two>
      )}
    </Stack>
  )
}

const worstFirst = <S extends { share: number }>(all: S[]): S[] => [...all].sort((a, b) => b.share - a.share)

const List = styled.ul`
  padding: 0;
  list-style: none;
  li {
    display: grid;
    grid-template-columns: minmax(0, 1fr) 90px 52px;
    gap: 10px;
    align-items: center;
    min-height: 34px;
    font-size: 14px;
  }
  b {
    text-align: right;
  }
`

const Bar = styled.span`
  height: 8px;
  border-radius: 2px;
  background: ${(p) => p.theme.colour.faint};
  i {
    display: block;
    height: 100%;
    border-radius: 2px;
    background: ${(p) => p.theme.colour.sound};
  }
  &[data-much] i {
    background: ${(p) => p.theme.colour.unsure};
  }
`
