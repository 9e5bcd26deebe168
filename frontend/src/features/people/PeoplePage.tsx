import { useMutation, useQueryClient, useSuspenseQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { coursesQuery } from '../../shared/who'
import { Ask } from '../../ui/Ask'
import { Button } from '../../ui/Button'
import { Choice, Text } from '../../ui/fields'
import { Muted, Note, Page, PageHead, Panel, Row, Stack, Table, Two } from '../../ui/layout'
import { BringIn } from './BringIn'
import { Courses } from './Courses'
import { Links, type Link } from './Links'
import { handOver, makeLink, peopleQuery, setActive, type ListedPerson } from './queries'

/** Accounts and courses, for the administrator. */
export function PeoplePage() {
  const { data: people } = useSuspenseQuery(peopleQuery)
  const { data: courses } = useSuspenseQuery(coursesQuery)
  const [words, setWords] = useState('')
  const [links, setLinks] = useState<Link[]>([])
  const [leaving, setLeaving] = useState<ListedPerson | null>(null)
  const client = useQueryClient()
  const active = useMutation({
    mutationFn: ({ id, on }: { id: number; on: boolean }) => setActive(id, on),
    onSuccess: (next) => client.setQueryData(peopleQuery.queryKey, next),
  })
  const link = useMutation({
    mutationFn: (p: ListedPerson) => makeLink(p.id),
    onSuccess: (made, p) => setLinks([{ ...p, token: made.token }]),
  })
  const error = active.error ?? link.error
  const shown = people.filter((p) => `${p.name} ${p.sign_in}`.toLowerCase().includes(words.toLowerCase()))
  return (
    <Page>
      <PageHead
        title="People and courses"
        about={people.length === 1 ? 'one account' : `${people.length} accounts`}
      >
        <Text hidden placeholder label="Find by name" value={words} onChange={setWords} />
      </PageHead>
      {error && <Note kind="error">{error.message}</Note>}
      <Two $left={1.25} $least={1000}>
        <Panel $pad={false}>
          <Table>
            <thead>
              <tr>
                <th>Name</th>
                <th>Signs in as</th>
                <th>Role</th>
                <th>
                  <span className="hidden-text">What to do</span>
                </th>
              </tr>
            </thead>
            <tbody>
              {shown.map((p) => (
                <tr key={p.id}>
                  <td>{p.name}</td>
                  <td className="num">{p.sign_in}</td>
                  <td>
                    {p.role} {!p.active ? <Muted>closed</Muted> : p.invited && <Muted>no password yet</Muted>}
                  </td>
                  <td>
                    <Row $end $gap={2}>
                      {p.role === 'instructor' && !p.active && (
                        <Button $quiet onPress={() => setLeaving(p)}>
                          Hand work over
                        </Button>
                      )}
                      {p.active && (
                        <Button $quiet onPress={() => link.mutate(p)}>
                          {p.invited ? 'New link' : 'Reset password'}
                        </Button>
                      )}
                      <Button $quiet onPress={() => active.mutate({ id: p.id, on: !p.active })}>
                        {p.active ? 'Close' : 'Open again'}
                      </Button>
                    </Row>
                  </td>
                </tr>
              ))}
            </tbody>
          </Table>
        </Panel>
        <Stack>
          <BringIn courses={courses} everyRole />
          <Courses mayMove={(p) => p.role !== 'administrator'} />
        </Stack>
      </Two>
      <Ask open={links.length > 0} title="A link to choose a password" onClose={() => setLinks([])}>
        <Links links={links} onDone={() => setLinks([])} />
      </Ask>
      {leaving && <HandOver from={leaving} people={people} onClose={() => setLeaving(null)} />}
    </Page>
  )
}

/** Everything that an instructor made becomes another's: before they leave the school. */
function HandOver({
  from,
  people,
  onClose,
}: {
  from: ListedPerson
  people: ListedPerson[]
  onClose: () => void
}) {
  const [to, setTo] = useState<string | null>(null)
  const hand = useMutation({ mutationFn: () => handOver(from.id, Number(to)), onSuccess: onClose })
  const others = people.filter((p) => p.role === 'instructor' && p.active && p.id !== from.id)
  return (
    <Ask open title={`Hand over ${from.name}’s work`} onClose={onClose}>
      {others.length === 0 ? (
        <p>There is no other instructor to hand over to; bring one in first.</p>
      ) : (
        <>
          <p>
            All references and job cards become the other instructor’s. Marks and sittings stay as they are.
          </p>
          <Choice
            label="To"
            value={to}
            onChange={setTo}
            options={others.map((p) => ({ key: String(p.id), text: p.name }))}
          />
        </>
      )}
      {hand.error && <Note kind="error">{hand.error.message}</Note>}
      <Row $end>
        <Button onPress={onClose}>Leave it</Button>
        <Button $main isDisabled={to === null || hand.isPending} onPress={() => hand.mutate()}>
          Hand over
        </Button>
      </Row>
    </Ask>
  )
}
