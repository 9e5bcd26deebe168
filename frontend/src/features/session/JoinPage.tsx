import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { Text } from '../../ui/fields'
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
    <Middle
      about={
        who && (
          <>
            Hello {who.name}. Choose a password; from then on you sign in as <b>{who.sign_in}</b>.
          </>
        )
      }
      error={error ?? enter.error}
      send="Begin"
      ready={!enter.isPending && password !== ''}
      onSend={() => enter.mutate()}
    >
      {who && (
        <Text
          label="Password: three or four words"
          type="password"
          value={password}
          onChange={setPassword}
          autoComplete="new-password"
        />
      )}
    </Middle>
  )
}
