import { Button, Dialog, Heading, Modal, ModalOverlay } from 'react-aria-components'
import styled from 'styled-components'

const KEYS: [string, string][] = [
  ['← →', 'on the trace: earlier, later; on a peg: one sample (Shift: ten)'],
  ['↑ ↓', 'on the trace: zoom in, zoom out; between lanes: height'],
  ['Home', 'the whole record'],
  ['1 2', 'set peg 1 or peg 2 in the middle of the view'],
  ['Alt', 'while placing a peg: do not snap to events'],
  ['Esc', 'take pegs and choice away'],
  ['n', 'marking desk: next sitting'],
  ['r', 'marking desk: release and go on'],
  ['?', 'this sheet'],
]

/** All keys on one sheet. */
export function KeySheet({ open, onClose }: { open: boolean; onClose: () => void }) {
  return (
    <Veil isOpen={open} onOpenChange={(now) => !now && onClose()} isDismissable>
      <Modal>
        <Sheet>
          <Heading slot="title">Keys</Heading>
          <dl>
            {KEYS.map(([key, what]) => (
              <div key={key}>
                <dt className="num">{key}</dt>
                <dd>{what}</dd>
              </div>
            ))}
          </dl>
          <p>Wheel: zoom. Shift and wheel, or drag: move. Two fingers: zoom. Tap: set the chosen peg.</p>
          <Button slot="close">Close</Button>
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
  width: min(560px, 92vw);
  padding: 18px 22px;
  outline: none;
  background: ${(p) => p.theme.colour.sheet};
  color: ${(p) => p.theme.colour.ink};
  border-radius: ${(p) => p.theme.radius};
  dl {
    margin: 10px 0;
  }
  dl div {
    display: grid;
    grid-template-columns: 90px 1fr;
    padding: 5px 0;
    border-top: 1px solid ${(p) => p.theme.colour.faint};
  }
  button {
    margin-top: 12px;
    min-height: 40px;
    padding: 0 16px;
  }
`
