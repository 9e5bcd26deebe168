import { useState } from 'react'
import styled from 'styled-components'
import { Button } from '../../ui/Button'
import { Muted, Note, Row } from '../../ui/layout'
import { linkOf } from './queries'

export interface Link {
  name: string
  sign_in: string
  token: string
}

/** Links that were just made: copied one by one, or printed as slips to hand out. They are shown this once. */
export function Links({ links, onDone }: { links: Link[]; onDone: () => void }) {
  const [copied, setCopied] = useState('')
  return (
    <Slips>
      <Note>
        {links.length === 1 ? 'This link works' : 'Each link works'} once, for 14 days, and is shown only now:
        by it {links.length === 1 ? 'the person chooses their' : 'each person chooses their own'} password.
      </Note>
      <ul>
        {links.map((l) => (
          <li key={l.token}>
            <b>{l.name}</b> <Muted>signs in as {l.sign_in}</Muted>
            <code>{linkOf(l.token)}</code>
            <Button
              $quiet
              onPress={() => {
                void navigator.clipboard.writeText(linkOf(l.token)).then(() => setCopied(l.token))
              }}
            >
              {copied === l.token ? 'Copied' : 'Copy'}
            </Button>
          </li>
        ))}
      </ul>
      <Row $end>
        <Button onPress={() => window.print()}>Print as slips</Button>
        <Button $main onPress={onDone}>
          Done
        </Button>
      </Row>
    </Slips>
  )
}

const Slips = styled.div`
  display: grid;
  gap: 10px;
  ul {
    list-style: none;
    padding: 0;
  }
  li {
    display: grid;
    grid-template-columns: auto 1fr auto;
    gap: 2px 10px;
    align-items: center;
    padding: 6px 0;
    border-top: 1px solid ${(p) => p.theme.colour.faint};
  }
  code {
    grid-column: 1 / 3;
    font-size: 13px;
    overflow-wrap: anywhere;
  }
  @media print {
    li {
      break-inside: avoid;
      padding: 18px 0;
      border-top: 1px dashed;
    }
    button,
    > :first-child {
      display: none;
    }
  }
`
