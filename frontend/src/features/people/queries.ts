import { queryOptions } from '@tanstack/react-query'
import { api, unwrap, type Schemas } from '../../api/client'

export type ListedPerson = Schemas['ListedPersonOut']

export const peopleQuery = queryOptions({
  queryKey: ['people'],
  queryFn: () => unwrap(api.GET('/api/people')),
})

export const addPerson = (body: Schemas['PersonIn']) => unwrap(api.POST('/api/people', { body }))

export const setActive = (person_id: number, active: boolean) =>
  unwrap(api.PATCH('/api/people/{person_id}', { params: { path: { person_id } }, body: { active } }))

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

export const addCourse = (title: string) => unwrap(api.POST('/api/courses', { body: { title } }))
