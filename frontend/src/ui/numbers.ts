/** Numbers as people type them and as pages show them: the one place that says how. */

/** A number that was typed, with a decimal comma or point; null where there is none, NaN where it is no number. */
export function typedNumber(text: string): number | null {
  const plain = text.trim()
  if (!plain) return null
  return /^[+-]?(\d+([.,]\d*)?|[.,]\d+)(e[+-]?\d+)?$/i.test(plain) ? Number(plain.replace(',', '.')) : NaN
}

/** The number that was typed; null where none, no number, or one past all bounds was. */
export function numberIn(text: string): number | null {
  const value = typedNumber(text)
  return value !== null && Number.isFinite(value) ? value : null
}

/** With so many decimals, the last of them kept though it be a nought. */
export const fixed = (value: number, decimals = 0): string => value.toFixed(decimals)

/** With so many meaningful figures, the last of them kept though it be a nought. */
export const figures = (value: number, most: number): string => value.toPrecision(most)

/** Rounded to so many meaningful figures. */
export const rounded = (value: number, most: number): number => Number(value.toPrecision(most))

/** Rounded to so many decimals. */
export const roundedTo = (value: number, decimals: number): number => Number(value.toFixed(decimals))

/** A count, its thousands apart. */
export const counted = (value: number): string => value.toLocaleString('en', { maximumFractionDigits: 0 })

/** Points as lists show them: to one decimal, whole ones without. */
export const pointsText = (points: number): string => `${Math.round(10 * points) / 10}`
