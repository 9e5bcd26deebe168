import type { ReactNode } from 'react'
import { Button, Disclosure, DisclosurePanel, Heading } from 'react-aria-components'
import styled from 'styled-components'

/** What most leave shut: a line that opens what is behind it. */
export function Fold({ title, children }: { title: string; children: ReactNode }) {
  return (
    <Disclosure>
      <Heading style={{ margin: 0, fontSize: 14 }}>
        <Opener slot="trigger">
          <span aria-hidden="true">▸</span> {title}
        </Opener>
      </Heading>
      <Panel>{children}</Panel>
    </Disclosure>
  )
}

const Opener = styled(Button)`
  min-height: 40px;
  padding: 6px 0;
  border: 0;
  background: none;
  font: inherit;
  font-weight: 600;
  cursor: pointer;
  span[aria-hidden] {
    display: inline-block;
    width: 1em;
  }
  &[aria-expanded='true'] span[aria-hidden] {
    transform: rotate(90deg);
  }
`

const Panel = styled(DisclosurePanel)`
  padding-bottom: 4px;
`
