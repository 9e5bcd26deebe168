import { keepPreviousData, queryOptions } from '@tanstack/react-query'
import { api, unwrap, type Schemas } from '../../api/client'
import { createReference, EMPTY_DOCUMENT } from '../../shared/references'
import { hasEvents, type Circuit } from '../../shared/facts'

export type MarkSheet = Schemas['MarkSheetOut']
export type DeskItem = Schemas['DeskItemOut']

/** How many of those released stand below what waits, at first. */
/** Open sittings of a course, asked for again while the page is looked at. */
export const underWayQuery = (course_id: number) =>
  queryOptions({
    queryKey: ['under-way', course_id],
    queryFn: () => unwrap(api.GET('/api/courses/{course_id}/under-way', { params: { path: { course_id } } })),
    refetchInterval: 10_000,
  })

export type UnderWay = Schemas['UnderWayOut']

export const giveTime = (sitting_id: number, minutes: number, why: string) =>
  unwrap(
    api.POST('/api/sittings/{sitting_id}/more-time', {
      params: { path: { sitting_id } },
      body: { minutes, why },
    }),
  )

export const RELEASED = 20

export const deskQuery = (course_id: number, released = RELEASED) =>
  queryOptions({
    queryKey: ['desk', course_id, released],
    queryFn: () =>
      unwrap(
        api.GET('/api/courses/{course_id}/desk', { params: { path: { course_id }, query: { released } } }),
      ),
    placeholderData: keepPreviousData,
    // Marks that are being worked out are there in a moment.
    refetchInterval: (query) => (query.state.data?.some((d) => d.certainty === null) ? 2000 : false),
  })

const at = (sitting_id: number) => ({ params: { path: { sitting_id } } })

export const markSheetQuery = (id: number) =>
  queryOptions({
    queryKey: ['mark', id],
    queryFn: () => unwrap(api.GET('/api/marking/{sitting_id}', at(id))),
  })

/** Only for circuits whose captures are rows of events. */
export const paradeQuery = (sheet: MarkSheet, circuit: Circuit) =>
  queryOptions({
    queryKey: ['parade-of-mark', sheet.id],
    queryFn: () => unwrap(api.GET('/api/marking/{sitting_id}/parade', at(sheet.id))),
    enabled: sheet.capture_id !== null && hasEvents(circuit),
    staleTime: Infinity,
    retry: false,
  })

/** Only where there is a trace, and a reference with a corridor to lay it on. */
export const corridorQuery = (sheet: MarkSheet) =>
  queryOptions({
    queryKey: ['corridor-of-mark', sheet.id],
    queryFn: () => unwrap(api.GET('/api/marking/{sitting_id}/corridor', at(sheet.id))),
    enabled: sheet.capture_id !== null && sheet.reference_capture_id !== null,
    staleTime: Infinity,
    retry: false,
  })

export const changeMark = (id: number, body: Schemas['ChangeIn']) =>
  unwrap(api.POST('/api/marking/{sitting_id}/changes', { ...at(id), body }))

const ofCourse = (course_id: number) => ({ params: { path: { course_id } } })

/** The newest comparison of a course's marks, asked for again while it is worked on. */
export const anewQuery = (course_id: number) =>
  queryOptions({
    queryKey: ['marks-anew', course_id],
    queryFn: () => unwrap(api.GET('/api/courses/{course_id}/regrade', ofCourse(course_id))),
    retry: false,
    refetchInterval: (query) =>
      query.state.data && query.state.data.done < query.state.data.total ? 1000 : false,
  })

export const beginAnew = (course_id: number, newest: boolean) =>
  unwrap(api.POST('/api/courses/{course_id}/regrade', { ...ofCourse(course_id), body: { newest } }))

export const takeAnew = (course_id: number, body: Schemas['RegradeTakeIn']) =>
  unwrap(api.POST('/api/courses/{course_id}/regrade/take', { ...ofCourse(course_id), body }))

export const releaseMany = (ids: number[]) => unwrap(api.POST('/api/marking/release', { body: { ids } }))

export const takeBack = (id: number, why = '') =>
  unwrap(api.POST('/api/marking/{sitting_id}/take-back', { ...at(id), body: { why } }))

export const alikeDecisions = (id: number, criterion: string) =>
  queryOptions({
    queryKey: ['mark', id, 'alike', criterion],
    queryFn: () =>
      unwrap(
        api.GET('/api/marking/{sitting_id}/alike', { params: { ...at(id).params, query: { criterion } } }),
      ),
  })

export const changeAlike = (id: number, body: Schemas['ChangeAlikeIn']) =>
  unwrap(api.POST('/api/marking/{sitting_id}/changes/alike', { ...at(id), body }))

/** Sittings that were opened at the desk in this window: a sample counts once it was looked at. */
const LOOKED = 'tracebench-looked-at'
export const lookedAt = (): number[] => JSON.parse(sessionStorage.getItem(LOOKED) ?? '[]') as number[]
export const noteLooked = (id: number): void =>
  sessionStorage.setItem(LOOKED, JSON.stringify([...new Set([...lookedAt(), id])]))

export const pinComment = (id: number, body: Schemas['CommentIn']) =>
  unwrap(api.POST('/api/marking/{sitting_id}/comments', { ...at(id), body }))

export const takeCommentAway = (sitting_id: number, comment_id: number) =>
  unwrap(
    api.DELETE('/api/marking/{sitting_id}/comments/{comment_id}', {
      params: { path: { sitting_id, comment_id } },
    }),
  )

export type SecondSheet = Schemas['SecondSheetOut']

export const colleaguesQuery = (course_id: number) =>
  queryOptions({
    queryKey: ['members', course_id],
    queryFn: () => unwrap(api.GET('/api/courses/{course_id}/members', ofCourse(course_id))),
  })

export const askSecond = (id: number, marker_id: number) =>
  unwrap(api.POST('/api/marking/{sitting_id}/second-marker', { ...at(id), body: { marker_id } }))

export const withdrawSecond = (id: number) =>
  unwrap(api.DELETE('/api/marking/{sitting_id}/second-marker', at(id)))

export const secondWaitingQuery = queryOptions({
  queryKey: ['second-marking'],
  queryFn: () => unwrap(api.GET('/api/second-marking')),
})

export const secondSheetQuery = (id: number) =>
  queryOptions({
    queryKey: ['second-marking', id],
    queryFn: () => unwrap(api.GET('/api/second-marking/{sitting_id}', at(id))),
    retry: false,
  })

/** The same pictures for whoever marks a second time: a sitting's own doors say more than they may know. */
export const secondParadeQuery = (sheet: SecondSheet, circuit: Circuit) =>
  queryOptions({
    queryKey: ['second-marking', sheet.id, 'parade'],
    queryFn: () => unwrap(api.GET('/api/second-marking/{sitting_id}/parade', at(sheet.id))),
    enabled: sheet.capture_id !== null && hasEvents(circuit),
    staleTime: Infinity,
    retry: false,
  })

export const secondCorridorQuery = (sheet: SecondSheet) =>
  queryOptions({
    queryKey: ['second-marking', sheet.id, 'corridor'],
    queryFn: () => unwrap(api.GET('/api/second-marking/{sitting_id}/corridor', at(sheet.id))),
    enabled: sheet.capture_id !== null && sheet.reference_capture_id !== null,
    staleTime: Infinity,
    retry: false,
  })

export const giveSecond = (id: number, body: Schemas['SecondMarksIn']) =>
  unwrap(api.POST('/api/second-marking/{sitting_id}', { ...at(id), body }))

export const agreementQuery = (course_id: number) =>
  queryOptions({
    queryKey: ['agreement', course_id],
    queryFn: () => unwrap(api.GET('/api/courses/{course_id}/agreement', ofCourse(course_id))),
  })

export const markAgain = (id: number) => unwrap(api.POST('/api/marking/{sitting_id}/marks', at(id)))

export const release = (id: number) => unwrap(api.POST('/api/marking/{sitting_id}/release', at(id)))

/** The learner's capture as a draft reference, on the instructor's word that they agree. */
export const referenceOf = (sheet: MarkSheet, title: string) =>
  createReference({
    capture_id: sheet.capture_id ?? 0,
    title,
    document: { ...EMPTY_DOCUMENT, options: sheet.card.options ?? {} },
    word: true,
  })
