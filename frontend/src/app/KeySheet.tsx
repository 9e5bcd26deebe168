import styled from 'styled-components'
import { Ask } from '../ui/Ask'
import { Button } from '../ui/Button'

const KEYS: [string, string][] = [
  ['← →', 'on the trace: earlier, later; on a peg: one sample (Shift: ten)'],
  ['↑ ↓', 'on the trace: zoom in, zoom out; between lanes: height'],
  ['Home', 'the whole record'],
  ['1 2', 'set peg 1 or peg 2 in the middle of the view'],
  ['Alt', 'while placing a peg: do not snap to events'],
  ['Esc', 'take pegs and choice away'],
  ['t l p', 'on the trace of a reference: write a tag at the pegs, set a limit, phases'],
  ['n', 'marking desk, in the list of criteria: next sitting'],
  ['r r', 'marking desk, in the list of criteria: release and go on'],
  ['?', 'this sheet'],
]

/** All keys on one sheet. */
export function KeySheet({ open, onClose }: { open: boolean; onClose: () => void }) {
  return (
    <Ask open={open} title="Keys" onClose={onClose}>
      <Keys>
        {KEYS.map(([key, what]) => (
          <div key={key}>
            <dt className="num">{key}</dt>
            <dd>{what}</dd>
          </div>
        ))}
      </Keys>
      <p>Wheel: zoom. Shift and wheel, or drag: move. Two fingers: zoom. Tap: set the chosen peg.</p>
      <Button onPress={onClose}>Close</Button>
    </Ask>
  )
}

const Keys = styled.dl`
  > div {
    display: grid;
    grid-template-columns: 90px 1fr;
    padding: 5px 0;
    border-top: 1px solid ${(p) => p.theme.colour.faint};
  }
`
