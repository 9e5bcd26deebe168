import { fixed, numberIn } from '../../ui/numbers'
import { Tick } from '../../ui/Tick'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import styled from 'styled-components'
import type { Result } from '../../shared/results'
import { Button } from '../../ui/Button'
import { Text } from '../../ui/fields'
import { alikeDecisions } from './queries'

interface Props {
  /** What to look for in a free text: ticked, they make the points and the reason. */
  phrases?: string[]
  result: Result
  busy: boolean
  sittingId: number
  onChange: (earned: number, reason: string, also: number[]) => void
}

/** Other points for one criterion, with the reason the learner will read. */
export function ChangeForm({ result, busy, onChange, sittingId, phrases = [] }: Props) {
  const [said, setSaid] = useState<string[]>([])
  const { data: alike = [] } = useQuery(alikeDecisions(sittingId, result.criterion))
  const [toAll, setToAll] = useState(false)
  const [earned, setEarned] = useState(String(result.settled))
  const [reason, setReason] = useState('')
  const points = numberIn(earned)
  const usable = points !== null && points >= 0 && points <= result.points && reason.trim() !== ''
  const tick = (phrase: string) => {
    const next = said.includes(phrase) ? said.filter((p) => p !== phrase) : [...said, phrase]
    const missing = phrases.filter((p) => !next.includes(p))
    setSaid(next)
    setEarned(fixed((result.points * next.length) / phrases.length, 2).replace(/\.?0+$/, ''))
    setReason(
      [next.length && `said: ${next.join('; ')}`, missing.length && `missing: ${missing.join('; ')}`]
        .filter(Boolean)
        .join('. '),
    )
  }
  return (
    <Form>
      {phrases.length > 0 && (
        <Phrases>
          {phrases.map((phrase) => (
            <Tick key={phrase} on={said.includes(phrase)} onSet={() => tick(phrase)}>
              {phrase}
            </Tick>
          ))}
        </Phrases>
      )}
      <Text label={`Points, 0 to ${result.points}`} value={earned} onChange={setEarned} />
      <Text label="Reason, for the learner" value={reason} onChange={setReason} />
      <Button
        isDisabled={!usable || busy}
        onPress={() => onChange(points ?? 0, reason, toAll ? alike.map((a) => a.id) : [])}
      >
        Change
      </Button>
      {alike.length > 0 && (
        <Phrases>
          <Tick on={toAll} onSet={setToAll}>
            the same for {alike.map((a) => `${a.learner} (${a.settled})`).join(', ')}: decided alike
          </Tick>
        </Phrases>
      )}
    </Form>
  )
}

const Phrases = styled.div`
  grid-column: 1 / -1;
  display: grid;
  font-size: 14px;
  label {
    min-height: 34px;
    display: flex;
    gap: 8px;
    align-items: center;
  }
`

const Form = styled.div`
  display: grid;
  grid-template-columns: 92px 1fr auto;
  gap: 8px;
  align-items: end;
  padding: 4px 12px 12px;
`
