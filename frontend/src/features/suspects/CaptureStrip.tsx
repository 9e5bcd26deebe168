import { useState } from 'react'
import styled from 'styled-components'
import type { Pegs } from '../../plot/types'
import { Strip } from '../../plot/Strip'
import { marksOf, useCircuit, usePegValues, useTrace, type Answer } from '../../shared/facts'

interface Props {
  captureId: number
  circuit: string
  answer: Answer
}

/** A capture of the trainer with what was found on it; pegs read it as anywhere. */
export function CaptureStrip({ captureId, circuit: code, answer }: Props) {
  const circuit = useCircuit(code)
  const trace = useTrace(captureId, code)
  const [pegs, setPegs] = useState<Pegs>([null, null])
  const values = usePegValues(captureId, pegs)
  const [selected, setSelected] = useState<string | null>(null)
  return (
    <Space aria-label={`Trace: ${circuit.title}`}>
      {trace && (
        <Strip
          {...trace}
          marks={marksOf({ ...answer, readings: [] }, circuit)}
          selected={selected}
          onSelect={setSelected}
          pegs={pegs}
          onPegs={setPegs}
          values={values}
        />
      )}
    </Space>
  )
}

const Space = styled.section`
  height: 400px;
  margin-top: 8px;
`
