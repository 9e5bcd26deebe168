import { useMutation, useQueryClient } from '@tanstack/react-query'
import { Ask } from '../../ui/Ask'
import { Button } from '../../ui/Button'
import { Note, Row } from '../../ui/layout'
import { handIn, sittingQuery, type Sitting } from './queries'

interface Props {
  open: boolean
  sitting: Sitting
  titles: Record<string, string>
  onClose: () => void
  /** Waits for the save under way, so that nothing typed is left out. */
  settled: () => Promise<void>
}

/** Says what is missing, then hands in. */
export function HandInDialog({ open, sitting, titles, onClose, settled }: Props) {
  const client = useQueryClient()
  const hand = useMutation({
    mutationFn: async () => {
      await settled()
      return handIn(sitting.id)
    },
    onSuccess: (next) => {
      client.setQueryData(sittingQuery(sitting.id).queryKey, next)
      void client.invalidateQueries({ queryKey: ['today'] })
      void client.invalidateQueries({ queryKey: ['cards'] })
    },
  })
  const missing = sitting.unanswered
  return (
    <Ask open={open} title="Hand in?" onClose={onClose}>
      {missing.length === 0 ? (
        <p>Every step is complete. After handing in, answers can no longer change.</p>
      ) : (
        <>
          <p>Not complete yet; what is missing earns no points:</p>
          <ul>
            {missing.map((m) => (
              <li key={m.step}>
                <b>{titles[m.step] ?? m.step}</b>: {m.what}
              </li>
            ))}
          </ul>
        </>
      )}
      {hand.error && <Note kind="error">{hand.error.message}</Note>}
      <Row $end>
        <Button $touch onPress={onClose}>
          Go on working
        </Button>
        <Button $touch $main isDisabled={hand.isPending} onPress={() => hand.mutate()}>
          {missing.length ? 'Hand in as it is' : 'Hand in'}
        </Button>
      </Row>
    </Ask>
  )
}
