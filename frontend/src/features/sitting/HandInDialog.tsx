import { useMutation, useQueryClient } from '@tanstack/react-query'
import { Dialog, Heading, Modal, ModalOverlay } from 'react-aria-components'
import styled from 'styled-components'
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
    <Veil isOpen={open} onOpenChange={(now) => !now && onClose()} isDismissable>
      <Modal>
        <Sheet>
          <Heading slot="title">Hand in?</Heading>
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
        </Sheet>
      </Modal>
    </Veil>
  )
}

const Veil = styled(ModalOverlay)`
  position: fixed;
  inset: 0;
  display: grid;
  place-items: center;
  background: rgb(0 0 0 / 45%);
  z-index: 10;
`

const Sheet = styled(Dialog)`
  width: min(520px, 92vw);
  padding: 20px 24px;
  outline: none;
  background: ${(p) => p.theme.colour.sheet};
  color: ${(p) => p.theme.colour.ink};
  border-radius: ${(p) => p.theme.radius};
  > * + * {
    margin-top: 12px;
  }
`
