import type { ReactNode } from 'react'
import { Dialog, Heading, Modal, ModalOverlay } from 'react-aria-components'
import styled from 'styled-components'

/** A question over the page; Escape and a press beside it close it. */
export function Ask({
  open,
  title,
  onClose,
  children,
}: {
  open: boolean
  title: string
  onClose: () => void
  children: ReactNode
}) {
  return (
    <Veil isOpen={open} onOpenChange={(now) => !now && onClose()} isDismissable>
      <Modal>
        <Sheet>
          <Heading slot="title">{title}</Heading>
          {children}
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
