/** The one way to the server: typed calls that throw a Problem, with the token that changes need. */
import createClient from 'openapi-fetch'
import type { components, paths } from './schema'

export type Schemas = components['schemas']

let csrf = ''

export function setCsrf(token: string): void {
  csrf = token
}

/** An answer of the server that is not what was asked for; `message` is fit to be shown. */
export class Problem extends Error {
  readonly status: number
  constructor(status: number, message: string) {
    super(message)
    this.status = status
  }
}

/** How far the server's clock is before this device's, ms: what is left of a time limit goes by the server's. */
let ahead = 0

export const serverNow = (): number => Date.now() + ahead

const MOST_WAITS = 6
const LONGEST_WAIT_S = 5

/** Asks again by itself where the server says that too much was asked for at once and when it is done with that.
    Signing in is for whoever signs in to try again. */
export async function patient(ask: () => Promise<Response>, path: string): Promise<Response> {
  for (let waits = 0; ; waits += 1) {
    const response = await ask()
    const seconds = Number(response.headers.get('Retry-After'))
    const soon = response.status === 429 && seconds > 0 && seconds <= LONGEST_WAIT_S
    if (!soon || waits === MOST_WAITS || path.endsWith('/api/session')) return response
    await new Promise((resolve) => setTimeout(resolve, 1000 * seconds))
  }
}

export const api = createClient<paths>({
  baseUrl: '',
  fetch: (request) => patient(() => fetch(request.clone()), new URL(request.url).pathname),
})
api.use({
  onRequest({ request }) {
    if (request.method !== 'GET') request.headers.set('X-CSRFToken', csrf)
    return request
  },
  onResponse({ response }) {
    const told = Date.parse(response.headers.get('Date') ?? '')
    // Seconds are told: the middle of the one that is named.
    // What is kept for a while without network was dated when it came.
    if (!Number.isNaN(told) && !response.headers.has('X-Keep-Offline')) ahead = told + 500 - Date.now()
  },
})

const LOST = 'The workshop network is gone; your work is kept here and sent when it is back.'

function problemOf(status: number, body: unknown): Problem {
  const detail = body && typeof body === 'object' && 'detail' in body ? String(body.detail) : ''
  return new Problem(
    status,
    detail ? detail[0]?.toUpperCase() + detail.slice(1) : `The server answered ${status}.`,
  )
}

/** The data of a call, or a thrown Problem (status 0 when the network is gone). */
export async function unwrap<T>(
  call: Promise<{ data?: T; error?: unknown; response: Response }>,
): Promise<T> {
  let result
  try {
    result = await call
  } catch {
    throw new Problem(0, LOST)
  }
  if (result.error !== undefined || !result.response.ok) throw problemOf(result.response.status, result.error)
  return result.data as T
}

/** Send a file as the body; the generated client has no form for a stream of bytes. */
export async function sendBody<T>(path: string, file: File): Promise<T> {
  let response
  try {
    const headers = { 'X-CSRFToken': csrf, 'Content-Type': 'application/octet-stream' }
    response = await patient(() => fetch(path, { method: 'POST', body: file, headers }), path)
  } catch {
    throw new Problem(0, LOST)
  }
  const body: unknown = await response.json()
  if (!response.ok) throw problemOf(response.status, body)
  return body as T
}

/** Send a file to be mapped to a circuit. */
export const sendFile = (file: File, circuit: string) =>
  sendBody<Schemas['UploadOut']>(
    `/api/uploads?${new URLSearchParams({ filename: file.name, circuit })}`,
    file,
  )

/** A tile of a lane as float32. */
export async function fetchTile(
  captureId: number,
  lane: string,
  level: number,
  tile: number,
): Promise<Float32Array> {
  return floatsOf(captureId, `${lane}/tiles/${level}/${tile}`)
}

/** All samples of a lane that is short enough to be kept on a device. */
export const fetchSamples = (captureId: number, lane: string): Promise<Float32Array> =>
  floatsOf(captureId, `${lane}/samples`)

async function floatsOf(captureId: number, what: string): Promise<Float32Array> {
  const response = await fetch(`/api/captures/${captureId}/lanes/${what}`)
  if (!response.ok) throw new Problem(response.status, 'This piece of the trace could not be loaded.')
  return new Float32Array(await response.arrayBuffer())
}
