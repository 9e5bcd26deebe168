import type { ReactNode } from 'react'
import {
  Button,
  Input,
  Label,
  ListBox,
  ListBoxItem,
  Popover,
  Select,
  SelectValue,
  TextArea,
  TextField,
} from 'react-aria-components'
import styled from 'styled-components'

const Caption = styled(Label)`
  display: block;
  margin-bottom: 3px;
  font-size: 13px;
  color: ${(p) => p.theme.colour.muted};
`

const box = `
  width: 100%;
  min-height: 38px;
  padding: 6px 10px;
  border-radius: 4px;
  text-align: left;
`

const Line = styled(Input)`
  ${box}
  border: 1px solid ${(p) => p.theme.colour.edge};
  background: ${(p) => p.theme.colour.sheet};
`

const Lines = styled(TextArea)`
  ${box}
  border: 1px solid ${(p) => p.theme.colour.edge};
  background: ${(p) => p.theme.colour.sheet};
  resize: vertical;
`

interface TextProps {
  label: string
  value: string
  onChange: (value: string) => void
  lines?: number
  type?: string
  autoComplete?: string
  hidden?: boolean
  /** Show the hidden label inside the empty field. */
  placeholder?: boolean
  disabled?: boolean
}

/** One line of text, or several with `lines`. */
export function Text({
  label,
  value,
  onChange,
  lines,
  type = 'text',
  autoComplete,
  hidden,
  placeholder,
  disabled,
}: TextProps) {
  return (
    <TextField
      value={value}
      onChange={onChange}
      isDisabled={disabled ?? false}
      aria-label={hidden ? label : undefined}
    >
      {!hidden && <Caption>{label}</Caption>}
      {lines ? (
        <Lines rows={lines} placeholder={placeholder ? label : undefined} />
      ) : (
        <Line type={type} autoComplete={autoComplete} placeholder={placeholder ? label : undefined} />
      )}
    </TextField>
  )
}

const Picker = styled(Button)`
  ${box}
  display: flex;
  justify-content: space-between;
  align-items: center;
  gap: 8px;
  border: 1px solid ${(p) => p.theme.colour.edge};
  background: ${(p) => p.theme.colour.sheet};
  cursor: pointer;
  &[data-disabled] {
    opacity: 0.5;
  }
`

const Sheet = styled(Popover)`
  min-width: var(--trigger-width);
  max-width: 520px;
  max-height: 340px;
  overflow: auto;
  background: ${(p) => p.theme.colour.sheet};
  color: ${(p) => p.theme.colour.ink};
  border: 1px solid ${(p) => p.theme.colour.edge};
  border-radius: 4px;
  box-shadow: 0 4px 14px rgb(0 0 0 / 18%);
`

const Item = styled(ListBoxItem)`
  min-height: 40px;
  padding: 9px 12px;
  cursor: pointer;
  outline: none;
  &[data-focused] {
    background: ${(p) => p.theme.colour.phaseAlt};
  }
  &[data-selected] {
    font-weight: 650;
  }
`

interface ChoiceProps {
  label: string
  value: string | null
  options: { key: string; text: string }[]
  onChange: (key: string) => void
  hidden?: boolean
  placeholder?: string
  disabled?: boolean
}

/** Choose one of a list. */
export function Choice({
  label,
  value,
  options,
  onChange,
  hidden,
  placeholder = 'Choose',
  disabled,
}: ChoiceProps) {
  return (
    <Select
      value={value}
      onChange={(key) => key !== null && onChange(String(key))}
      isDisabled={disabled ?? false}
      aria-label={hidden ? label : undefined}
      placeholder={placeholder}
    >
      {!hidden && <Caption>{label}</Caption>}
      <Picker>
        <SelectValue />
        <span aria-hidden="true">▾</span>
      </Picker>
      <Sheet>
        <ListBox items={options.map((o) => ({ id: o.key, text: o.text }))} style={{ outline: 'none' }}>
          {(item) => <Item textValue={item.text}>{item.text}</Item>}
        </ListBox>
      </Sheet>
    </Select>
  )
}

/** Fields side by side that wrap. */
export const Fields = styled.div<{ $least?: number }>`
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(${(p) => p.$least ?? 180}px, 1fr));
  gap: 10px 12px;
`

/** A labelled group of plain controls. */
export function Labelled({ label, children }: { label: string; children: ReactNode }) {
  return (
    <div>
      <Small>{label}</Small>
      {children}
    </div>
  )
}

const Small = styled.div`
  margin-bottom: 3px;
  font-size: 13px;
  color: ${(p) => p.theme.colour.muted};
`
