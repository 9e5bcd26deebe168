import { useMutation, useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { Button } from '../../ui/Button'
import { Choice } from '../../ui/fields'
import { Muted, Note, Panel, Row, Table } from '../../ui/layout'
import { useWho } from '../../shared/who'
import { askSecond, colleaguesQuery, withdrawSecond, type MarkSheet } from './queries'

interface Props {
  sheet: MarkSheet
  onSheet: (next: MarkSheet) => void
}

/** Ask a colleague to mark the sitting unseen; their marks stand beside these once they are given. */
export function SecondMarker({ sheet, onSheet }: Props) {
  const me = useWho()
  const { data: members = [] } = useQuery(colleaguesQuery(sheet.course_id))
  const others = members.filter((m) => m.role === 'instructor' && m.active && m.id !== me.id)
  const [chosen, setChosen] = useState<string | null>(null)
  const ask = useMutation({ mutationFn: (id: number) => askSecond(sheet.id, id), onSuccess: onSheet })
  const withdraw = useMutation({ mutationFn: () => withdrawSecond(sheet.id), onSuccess: onSheet })
  const second = sheet.second
  const error = ask.error ?? withdraw.error
  if (sheet.practice || (!second && others.length === 0)) return null
  const apart = sheet.grade.results.filter(
    (r) =>
      second?.marks[r.criterion] !== undefined &&
      Math.abs((second.marks[r.criterion] ?? 0) - r.settled) > 0.005,
  )
  return (
    <Panel style={{ marginTop: 12 }}>
      <h2>A second marker</h2>
      {!second && (
        <Row>
          <Muted>A colleague marks this sitting without seeing whose it is or what you decided.</Muted>
          <div style={{ width: 220 }}>
            <Choice
              hidden
              label="Second marker"
              placeholder="Choose a colleague"
              value={chosen}
              onChange={setChosen}
              options={others.map((m) => ({ key: String(m.id), text: m.name }))}
            />
          </div>
          <Button isDisabled={!chosen || ask.isPending} onPress={() => ask.mutate(Number(chosen))}>
            Ask
          </Button>
        </Row>
      )}
      {second && !second.done_at && (
        <Row>
          <p>{second.marker} is asked to mark it, and has not done so yet.</p>
          <Button $quiet onPress={() => withdraw.mutate()}>
            Ask no more
          </Button>
        </Row>
      )}
      {second?.done_at && (
        <>
          <p>
            {second.marker}{' '}
            {apart.length === 0
              ? 'gives the same points everywhere.'
              : `gives other points for ${apart.length} of ${sheet.grade.results.length} criteria.`}{' '}
            {second.words && `“${second.words}”`}
          </p>
          {apart.length > 0 && (
            <Table>
              <thead>
                <tr>
                  <th>Criterion</th>
                  <th>As it stands</th>
                  <th>{second.marker}</th>
                </tr>
              </thead>
              <tbody>
                {apart.map((r) => (
                  <tr key={r.criterion}>
                    <td>{r.title}</td>
                    <td className="num">
                      {r.settled} of {r.points}
                    </td>
                    <td className="num">{second.marks[r.criterion]}</td>
                  </tr>
                ))}
              </tbody>
            </Table>
          )}
        </>
      )}
      {error && <Note kind="error">{error.message}</Note>}
    </Panel>
  )
}
