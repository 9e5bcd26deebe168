import styled from 'styled-components'
import { Parade, type ParadeCourse, type ParadeData } from '../plot/Parade'
import type { Answer, Circuit } from './facts'

interface Props {
  data: ParadeData & { lane: string }
  circuit: Circuit
  findings: Answer['findings']
  /** True where a firing order is told, so that a number is a cylinder and no mere place in the row. */
  ordered: boolean
  onShow: (course: ParadeCourse, lane: string) => void
  /** Of a height of its own, where nothing round it gives one. */
  tall?: boolean
}

/** The events of a capture over each other, with the odd one in front. */
export function EventParade({ data, circuit, findings, ordered, onShow, tall = false }: Props) {
  const role = circuit.lanes.find((l) => l.name === data.lane)?.role ?? 'signal'
  const parade = (
    <Parade
      data={data}
      role={role}
      place={ordered ? 'cylinder' : 'position'}
      odd={findings.find((f) => f.kind === 'fault' && f.cylinder !== null)?.cylinder ?? null}
      reading={(id) => (circuit.readings.find((r) => r.id === id)?.title ?? id).toLowerCase()}
      onShow={(course) => onShow(course, data.lane)}
    />
  )
  return tall ? <Tall>{parade}</Tall> : parade
}

const Tall = styled.div`
  display: grid;
  height: 420px;
  margin-top: 12px;
`
