import { useState } from 'react'
import styled from 'styled-components'
import type { Schemas } from '../api/client'
import { Button } from '../ui/Button'
import { Muted } from '../ui/layout'

const FEW = 4

/** What was changed, from what to what; the first few, and the rest when asked. */
export function ChangeList({ changes }: { changes: Schemas['DifferenceOut'][] }) {
  const [all, setAll] = useState(false)
  const shown = all ? changes : changes.slice(0, FEW)
  return (
    <>
      {shown.map((c) => (
        <Change key={c.where}>
          <Muted>{c.where || 'all'}</Muted>{' '}
          {c.before !== null && (
            <>
              <s>{said(c.before)}</s> →{' '}
            </>
          )}
          {c.after === null ? 'taken away' : said(c.after)}
        </Change>
      ))}
      {changes.length > FEW && (
        <Button $quiet onPress={() => setAll(!all)}>
          {all ? 'Fewer' : `${changes.length - FEW} more`}
        </Button>
      )}
    </>
  )
}

const said = (value: unknown): string =>
  typeof value === 'string'
    ? value || '(empty)'
    : typeof value === 'number'
      ? String(value)
      : JSON.stringify(value)

const Change = styled.div`
  font-size: 13.5px;
  overflow-wrap: anywhere;
  s {
    color: ${(p) => p.theme.colour.muted};
  }
`
