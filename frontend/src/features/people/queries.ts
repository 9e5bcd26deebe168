import { queryOptions } from '@tanstack/react-query'
import { api, unwrap, type Schemas } from '../../api/client'

export type ListedPerson = Schemas['ListedPersonOut']
export type Member = Schemas['MemberOut']
export type TableRow = Schemas['TableRowOut']

export const peopleQuery = queryOptions({
  queryKey: ['people'],
  queryFn: () => unwrap(api.GET('/api/people')),
})

const who = (person_id: number) => ({ params: { path: { person_id } } })

export const setActive = (id: number, active: boolean) =>
  unwrap(api.PATCH('/api/people/{person_id}', { ...who(id), body: { active } }))

export const makeLink = (id: number) => unwrap(api.POST('/api/people/{person_id}/link', who(id)))

export const handOver = (id: number, to_id: number) =>
  unwrap(api.POST('/api/people/{person_id}/hand-over', { ...who(id), body: { to_id } }))

export const lookAtTable = (text: string, course_id: number | null, keep: boolean) =>
  unwrap(api.POST('/api/people/table', { body: { text, course_id, keep } }))

export const membersQuery = (course_id: number) =>
  queryOptions({
    queryKey: ['members', course_id],
    queryFn: () => unwrap(api.GET('/api/courses/{course_id}/members', { params: { path: { course_id } } })),
  })

export const setMember = (course_id: number, person_id: number, member: boolean) =>
  unwrap(
    api.POST('/api/courses/{course_id}/members', {
      params: { path: { course_id } },
      body: { person_id, member },
    }),
  )

export const setExtraTime = (course_id: number, person_id: number, percent: number) =>
  unwrap(
    api.PUT('/api/courses/{course_id}/members/{person_id}/extra-time', {
      params: { path: { course_id, person_id } },
      body: { percent },
    }),
  )

export const setReview = (course_id: number, wanted: boolean) =>
  unwrap(api.PUT('/api/courses/{course_id}/review', { params: { path: { course_id } }, body: { wanted } }))

export const addCourse = (title: string) => unwrap(api.POST('/api/courses', { body: { title } }))

/** The address at which a person chooses a password; what follows # never reaches a server's log. */
export const linkOf = (token: string): string => `${window.location.origin}/join#${token}`
