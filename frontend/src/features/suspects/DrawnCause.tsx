import { Button } from '../../ui/Button'
import { Row } from '../../ui/layout'
import type { Drawn } from './caseState'
import { words } from './words'

interface Props {
  drawn: Drawn
  symptoms: string[]
  onShow: () => void
}

/** That the trainer has a cause, and which one it is once somebody asks. */
export function DrawnCause({ drawn, symptoms, onShow }: Props) {
  return (
    <Row>
      <span>
        {drawn.shown
          ? `The trainer has: ${drawn.title} (${drawn.cause}).`
          : `The trainer has a cause for "${symptoms.map(words).join(', ')}".`}
      </span>
      {!drawn.shown && (
        <Button $quiet onPress={onShow}>
          Show the cause
        </Button>
      )}
    </Row>
  )
}
