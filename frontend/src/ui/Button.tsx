import { Button as AriaButton } from 'react-aria-components'
import styled from 'styled-components'

/** A button; `$main` for the one thing to do next, `$quiet` for things beside it. Learner screens use `$touch`. */
export const Button = styled(AriaButton)<{ $main?: boolean; $quiet?: boolean; $touch?: boolean }>`
  min-height: ${(p) => (p.$touch ? p.theme.touch : '36px')};
  padding: 0 ${(p) => (p.$touch ? '18px' : '13px')};
  border: 1px solid ${(p) => (p.$quiet ? 'transparent' : p.$main ? p.theme.colour.ink : p.theme.colour.edge)};
  border-radius: 4px;
  background: ${(p) => (p.$main ? p.theme.colour.ink : p.$quiet ? 'transparent' : p.theme.colour.sheet)};
  color: ${(p) => (p.$main ? p.theme.colour.sheet : p.theme.colour.ink)};
  font-size: ${(p) => (p.$touch ? '15.5px' : '14.5px')};
  white-space: nowrap;
  cursor: pointer;
  transition: opacity ${(p) => p.theme.motion};
  &[data-hovered] {
    opacity: 0.85;
  }
  &[aria-pressed='true'] {
    border-color: ${(p) => p.theme.colour.ink};
    background: ${(p) => (p.$main ? p.theme.colour.ink : p.theme.colour.pick)};
  }
  &[data-disabled] {
    opacity: 0.45;
    cursor: default;
  }
`
