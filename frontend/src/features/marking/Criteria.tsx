import styled from 'styled-components'
import { ResultList } from '../../shared/ResultList'
import { Certainty } from '../../ui/marks'
import { ChangeForm } from './ChangeForm'
import type { MarkSheet } from './queries'

export interface Decision {
  criterion: string
  earned: number
  reason: string
  stood: number
  /** Other sittings that the same decision goes to. */
  also: number[]
}

interface Props {
  sheet: MarkSheet
  selected: string | null
  onSelect: (id: string | null) => void
  busy: boolean
  onDecide: (decision: Decision) => void
}

/** The criteria, each with how sure the tool is of it; the chosen one can be changed. */
export function Criteria({ sheet, selected, onSelect, busy, onDecide }: Props) {
  return (
    <ResultList
      results={sheet.grade.results}
      selected={selected}
      onSelect={onSelect}
      below={(r) => (
        <>
          {r.certainty < 0.8 && (
            <Sure>
              <Certainty value={r.certainty} />
            </Sure>
          )}
          {r.criterion.endsWith('explain') && <Said>{sheet.answers[r.step ?? '']?.words}</Said>}
          {sheet.state === 'handed_in' && selected === r.criterion && (
            <ChangeForm
              phrases={sheet.card.steps.find((s) => s.id === r.step)?.phrases ?? []}
              key={r.criterion}
              result={r}
              busy={busy}
              onChange={(earned, reason, also) =>
                onDecide({ criterion: r.criterion, earned, reason, stood: r.settled, also })
              }
              sittingId={sheet.id}
            />
          )}
        </>
      )}
    />
  )
}

const Said = styled.blockquote`
  margin: 0 12px 8px;
  padding: 6px 10px;
  border-left: 3px solid ${(p) => p.theme.colour.edge};
  font-size: 14px;
  white-space: pre-wrap;
  &:empty {
    display: none;
  }
`

const Sure = styled.div`
  padding: 0 12px 7px;
`
