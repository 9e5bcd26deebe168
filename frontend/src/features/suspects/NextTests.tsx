import styled from 'styled-components'
import { Button } from '../../ui/Button'
import { Muted, Panel, Table } from '../../ui/layout'
import { fixed } from '../../ui/numbers'
import type { NextTest, Suspicion } from './queries'
import { place, words } from './words'

interface Props {
  found: Suspicion
  /** What is done with a test: written down by hand, or done on the trainer where a case was drawn. */
  onDo: (test: NextTest) => void
  onTrainer: boolean
  /** Something is being done, or these are the tests of before it. */
  busy: boolean
}

/** What is worth its time, by what it is expected to tell a minute. */
export function NextTests({ found, onDo, onTrainer, busy }: Props) {
  return (
    <Panel aria-label="Test next">
      <h2>Test next</h2>
      {found.next.length === 0 ? (
        <Muted>
          {found.supported ? 'Nothing: one cause is supported.' : 'Nothing on offer tells the rest apart.'}
        </Muted>
      ) : (
        <Scroll>
          <Table>
            <thead>
              <tr>
                <th>Test</th>
                <th className="num">Min</th>
                <th className="num">Bits</th>
                <th>
                  <span className="hidden-text">Do it</span>
                </th>
              </tr>
            </thead>
            <tbody>
              {found.next.map((n) => {
                const where = [n.what && words(n.what), place(n.at), n.conditions.map(words).join(', ')]
                return (
                  <tr key={`${n.test} ${n.at} ${n.what} ${n.conditions.join()}`}>
                    <td>
                      {n.title}
                      <Where>{where.filter(Boolean).join(' · ')}</Where>
                    </td>
                    <td className="num">{fixed(n.minutes)}</td>
                    <td className="num">{fixed(n.bits, 2)}</td>
                    <td>
                      <Button $quiet isDisabled={busy} onPress={() => onDo(n)}>
                        {onTrainer ? 'Do it' : 'Write down'}
                      </Button>
                    </td>
                  </tr>
                )
              })}
            </tbody>
          </Table>
        </Scroll>
      )}
    </Panel>
  )
}

const Where = styled.small`
  display: block;
  color: ${(p) => p.theme.colour.muted};
`

const Scroll = styled.div`
  overflow-x: auto;
`
