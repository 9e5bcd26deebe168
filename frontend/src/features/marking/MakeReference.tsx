import { useMutation } from '@tanstack/react-query'
import { useState } from 'react'
import { useNavigate } from 'react-router'
import { Ask } from '../../ui/Ask'
import { Button } from '../../ui/Button'
import { Text } from '../../ui/fields'
import { Note, Row } from '../../ui/layout'
import { referenceOf, type MarkSheet } from './queries'

/** A learner's capture becomes a draft reference: on the instructor's word, and without the learner's name. */
export function MakeReference({ sheet }: { sheet: MarkSheet }) {
  const [open, setOpen] = useState(false)
  const [title, setTitle] = useState('')
  const go = useNavigate()
  const make = useMutation({
    mutationFn: () => referenceOf(sheet, title),
    onSuccess: (made) => void go(`/shelf/${made.id}`),
  })
  if (sheet.capture_id === null) return null
  return (
    <>
      <Button onPress={() => setOpen(true)}>Make a reference</Button>
      <Ask open={open} title="A reference of this capture" onClose={() => setOpen(false)}>
        <p>
          The capture is copied, and the learner’s name and the name of their file are taken off. Do so only
          if {sheet.learner} agrees.
        </p>
        <Text label="Title of the reference" value={title} onChange={setTitle} />
        {make.error && <Note kind="error">{make.error.message}</Note>}
        <Row $end>
          <Button onPress={() => setOpen(false)}>Leave it</Button>
          <Button $main isDisabled={!title.trim() || make.isPending} onPress={() => make.mutate()}>
            They agree: make it
          </Button>
        </Row>
      </Ask>
    </>
  )
}
