import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { Sum } from '../../shared/Sum'
import { calculationsQuery } from '../../shared/sums'
import { Choice } from '../../ui/fields'
import { Fold } from '../../ui/Fold'
import { Stack } from '../../ui/layout'

interface Props {
  unit: string
  onTake: (value: number) => void
}

/** The toolbox's sums beside a step that asks for a number: what comes out can be taken as the answer. */
export function WorkItOut({ unit, onTake }: Props) {
  const { data } = useQuery(calculationsQuery)
  const [key, setKey] = useState<string | null>(null)
  const chosen = data?.find((c) => c.key === key)
  return (
    <Fold title="Work it out">
      <Stack $gap={10}>
        <Choice
          label="Sum"
          value={key}
          onChange={setKey}
          options={(data ?? []).map((c) => ({ key: c.key, text: c.title }))}
        />
        {chosen && <Sum key={chosen.key} calculation={chosen} take={{ unit, onTake }} />}
      </Stack>
    </Fold>
  )
}
