import { useState } from 'react'
import styled from 'styled-components'
import type { Result } from '../../shared/results'
import { Button } from '../../ui/Button'
import { Text } from '../../ui/fields'

interface Props {
  result: Result
  busy: boolean
  onChange: (earned: number, reason: string) => void
}

/** Other points for one criterion, with the reason the learner will read. */
export function ChangeForm({ result, busy, onChange }: Props) {
  const [earned, setEarned] = useState(String(result.settled))
  const [reason, setReason] = useState('')
  const points = Number(earned.replace(',', '.'))
  const usable = Number.isFinite(points) && points >= 0 && points <= result.points && reason.trim() !== ''
  return (
    <Form>
      <Text label={`Points, 0 to ${result.points}`} value={earned} onChange={setEarned} />
      <Text label="Reason, for the learner" value={reason} onChange={setReason} />
      <Button isDisabled={!usable || busy} onPress={() => onChange(points, reason)}>
        Change
      </Button>
    </Form>
  )
}

const Form = styled.div`
  display: grid;
  grid-template-columns: 92px 1fr auto;
  gap: 8px;
  align-items: end;
  padding: 4px 12px 12px;
`
