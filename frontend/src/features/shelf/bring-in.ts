/** Files on their way to the shelf. */
import { queryOptions } from '@tanstack/react-query'
import { api, sendBody, unwrap, type Schemas } from '../../api/client'

export type Item = Schemas['ItemOut']
export type Bundle = Schemas['BundleOut']
export type Looked = NonNullable<Item['looked']>

const BUSY_MS = 700

/** Asked again for as long as something is worked on. */
export const inboxQuery = queryOptions({
  queryKey: ['inbox'],
  queryFn: () => unwrap(api.GET('/api/inbox')),
  refetchInterval: (query) =>
    query.state.data?.some((item) => item.state === 'looking' || item.state === 'making') ? BUSY_MS : false,
})

export const sendOne = (file: File) =>
  sendBody<Schemas['SentOut']>(`/api/inbox?${new URLSearchParams({ filename: file.name })}`, file)

export const choose = (item_id: number, body: Schemas['ChooseIn']) =>
  unwrap(api.PUT('/api/inbox/{item_id}', { params: { path: { item_id } }, body }))

export const accept = (ids: number[]) => unwrap(api.POST('/api/inbox/accept', { body: { ids } }))

export const giveUp = (ids: number[]) => unwrap(api.POST('/api/inbox/give-up', { body: { ids } }))

export const takeBundle = (upload_id: number, uids: string[]) =>
  unwrap(api.POST('/api/inbox/bundles/{upload_id}', { params: { path: { upload_id } }, body: { uids } }))

export const takeStarter = () => unwrap(api.POST('/api/inbox/starter'))
