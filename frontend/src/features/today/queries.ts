import { queryOptions } from '@tanstack/react-query'
import { api, unwrap, type Schemas } from '../../api/client'

export type Today = Schemas['TodayOut']

export const todayQuery = queryOptions({ queryKey: ['today'], queryFn: () => unwrap(api.GET('/api/today')) })

export const startSitting = (card_id: number) =>
  unwrap(api.POST('/api/cards/{card_id}/sittings', { params: { path: { card_id } } }))
