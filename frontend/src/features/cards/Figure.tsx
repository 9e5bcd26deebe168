import { numberIn } from '../../ui/numbers'
import { Text } from '../../ui/fields'

/** A number that is typed; what is not one yet changes nothing. */
export function Figure({
  label,
  value,
  onChange,
}: {
  label: string
  value: number
  onChange: (n: number) => void
}) {
  return (
    <Text
      hidden
      label={label}
      value={String(value)}
      onChange={(t) => {
        const n = numberIn(t)
        if (n !== null) onChange(n)
      }}
    />
  )
}
