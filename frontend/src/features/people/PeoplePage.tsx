import { useMutation, useQueryClient, useSuspenseQuery } from '@tanstack/react-query'
import { useState } from 'react'
import styled from 'styled-components'
import { coursesQuery } from '../../shared/who'
import { Button } from '../../ui/Button'
import { Choice, Fields, Text } from '../../ui/fields'
import { Muted, Note, Page, PageHead, Panel, Row, Stack, Table } from '../../ui/layout'
import { addCourse, addPerson, membersQuery, peopleQuery, setActive, setMember } from './queries'

const EMPTY = {
  sign_in: '',
  name: '',
  role: 'learner' as 'learner' | 'instructor' | 'administrator',
  password: '',
}

/** Accounts and courses, for the administrator. */
export function PeoplePage() {
  const { data: people } = useSuspenseQuery(peopleQuery)
  const [fresh, setFresh] = useState(EMPTY)
  const client = useQueryClient()
  const add = useMutation({
    mutationFn: () => addPerson(fresh),
    onSuccess: (next) => {
      client.setQueryData(peopleQuery.queryKey, next)
      setFresh(EMPTY)
    },
  })
  const active = useMutation({
    mutationFn: ({ id, on }: { id: number; on: boolean }) => setActive(id, on),
    onSuccess: (next) => client.setQueryData(peopleQuery.queryKey, next),
  })
  const error = add.error ?? active.error
  return (
    <Page>
      <PageHead
        title="People and courses"
        about={people.length === 1 ? 'one account' : `${people.length} accounts`}
      />
      {error && <Note kind="error">{error.message}</Note>}
      <Two>
        <Panel $pad={false}>
          <Table>
            <thead>
              <tr>
                <th>Name</th>
                <th>Signs in as</th>
                <th>Role</th>
                <th />
              </tr>
            </thead>
            <tbody>
              {people.map((p) => (
                <tr key={p.id}>
                  <td>{p.name}</td>
                  <td className="num">{p.sign_in}</td>
                  <td>
                    {p.role} {!p.active && <Muted>closed</Muted>}
                  </td>
                  <td>
                    <Button $quiet onPress={() => active.mutate({ id: p.id, on: !p.active })}>
                      {p.active ? 'Close' : 'Open again'}
                    </Button>
                  </td>
                </tr>
              ))}
            </tbody>
          </Table>
        </Panel>
        <Stack>
          <Panel>
            <h2>New account</h2>
            <Stack $gap={10}>
              <Fields>
                <Text label="Name" value={fresh.name} onChange={(name) => setFresh({ ...fresh, name })} />
                <Text
                  label="Sign-in name"
                  value={fresh.sign_in}
                  onChange={(sign_in) => setFresh({ ...fresh, sign_in })}
                  autoComplete="off"
                />
                <Choice
                  label="Role"
                  value={fresh.role}
                  onChange={(role) => setFresh({ ...fresh, role: role as 'learner' })}
                  options={['learner', 'instructor', 'administrator'].map((r) => ({ key: r, text: r }))}
                />
                <Text
                  label="First password"
                  type="password"
                  value={fresh.password}
                  onChange={(password) => setFresh({ ...fresh, password })}
                  autoComplete="new-password"
                />
              </Fields>
              <Row>
                <Button
                  $main
                  isDisabled={add.isPending || !fresh.name || !fresh.sign_in || !fresh.password}
                  onPress={() => add.mutate()}
                >
                  Add
                </Button>
              </Row>
            </Stack>
          </Panel>
          <Courses />
        </Stack>
      </Two>
    </Page>
  )
}

function Courses() {
  const { data: courses } = useSuspenseQuery(coursesQuery)
  const [title, setTitle] = useState('')
  const client = useQueryClient()
  const add = useMutation({
    mutationFn: () => addCourse(title),
    onSuccess: (next) => {
      client.setQueryData(coursesQuery.queryKey, next)
      setTitle('')
    },
  })
  return (
    <>
      {courses.map((c) => (
        <Members key={c.id} courseId={c.id} title={c.title} />
      ))}
      <Panel>
        <h2>New course</h2>
        {add.error && <Note kind="error">{add.error.message}</Note>}
        <Row>
          <Text hidden label="Title of the course" value={title} onChange={setTitle} />
          <Button isDisabled={!title.trim() || add.isPending} onPress={() => add.mutate()}>
            Add
          </Button>
        </Row>
      </Panel>
    </>
  )
}

function Members({ courseId, title }: { courseId: number; title: string }) {
  const { data: members } = useSuspenseQuery(membersQuery(courseId))
  const { data: people } = useSuspenseQuery(peopleQuery)
  const client = useQueryClient()
  const change = useMutation({
    mutationFn: ({ id, member }: { id: number; member: boolean }) => setMember(courseId, id, member),
    onSuccess: (next) => client.setQueryData(membersQuery(courseId).queryKey, next),
  })
  const others = people.filter((p) => p.role !== 'administrator' && !members.some((m) => m.id === p.id))
  return (
    <Panel>
      <h2>{title}</h2>
      <Stack $gap={8}>
        <Row $gap={6}>
          {members.map((m) => (
            <Button
              key={m.id}
              aria-label={`Take ${m.name} out of the course`}
              onPress={() => change.mutate({ id: m.id, member: false })}
            >
              {m.name} ✕
            </Button>
          ))}
          {members.length === 0 && <Muted>Nobody yet.</Muted>}
        </Row>
        {others.length > 0 && (
          <Choice
            hidden
            label={`Bring into ${title}`}
            placeholder="Bring someone in"
            value={null}
            onChange={(id) => change.mutate({ id: Number(id), member: true })}
            options={others.map((p) => ({ key: String(p.id), text: `${p.name}, ${p.role}` }))}
          />
        )}
      </Stack>
    </Panel>
  )
}

const Two = styled.div`
  display: grid;
  grid-template-columns: 1.2fr 1fr;
  gap: 12px;
  align-items: start;
  @media (max-width: 900px) {
    grid-template-columns: 1fr;
  }
`
