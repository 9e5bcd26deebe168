import { useSuspenseQuery } from '@tanstack/react-query'
import { Suspense } from 'react'
import { ChangeList } from '../../shared/ChangeList'
import { Fold } from '../../ui/Fold'
import { Muted, Stack } from '../../ui/layout'
import { changesQuery, type Reference } from './queries'

/** What each version changed of the one before it, and what the draft has changed since. */
export function VersionChanges({ reference }: { reference: Reference }) {
  if (reference.versions.length < 2 && (reference.versions.length < 1 || reference.state !== 'draft'))
    return null
  return (
    <Fold title="What each version changed">
      <Suspense fallback={<Muted>…</Muted>}>
        <Listed reference={reference} />
      </Suspense>
    </Fold>
  )
}

function Listed({ reference }: { reference: Reference }) {
  const { data } = useSuspenseQuery(changesQuery(reference.id, reference.revision))
  return (
    <Stack $gap={8}>
      {data.length === 0 && <Muted>Nothing yet.</Muted>}
      {data.map((one) => (
        <div key={one.version ?? 'draft'}>
          <b>{one.version === null ? 'This draft' : `Version ${one.version}`}</b>
          {one.changes.length === 0 && <Muted> the same</Muted>}
          <ChangeList changes={one.changes} />
        </div>
      ))}
    </Stack>
  )
}
