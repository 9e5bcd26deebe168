/** Values under the pegs: the server's, and while it cannot be reached those of samples kept on this device. */
import { api, fetchSamples, Problem, unwrap, type Schemas } from '../api/client'
import type { PegValues } from '../plot/types'

type Capture = Schemas['CaptureOut']

/** Values at one or two instants, written one after the other. */
export async function valuesAt(capture: Capture, at: string): Promise<PegValues> {
  try {
    return await unwrap(
      api.GET('/api/captures/{capture_id}/values', {
        params: { path: { capture_id: capture.id }, query: { at } },
      }),
    )
  } catch (why) {
    // Gone, or with nobody behind it; what it refuses is refused here too.
    if (why instanceof Problem && why.status >= 400 && why.status < 500) throw why
    return valuesKept(capture, at.split(',').map(Number))
  }
}

/** Has the samples of a capture on this device, so that pegs can be read without network; refused for long ones. */
export async function keepSamples(capture: Capture): Promise<void> {
  // One after the other: a class opens its sittings together.
  for (const { lane } of capture.lanes) await fetchSamples(capture.id, lane)
}

async function valuesKept(capture: Capture, at: number[]): Promise<PegValues> {
  const places = at.map((s) =>
    Math.round(Math.min(Math.max((s - capture.start_s) / capture.interval_s, 0), capture.samples - 1)),
  )
  const [first, last] = [Math.min(...places), Math.max(...places)]
  const lanes = capture.lanes.map(async ({ lane, unit }) => {
    const samples = await fetchSamples(capture.id, lane)
    const between = samples.slice(first, last + 1).sort()
    const half = (between.length - 1) / 2
    return {
      lane,
      unit,
      at: places.map((k) => samples[k] ?? 0),
      level: ((between[Math.floor(half)] ?? 0) + (between[Math.ceil(half)] ?? 0)) / 2,
      least: between[0] ?? 0,
      most: between.at(-1) ?? 0,
    }
  })
  return {
    instants: places.map((k) => capture.start_s + k * capture.interval_s),
    lanes: await Promise.all(lanes),
  }
}
