import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { Text } from '../../ui/fields'
import { Middle } from './Middle'
import { sessionQuery, signIn } from './queries'

export function SignInPage({ school }: { school: string }) {
  const [name, setName] = useState('')
  const [password, setPassword] = useState('')
  const client = useQueryClient()
  const enter = useMutation({
    mutationFn: () => signIn(name, password),
    onSuccess: (session) => client.setQueryData(sessionQuery.queryKey, session),
  })
  return (
    <Middle
      about={school || 'Reference captures, job cards and marks for the workshop.'}
      error={enter.error}
      send="Sign in"
      ready={!enter.isPending && name !== '' && password !== ''}
      onSend={() => enter.mutate()}
    >
      <Text label="Sign-in name" value={name} onChange={setName} autoComplete="username" />
      <Text
        label="Password"
        type="password"
        value={password}
        onChange={setPassword}
        autoComplete="current-password"
      />
    </Middle>
  )
}
