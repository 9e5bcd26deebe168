import { fixed } from '../../ui/numbers'
import { useMutation } from '@tanstack/react-query'
import { useState } from 'react'
import styled from 'styled-components'
import type { Pegs } from '../../plot/types'
import { Button } from '../../ui/Button'
import { Text } from '../../ui/fields'
import { Muted, Note } from '../../ui/layout'
import { pinComment, takeCommentAway, type MarkSheet } from './queries'

interface Props {
  sheet: MarkSheet
  pegs: Pegs
  onSheet: (next: MarkSheet) => void
}

/** Words pinned to the trace where the pegs stand, for the learner to read once the marks are released. */
export function Comments({ sheet, pegs, onSheet }: Props) {
  const [words, setWords] = useState('')
  const open = sheet.state === 'handed_in'
  const pin = useMutation({
    mutationFn: ([from, to]: [number, number]) => pinComment(sheet.id, { from, to, words }),
    onSuccess: (next) => {
      setWords('')
      onSheet(next)
    },
  })
  const away = useMutation({
    mutationFn: (id: number) => takeCommentAway(sheet.id, id),
    onSuccess: onSheet,
  })
  const [a, b] = pegs
  const place = a ?? b
  const error = pin.error ?? away.error
  if (!sheet.capture_id || (!open && sheet.comments.length === 0)) return null
  return (
    <Box>
      <b>Pinned to the trace</b>
      {sheet.comments.map((c) => (
        <p key={c.id}>
          <span className="num">{fixed(c.from, 2)} s</span> {c.words}
          {open && (
            <Button
              $quiet
              aria-label={`Take the comment at ${fixed(c.from, 2)} s away`}
              onPress={() => away.mutate(c.id)}
            >
              ✕
            </Button>
          )}
        </p>
      ))}
      {open &&
        (place === null ? (
          <Muted>Set a peg, or two around a stretch, to pin a comment there.</Muted>
        ) : (
          <Line>
            <Text hidden placeholder label="Comment at the peg" value={words} onChange={setWords} />
            <Button
              isDisabled={!words.trim() || pin.isPending}
              onPress={() => pin.mutate([place, a !== null && b !== null ? b : place])}
            >
              Pin it
            </Button>
          </Line>
        ))}
      {error && <Note kind="error">{error.message}</Note>}
    </Box>
  )
}

const Box = styled.div`
  display: grid;
  gap: 4px;
  padding: 8px 12px;
  font-size: 14px;
  border-bottom: 1px solid ${(p) => p.theme.colour.hair};
  p {
    display: flex;
    gap: 8px;
    align-items: baseline;
  }
  p button {
    margin-left: auto;
  }
`

const Line = styled.div`
  display: grid;
  grid-template-columns: 1fr auto;
  gap: 6px;
`
