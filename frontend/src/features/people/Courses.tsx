import { useMutation, useQueryClient, useSuspenseQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { coursesQuery } from '../../shared/who'
import { Button } from '../../ui/Button'
import { Choice, Text } from '../../ui/fields'
import { Muted, Note, Panel, Row, Stack } from '../../ui/layout'
import { Links, type Link } from './Links'
import {
  addCourse,
  makeLink,
  membersQuery,
  peopleQuery,
  setExtraTime,
  setMember,
  setReview,
  type ListedPerson,
  type Member,
} from './queries'

/** Courses with their people, and a new one. `mayMove` says whom the person who looks may bring in and take out. */
export function Courses({ mayMove }: { mayMove: (p: ListedPerson) => boolean }) {
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
        <Members key={c.id} courseId={c.id} title={c.title} review={c.review} mayMove={mayMove} />
      ))}
      <Panel>
        <h2>New course</h2>
        {add.error && <Note kind="error">{add.error.message}</Note>}
        <Row>
          <Text hidden placeholder label="Title of the course" value={title} onChange={setTitle} />
          <Button isDisabled={!title.trim() || add.isPending} onPress={() => add.mutate()}>
            Open it
          </Button>
        </Row>
      </Panel>
    </>
  )
}

function Members({
  courseId,
  title,
  review,
  mayMove,
}: {
  courseId: number
  title: string
  review: boolean
  mayMove: (p: ListedPerson) => boolean
}) {
  const { data: members } = useSuspenseQuery(membersQuery(courseId))
  const { data: people } = useSuspenseQuery(peopleQuery)
  const [links, setLinks] = useState<Link[]>([])
  const client = useQueryClient()
  const change = useMutation({
    mutationFn: ({ id, member }: { id: number; member: boolean }) => setMember(courseId, id, member),
    onSuccess: (next) => client.setQueryData(membersQuery(courseId).queryKey, next),
  })
  const link = useMutation({
    mutationFn: (p: ListedPerson) => makeLink(p.id),
    onSuccess: (made, p) => setLinks([{ ...p, token: made.token }]),
  })
  const extra = useMutation({
    mutationFn: ({ id, percent }: { id: number; percent: number }) => setExtraTime(courseId, id, percent),
    onSuccess: (next) => client.setQueryData(membersQuery(courseId).queryKey, next),
  })
  const look = useMutation({
    mutationFn: (wanted: boolean) => setReview(courseId, wanted),
    onSuccess: (next) => client.setQueryData(coursesQuery.queryKey, next),
  })
  const others = people.filter((p) => p.active && mayMove(p) && !members.some((m) => m.id === p.id))
  const waiting = members.filter((m) => m.may_link)
  const error = change.error ?? link.error ?? look.error ?? extra.error
  return (
    <Panel>
      <h2>{title}</h2>
      <Stack $gap={8}>
        {error && <Note kind="error">{error.message}</Note>}
        <Row $gap={6}>
          {members.map((m) =>
            mayMove(m) ? (
              <Button
                key={m.id}
                aria-label={`Take ${m.name} out of the course`}
                onPress={() => change.mutate({ id: m.id, member: false })}
              >
                {m.name} ✕
              </Button>
            ) : (
              <b key={m.id}>{m.name}</b>
            ),
          )}
          {members.length === 0 && <Muted>Nobody yet.</Muted>}
        </Row>
        <Button aria-pressed={review} isDisabled={look.isPending} onPress={() => look.mutate(!review)}>
          {review
            ? 'A second instructor looks at references before they are published'
            : 'References are published without a second look'}
        </Button>
        <ExtraTime
          members={members.filter((m) => m.role === 'learner')}
          onSet={(id, percent) => extra.mutate({ id, percent })}
        />
        {waiting.length > 0 && links.length === 0 && (
          <Row $gap={6}>
            <Muted>No password chosen yet; a new link for</Muted>
            {waiting.map((m) => (
              <Button key={m.id} $quiet onPress={() => link.mutate(m)}>
                {m.name}
              </Button>
            ))}
          </Row>
        )}
        {links.length > 0 && <Links links={links} onDone={() => setLinks([])} />}
        {others.length > 0 && (
          <Choice
            hidden
            label={`Bring into ${title}`}
            placeholder="Bring in somebody who has an account"
            value={null}
            onChange={(id) => change.mutate({ id: Number(id), member: true })}
            options={others.map((p) => ({ key: String(p.id), text: `${p.name}, ${p.role}` }))}
          />
        )}
      </Stack>
    </Panel>
  )
}

const PARTS = [10, 25, 33, 50, 100]

/** Learners who have more time on every card with a limit, and one more. */
function ExtraTime({ members, onSet }: { members: Member[]; onSet: (id: number, percent: number) => void }) {
  const [chosen, setChosen] = useState<string | null>(null)
  const given = members.filter((m) => m.extra_pct > 0)
  if (members.length === 0) return null
  return (
    <Row $gap={6}>
      <Muted>
        {given.length > 0
          ? 'More time on cards with a limit:'
          : 'Nobody has more time on cards with a limit.'}
      </Muted>
      {given.map((m) => (
        <Button key={m.id} aria-label={`No more extra time for ${m.name}`} onPress={() => onSet(m.id, 0)}>
          {m.name} +{m.extra_pct} % ✕
        </Button>
      ))}
      <Choice
        hidden
        label="Learner who gets more time"
        placeholder="More time for …"
        value={chosen}
        onChange={setChosen}
        options={members.map((m) => ({ key: String(m.id), text: m.name }))}
      />
      {chosen !== null &&
        PARTS.map((percent) => (
          <Button
            key={percent}
            onPress={() => {
              onSet(Number(chosen), percent)
              setChosen(null)
            }}
          >
            +{percent} %
          </Button>
        ))}
    </Row>
  )
}
