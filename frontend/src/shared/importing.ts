/** Bringing a file in: used where an instructor makes a reference and where a learner brings a capture. */
import { api, unwrap, type Schemas } from '../api/client'

export type Upload = Schemas['UploadOut']
export type Mapping = Schemas['MappingIn']

export const importUpload = (body: Schemas['ImportIn']) => unwrap(api.POST('/api/captures', { body }))
