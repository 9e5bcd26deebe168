/** Bringing a file in: used where an instructor makes a reference and where a learner brings a capture. */
import { api, unwrap, type Schemas } from '../api/client'

export type Upload = Schemas['UploadOut']
export type Mapping = Schemas['MappingIn']
export type Capture = Schemas['CaptureOut']

export const importUpload = (body: Schemas['ImportIn']) => unwrap(api.POST('/api/captures', { body }))

export const captureOf = (capture_id: number): Promise<Capture> =>
  unwrap(api.GET('/api/captures/{capture_id}', { params: { path: { capture_id } } }))

export const stopImport = (job_id: number) =>
  unwrap(api.POST('/api/jobs/{job_id}/cancel', { params: { path: { job_id } } }))
