import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { Button } from '../../ui/Button'
import { Text } from '../../ui/fields'
import { Note, Panel, Stack } from '../../ui/layout'
import { Middle } from './Middle'
import { sessionQuery, signIn } from './queries'

export function SignInPage() {
  const [name, setName] = useState('')
  const [password, setPassword] = useState('')
  const client = useQueryClient()
  const enter = useMutation({
    mutationFn: () => signIn(name, password),
    onSuccess: (session) => client.setQueryData(sessionQuery.queryKey, session),
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
            <p>Reference captures, job cards and marks for the workshop.</p>
          </div>
          <Text label="Sign-in name" value={name} onChange={setName} autoComplete="username" />
          <Text
            label="Password"
            type="password"
            value={password}
            onChange={setPassword}
            autoComplete="current-password"
          />
          {enter.error && <Note kind="error">{enter.error.message}</Note>}
          <Button type="submit" $main $touch isDisabled={enter.isPending || !name || !password}>
            Sign in
          </Button>
        </Stack>
      </Panel>
    </Middle>
  )
}
