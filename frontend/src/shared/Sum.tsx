import { rounded } from '../ui/numbers'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import styled from 'styled-components'
import { Button } from '../ui/Button'
import { Fields, Text } from '../ui/fields'
import { Muted, Stack } from '../ui/layout'
import { workedQuery, type Calculation } from './sums'

interface Props {
  calculation: Calculation
  /** Offers the result to be taken, in the unit that it must have. */
  take?: { unit: string; onTake: (value: number) => void }
}

/** One calculation: its rule, the figures that go in, and the working. */
export function Sum({ calculation, take }: Props) {
  const [figures, setFigures] = useState<Record<string, string>>({})
  const whole = calculation.inputs.every((i) => (figures[i.key] ?? '').trim() !== '')
  const { data, error } = useQuery({ ...workedQuery(calculation.key, figures), enabled: whole })
  return (
    <Stack $gap={10}>
      <Muted>{calculation.rule}</Muted>
      <Fields $least={120}>
        {calculation.inputs.map((i) => (
          <Text
            key={i.key}
            label={i.unit ? `${i.title}, ${i.unit}` : i.title}
            value={figures[i.key] ?? ''}
            onChange={(v) => setFigures({ ...figures, [i.key]: v })}
          />
        ))}
      </Fields>
      <Out aria-live="polite">
        {whole && error && <em>{error.message}</em>}
        {whole && data && (
          <>
            <b className="num">
              {rounded(data.value, 5)} {data.unit}
            </b>
            {data.lines.map((line) => (
              <span key={line}>{line}</span>
            ))}
            {take &&
              (data.unit === take.unit ? (
                <Button $touch onPress={() => take.onTake(rounded(data.value, 5))}>
                  Take this as the answer
                </Button>
              ) : (
                <Muted>
                  This gives {data.unit || 'a number'}; the step asks for {take.unit || 'a number'}.
                </Muted>
              ))}
          </>
        )}
      </Out>
    </Stack>
  )
}

const Out = styled.output`
  display: block;
  min-height: 72px;
  b {
    display: block;
    margin-bottom: 3px;
    font-size: 21px;
    font-weight: 500;
  }
  span {
    display: block;
    font-family: ${(p) => p.theme.type.mono};
    font-size: 13px;
    color: ${(p) => p.theme.colour.soft};
  }
  em {
    font-style: normal;
    color: ${(p) => p.theme.colour.fault};
  }
`
