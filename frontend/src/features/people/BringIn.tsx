import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import styled from 'styled-components'
import { Button } from '../../ui/Button'
import { Choice, Text } from '../../ui/fields'
import { Muted, Note, Panel, Row, Stack, Table } from '../../ui/layout'
import { Links, type Link } from './Links'
import { lookAtTable, type TableRow } from './queries'

interface Props {
  courses: { id: number; title: string }[]
  /** An administrator may make accounts outside a course, and of every role. */
  everyRole: boolean
}

/** Bring people in: typed or pasted, looked at row by row, then made with a link for each. */
export function BringIn({ courses, everyRole }: Props) {
  const [text, setText] = useState('')
  const [chosen, setChosen] = useState<string | null>(null)
  const [rows, setRows] = useState<TableRow[] | null>(null)
  const [links, setLinks] = useState<Link[]>([])
  const client = useQueryClient()
  const course = chosen ?? (everyRole ? 'none' : String(courses[0]?.id ?? ''))
  const courseId = course === 'none' ? null : Number(course)
  const look = useMutation({ mutationFn: () => lookAtTable(text, courseId, false), onSuccess: setRows })
  const keep = useMutation({
    mutationFn: () => lookAtTable(text, courseId, true),
    onSuccess: (made) => {
      setLinks(made.flatMap((r) => (r.token === null ? [] : [{ ...r, token: r.token }])))
      setText('')
      setRows(null)
      void client.invalidateQueries({ queryKey: ['people'] })
      void client.invalidateQueries({ queryKey: ['members'] })
    },
  })
  const wrong = rows?.filter((r) => r.state === 'wrong').length ?? 0
  const error = look.error ?? keep.error
  return (
    <Panel>
      <h2>Bring people in</h2>
      {links.length > 0 ? (
        <Links links={links} onDone={() => setLinks([])} />
      ) : (
        <Stack $gap={10}>
          <Text
            label={
              everyRole
                ? 'One person a line, or pasted from a table: name, sign-in name, role'
                : 'One learner a line, or pasted from a table: name, sign-in name'
            }
            value={text}
            onChange={(t) => {
              setText(t)
              setRows(null)
            }}
            lines={5}
          />
          <Choice
            label="Into the course"
            value={course}
            onChange={(c) => {
              setChosen(c)
              setRows(null)
            }}
            options={[
              ...(everyRole ? [{ key: 'none', text: 'No course yet' }] : []),
              ...courses.map((c) => ({ key: String(c.id), text: c.title })),
            ]}
          />
          <Muted>
            A sign-in name is made of the name where none is given
            {everyRole ? '; without a role, a learner' : ''}. Everybody gets a link to choose their own
            password.
          </Muted>
          {error && <Note kind="error">{error.message}</Note>}
          {rows && <Rows rows={rows} />}
          <Row>
            {rows && wrong === 0 ? (
              <Button $main isDisabled={keep.isPending} onPress={() => keep.mutate()}>
                Bring {rows.length === 1 ? 'this one' : `these ${rows.length}`} in
              </Button>
            ) : (
              <Button $main isDisabled={!text.trim() || look.isPending} onPress={() => look.mutate()}>
                Look it over
              </Button>
            )}
            {wrong > 0 && (
              <Muted>{wrong === 1 ? 'One line needs' : `${wrong} lines need`} a change above.</Muted>
            )}
          </Row>
        </Stack>
      )}
    </Panel>
  )
}

function Rows({ rows }: { rows: TableRow[] }) {
  return (
    <Found>
      <Table>
        <tbody>
          {rows.map((r) => (
            <tr key={r.line}>
              <td className="num">{r.line}</td>
              <td>{r.name}</td>
              <td className="num">{r.sign_in}</td>
              <td>
                {r.state === 'wrong' ? (
                  <Wrong>{r.problem}</Wrong>
                ) : r.state === 'known' ? (
                  <Muted>has an account</Muted>
                ) : (
                  r.role
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </Table>
    </Found>
  )
}

const Found = styled.div`
  max-height: 300px;
  overflow: auto;
  border: 1px solid ${(p) => p.theme.colour.hair};
  border-radius: ${(p) => p.theme.radius};
`

const Wrong = styled.span`
  color: ${(p) => p.theme.colour.fault};
`
