import type { ReactNode } from 'react'

interface Props {
  on: boolean
  onSet: (on: boolean) => void
  disabled?: boolean
  /** What is heard where nothing is written beside it. */
  label?: string
  children?: ReactNode
}

/** A box to tick, with what it says. */
export function Tick({ on, onSet, disabled = false, label, children }: Props) {
  return (
    <label>
      <input
        type="checkbox"
        checked={on}
        disabled={disabled}
        aria-label={label}
        onChange={(e) => onSet(e.target.checked)}
      />{' '}
      {children}
    </label>
  )
}

/** A list with a key put in or taken out. */
export const ticked = <T,>(all: readonly T[], key: T, on: boolean): T[] =>
  on ? [...all, key] : all.filter((k) => k !== key)
