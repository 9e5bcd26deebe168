import { Ask } from '../../ui/Ask'
import { Button } from '../../ui/Button'
import { Row } from '../../ui/layout'
import { counted } from '../../ui/numbers'

/** What is begun in place of the case that is open. */
export type Instead = 'fresh' | 'draw'

interface Props {
  instead: Instead | null
  pieces: number
  onStay: () => void
  onLeave: (instead: Instead) => void
}

/** Asked before a case that somebody wrote gives way to another. */
export function LeaveCase({ instead, pieces, onStay, onLeave }: Props) {
  return (
    <Ask open={instead !== null} title="Leave this case?" onClose={onStay}>
      <p>
        {pieces
          ? `Its complaint and its evidence, ${counted(pieces)} in number, go with it.`
          : 'Its complaint goes with it.'}{' '}
        Save it first to open it again.
      </p>
      <Row $end>
        <Button onPress={onStay}>Stay here</Button>
        <Button $main onPress={() => instead && onLeave(instead)}>
          {instead === 'draw' ? 'Leave it and draw' : 'Leave it'}
        </Button>
      </Row>
    </Ask>
  )
}
