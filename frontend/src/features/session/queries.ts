import { queryOptions } from '@tanstack/react-query'
import { api, setCsrf, unwrap, type Schemas } from '../../api/client'
import { forgetKept } from '../../offline/keep'

export type Session = Schemas['SessionOut']

async function kept(call: Promise<Session>): Promise<Session> {
  const session = await call
  setCsrf(session.csrf)
  return session
}

export const sessionQuery = queryOptions({
  queryKey: ['session'],
  queryFn: () => kept(unwrap(api.GET('/api/session'))),
  staleTime: Infinity,
})

export const signIn = (sign_in: string, password: string): Promise<Session> =>
  forgetKept().then(() => kept(unwrap(api.POST('/api/session', { body: { sign_in, password } }))))

export const beginSchool = (body: Schemas['FirstIn']): Promise<Session> =>
  kept(unwrap(api.POST('/api/session/first', { body })))

const byLink = (token: string) => ({ body: { token } })

export const invited = (token: string) => unwrap(api.POST('/api/session/invited', byLink(token)))

export const join = (token: string, password: string): Promise<Session> =>
  forgetKept().then(() => kept(unwrap(api.POST('/api/session/join', { body: { token, password } }))))

export const signOut = () => forgetKept().then(() => unwrap(api.DELETE('/api/session')))

export const signOutEverywhere = () => forgetKept().then(() => unwrap(api.POST('/api/session/everywhere')))

export const signedInQuery = queryOptions({
  queryKey: ['signed-in'],
  queryFn: () => unwrap(api.GET('/api/session/all')),
})

export const doneQuery = queryOptions({
  queryKey: ['session-trail'],
  queryFn: () => unwrap(api.GET('/api/session/trail')),
})

export const endSession = (session_id: number) =>
  unwrap(api.DELETE('/api/session/all/{session_id}', { params: { path: { session_id } } }))

export const changePassword = (old: string, fresh: string) =>
  unwrap(api.POST('/api/session/password', { body: { old, new: fresh } }))

export const unusedQuery = queryOptions({
  queryKey: ['captures', 'unused'],
  queryFn: () => unwrap(api.GET('/api/captures/unused')),
})

export const giveUp = (ids: number[]) => unwrap(api.POST('/api/captures/give-up', { body: { ids } }))
