import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { Button } from '../../ui/Button'
import { Text } from '../../ui/fields'
import { Note, Panel, Stack } from '../../ui/layout'
import { Middle } from './Middle'
import { invited, join, sessionQuery } from './queries'

/** Reached by a link that works once: its person chooses a password and is signed in. */
export function JoinPage() {
  const token = window.location.hash.slice(1)
  const [password, setPassword] = useState('')
  const client = useQueryClient()
  const { data: who, error } = useQuery({
    queryKey: ['invited', token],
    queryFn: () => invited(token),
    retry: false,
  })
  const enter = useMutation({
    mutationFn: () => join(token, password),
    onSuccess: (session) => {
      // The link is used up; it must not stay in the address.
      window.history.replaceState(null, '', '/')
      client.setQueryData(sessionQuery.queryKey, session)
      window.location.assign('/')
    },
  })
  return (
    <Middle>
      <Panel
        as="form"
        onSubmit={(e: React.FormEvent) => {
          e.preventDefault()
          enter.mutate()
        }}
      >
        <Stack $gap={14}>
          <div>
            <h1>Trace Bench</h1>
            {who && (
              <p>
                Hello {who.name}. Choose a password; from then on you sign in as <b>{who.sign_in}</b>.
              </p>
            )}
          </div>
          {error && <Note kind="error">{error.message}</Note>}
          {who && (
            <>
              <Text
                label="Password: three or four words"
                type="password"
                value={password}
                onChange={setPassword}
                autoComplete="new-password"
              />
              {enter.error && <Note kind="error">{enter.error.message}</Note>}
              <Button type="submit" $main $touch isDisabled={enter.isPending || !password}>
                Begin
              </Button>
            </>
          )}
        </Stack>
      </Panel>
    </Middle>
  )
}
