import { queryOptions } from '@tanstack/react-query'
import { api, unwrap, type Schemas } from '../../api/client'

export type Logbook = Schemas['LogbookOut']
export type SkillCourse = Logbook['skills'][number]

export const skillMapQuery = (course_id: number) =>
  queryOptions({
    queryKey: ['skill-map', course_id],
    queryFn: () => unwrap(api.GET('/api/courses/{course_id}/skill-map', { params: { path: { course_id } } })),
  })

export const logbookQuery = (course_id: number, learner_id: number) =>
  queryOptions({
    queryKey: ['logbook', course_id, learner_id],
    queryFn: () =>
      unwrap(
        api.GET('/api/courses/{course_id}/logbook/{learner_id}', {
          params: { path: { course_id, learner_id } },
        }),
      ),
  })
