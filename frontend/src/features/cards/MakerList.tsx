import styled from 'styled-components'
import type { Circuit } from '../../shared/facts'
import { stepTitle } from '../../shared/steps'
import { AddStep } from './AddStep'
import { pointsOf, sumOf } from './points'
import type { CardDocument, MakerFacts } from './queries'

/** What is shown beside the list: a step by its place, or one of the pages about the whole card. */
export type Place = number | 'told' | 'rules' | 'check'

interface Props {
  document: CardDocument
  circuit: Circuit
  maker: MakerFacts
  at: Place
  onGo: (to: Place) => void
  onChange: (change: Partial<CardDocument>) => void
}

/** The card as its learner goes through it, with what each step is worth; around it what is settled for the whole. */
export function MakerList({ document, circuit, maker, at, onGo, onChange }: Props) {
  const sum = sumOf(document, maker)
  const page = (key: Exclude<Place, number>, text: string) => (
    <li>
      <button aria-current={at === key ? 'step' : undefined} onClick={() => onGo(key)}>
        <span>{text}</span>
      </button>
    </li>
  )
  return (
    <Box aria-label="The card">
      <ol>
        {page('told', 'Brief and capture')}
        {document.steps.map((step, k) => (
          <li key={`${k}/${step.id}`}>
            <button aria-current={at === k ? 'step' : undefined} onClick={() => onGo(k)}>
              <span>
                {k + 1}. {stepTitle(step, circuit)}
                {step.hint ? ' · hint' : ''}
              </span>
              <b className="num">{pointsOf(document, step, maker)}</b>
            </button>
          </li>
        ))}
        <li>
          <AddStep
            document={document}
            circuit={circuit}
            onAdd={(step) => {
              onChange({ steps: [...document.steps, step] })
              onGo(document.steps.length)
            }}
          />
        </li>
        {page('rules', 'Rules and schools')}
        {page('check', 'Before publishing')}
      </ol>
      <p>
        <b className="num">{sum.trace + sum.around}</b> points: <b className="num">{sum.trace}</b> for reading
        the trace, <b className="num">{sum.around}</b> around it
      </p>
    </Box>
  )
}

const Box = styled.nav`
  overflow: auto;
  padding: 8px;
  background: ${(p) => p.theme.colour.sheet};
  border: 1px solid ${(p) => p.theme.colour.hair};
  border-radius: ${(p) => p.theme.radius};
  ol {
    padding: 0;
    list-style: none;
  }
  li > button {
    display: grid;
    grid-template-columns: 1fr auto;
    gap: 8px;
    align-items: center;
    width: 100%;
    min-height: 36px;
    padding: 3px 8px;
    border: 0;
    border-radius: 4px;
    background: none;
    text-align: left;
    font-size: 14px;
    line-height: 1.25;
    cursor: pointer;
    @media (pointer: coarse) {
      min-height: 44px;
    }
    b {
      font-weight: 500;
      color: ${(p) => p.theme.colour.muted};
    }
    &[aria-current] {
      background: ${(p) => p.theme.colour.sunk};
      font-weight: 650;
      box-shadow: inset 4px 0 0 ${(p) => p.theme.colour.ink};
    }
  }
  > p {
    margin: 10px 8px 4px;
    font-size: 13.5px;
    color: ${(p) => p.theme.colour.muted};
  }
`
