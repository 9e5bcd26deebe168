import type { ReactNode } from 'react'
import styled from 'styled-components'
import { Button } from '../../ui/Button'
import { Note, Panel, Stack } from '../../ui/layout'

interface Props {
  about: ReactNode
  /** What goes wrong when it is sent, or before. */
  error: Error | null
  /** What the button says. */
  send: string
  ready: boolean
  onSend: () => void
  children?: ReactNode
}

/** A form alone in the middle of the page: signing in, joining, beginning a school. */
export function Middle({ about, error, send, ready, onSend, children }: Props) {
  return (
    <Around>
      <Panel
        as="form"
        onSubmit={(e: React.FormEvent) => {
          e.preventDefault()
          if (ready) onSend()
        }}
      >
        <Stack $gap={14}>
          <div>
            <h1>Trace Bench</h1>
            {about && <p>{about}</p>}
          </div>
          {children}
          {error && <Note kind="error">{error.message}</Note>}
          {children && (
            <Button type="submit" $main $touch isDisabled={!ready}>
              {send}
            </Button>
          )}
        </Stack>
      </Panel>
    </Around>
  )
}

const Around = styled.main`
  min-height: 100vh;
  display: grid;
  place-items: center;
  form {
    width: min(380px, 92vw);
    padding: 26px 28px;
  }
  p {
    color: ${(p) => p.theme.colour.muted};
  }
`
