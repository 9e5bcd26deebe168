import { whenDone } from '../../shared/useJob'
import { keepPreviousData, queryOptions } from '@tanstack/react-query'
import { api, unwrap, type Schemas } from '../../api/client'

export type Card = Schemas['CardOut']
export type CardDocument = Schemas['CardBody']
export type CardCheck = Schemas['CheckOut']
export type MakerFacts = Schemas['MakerFactsOut']

const at = (card_id: number) => ({ params: { path: { card_id } } })

export const cardQuery = (id: number) =>
  queryOptions({ queryKey: ['card', id], queryFn: () => unwrap(api.GET('/api/cards/{card_id}', at(id))) })

export const createCard = (body: Schemas['CardIn']) => unwrap(api.POST('/api/cards', { body }))

export const saveCard = (id: number, body: Schemas['CardSaveIn']) =>
  unwrap(api.PUT('/api/cards/{card_id}', { ...at(id), body }))

export const publishCard = (id: number) => unwrap(api.POST('/api/cards/{card_id}/publish', at(id)))

export const retireCard = (id: number) => unwrap(api.POST('/api/cards/{card_id}/retire', at(id)))

export type CardReach = Schemas['CardReachIn']['reach']

export const setCardReach = (id: number, reach: CardReach) =>
  unwrap(api.PUT('/api/cards/{card_id}/reach', { ...at(id), body: { reach } }))

export const copyCard = (id: number, course_id: number) =>
  unwrap(api.POST('/api/cards/{card_id}/copy', { ...at(id), body: { course_id } }))

export const sharedCardsQuery = queryOptions({
  queryKey: ['cards', 'shared'],
  queryFn: () => unwrap(api.GET('/api/cards/shared')),
})

export const startSitting = (id: number) => unwrap(api.POST('/api/cards/{card_id}/sittings', at(id)))

/** How far the tool is that sits a card, 0 to 1, while it does. */
export const checkingKey = ['card-checking']

/** What a card comes to; where that is not known yet, when the job that finds out is done. */
async function checked(id: number, tell: (share: number) => void): Promise<Schemas['CheckOut']> {
  const ask = () => unwrap(api.GET('/api/cards/{card_id}/check', at(id)))
  for (let asked = await ask(); ; asked = await ask()) {
    if (asked.check) return asked.check
    if (asked.job) await whenDone(asked.job, tell)
  }
}

/** What the tool makes of the card as it was last kept, asked for anew with each revision; of one never kept, nothing. */
export const checkQuery = (card: Card | null) =>
  queryOptions({
    queryKey: ['card-check', card?.id, card?.revision],
    queryFn: ({ client }) => checked(card?.id ?? 0, (share) => client.setQueryData(checkingKey, share)),
    enabled: card !== null,
    placeholderData: keepPreviousData,
    staleTime: Infinity,
    retry: false,
  })

export const makerFactsQuery = queryOptions({
  queryKey: ['maker-facts'],
  queryFn: () => unwrap(api.GET('/api/maker-facts')),
  staleTime: Infinity,
})

/** Published versions that a card of a circuit may take; the one that it has comes first. */
export const offeredQuery = (circuit: string, version_id: number) =>
  queryOptions({
    queryKey: ['shelf', 'offered', circuit, version_id],
    queryFn: () => unwrap(api.GET('/api/references/offered', { params: { query: { circuit, version_id } } })),
    placeholderData: keepPreviousData,
  })
