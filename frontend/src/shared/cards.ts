import { queryOptions } from '@tanstack/react-query'
import { api, unwrap, type Schemas } from '../api/client'

export type CardItem = Schemas['CardItemOut']

/** The cards of one's courses. */
export const cardsQuery = queryOptions({ queryKey: ['cards'], queryFn: () => unwrap(api.GET('/api/cards')) })
