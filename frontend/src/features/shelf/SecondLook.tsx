import { useMutation } from '@tanstack/react-query'
import { useState } from 'react'
import { Button } from '../../ui/Button'
import { Text } from '../../ui/fields'
import { Note, Row } from '../../ui/layout'
import { dayText } from '../../ui/time'
import { secondLook, type Reference } from './queries'

/** Where its course wants it: what a second instructor said of the reference as it stands, or the place to say it. */
export function SecondLook({
  reference,
  onTaken,
}: {
  reference: Reference
  onTaken: (next: Reference) => void
}) {
  const [note, setNote] = useState('')
  const say = useMutation({
    mutationFn: (fine: boolean) => secondLook(reference.id, { revision: reference.revision, fine, note }),
    onSuccess: (next) => {
      setNote('')
      onTaken(next)
    },
  })
  const { review } = reference
  if (!review || reference.state === 'published') return null
  const said = review.by
    ? `${review.by} ${review.fine ? 'found it fine' : 'sent it back'}, ${dayText(review.at ?? '')}${review.note ? `: ${review.note}` : ''}.`
    : 'Nobody has looked at it as it stands now.'
  return (
    <Note kind={review.fine ? 'plain' : 'warn'}>
      <Row>
        <span>This course wants a second instructor’s look before it is published. {said}</span>
        {!reference.owned && (
          <>
            <div style={{ flex: '1 1 220px' }}>
              <Text hidden placeholder label="What is to be put right" value={note} onChange={setNote} />
            </div>
            <Button isDisabled={say.isPending} onPress={() => say.mutate(true)}>
              It is fine
            </Button>
            <Button isDisabled={say.isPending || !note.trim()} onPress={() => say.mutate(false)}>
              Send it back
            </Button>
          </>
        )}
      </Row>
      {say.error && <p>{say.error.message}</p>}
    </Note>
  )
}
