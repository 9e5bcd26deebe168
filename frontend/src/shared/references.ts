/** A draft reference of a capture: made on the shelf, and of a learner's capture on the marking desk. */
import { api, unwrap, type Schemas } from '../api/client'

export type ReferenceDocument = Schemas['DocumentBody']

export const createReference = (body: Schemas['ReferenceIn']) => unwrap(api.POST('/api/references', { body }))

export const EMPTY_DOCUMENT: ReferenceDocument = {
  phases: [],
  options: {},
  limits: [],
  tags: [],
  provenance: {
    vehicle: '',
    engine: '',
    conditions: '',
    ground: '',
    probe: '',
    taken_by: '',
    taken_on: '',
    part: '',
  },
  notes: '',
  complaint: 'always',
  pair: null,
}
