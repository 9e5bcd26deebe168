import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { Text } from '../../ui/fields'
import { Middle } from './Middle'
import { beginSchool, sessionQuery } from './queries'

/** The first page of a new installation, reached by the link that ./start prints: makes the administrator. */
export function FirstPage() {
  const [fresh, setFresh] = useState({ school: '', name: '', sign_in: '', password: '' })
  const client = useQueryClient()
  const begin = useMutation({
    mutationFn: () => beginSchool({ ...fresh, token: window.location.hash.slice(1) }),
    onSuccess: (session) => {
      // The link is used up; it must not stay in the address.
      window.history.replaceState(null, '', '/people')
      client.setQueryData(sessionQuery.queryKey, session)
      window.location.assign('/people')
    },
  })
  const set = (part: Partial<typeof fresh>) => setFresh({ ...fresh, ...part })
  return (
    <Middle
      about="A new school begins with its administrator: you. Next you bring in instructors and learners and open their first course."
      error={begin.error}
      send="Begin"
      ready={!begin.isPending && fresh.name !== '' && fresh.sign_in !== '' && fresh.password !== ''}
      onSend={() => begin.mutate()}
    >
      <Text
        label="Name of the school"
        value={fresh.school}
        onChange={(school) => set({ school })}
        autoComplete="organization"
      />
      <Text label="Your name" value={fresh.name} onChange={(name) => set({ name })} autoComplete="name" />
      <Text
        label="Sign-in name"
        value={fresh.sign_in}
        onChange={(sign_in) => set({ sign_in })}
        autoComplete="username"
      />
      <Text
        label="Password: three or four words"
        type="password"
        value={fresh.password}
        onChange={(password) => set({ password })}
        autoComplete="new-password"
      />
    </Middle>
  )
}
