interface Props {
  label: string
  value: number
  most: number
  step: number
  onSlide: (value: number) => void
}

/** A slide from nought to the most. */
export function Slide({ label, value, most, step, onSlide }: Props) {
  return (
    <input
      type="range"
      min={0}
      max={most}
      step={step}
      value={value}
      aria-label={label}
      onChange={(e) => onSlide(Number(e.target.value))}
    />
  )
}
