/** A key as people read it: `high-idle` is "high idle". */
export const words = (key: string): string => key.replaceAll('-', ' ').replaceAll('_', ' ')

/** A place as people read it: `coil@2` is "coil 2", `1` is "cylinder 1", `A` is "reference A". */
export function place(at: string | null | undefined): string {
  if (!at) return ''
  if (/^[0-9+]+$/.test(at)) return `cylinder ${at}`
  if (/^[A-Z]$/.test(at)) return `reference ${at}`
  return at.replace('@', ' ')
}
