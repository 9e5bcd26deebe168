/** Dates as people in a workshop say them. */

export function dayText(iso: string | null): string {
  if (!iso) return 'no date'
  const date = new Date(iso)
  const days = Math.round((startOfDay(date) - startOfDay(new Date())) / 86_400_000)
  if (days === 0) return 'today'
  if (days === 1) return 'tomorrow'
  if (days === -1) return 'yesterday'
  if (days > 1 && days < 14) return `in ${days} days`
  if (days < 0 && days > -14) return `${-days} days ago`
  return date.toLocaleDateString('en-GB', { day: 'numeric', month: 'short' })
}

const startOfDay = (d: Date): number => new Date(d.getFullYear(), d.getMonth(), d.getDate()).getTime()

export const clockText = (iso: string): string => new Date(iso).toLocaleTimeString('en-GB')

/** Whether a day is still to come; no day is not. */
export const isLater = (day: string | null): boolean =>
  day !== null && startOfDay(new Date(day)) > startOfDay(new Date())
