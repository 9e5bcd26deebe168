import { Tick } from '../../ui/Tick'
import styled from 'styled-components'

const KEYS = 'tracebench-desk-keys'

/** Whether letters act in the list of criteria, as it was last set on this device. */
export const keysWanted = (): boolean => localStorage.getItem(KEYS) !== 'off'

interface Props {
  on: boolean
  onSet: (on: boolean) => void
  /** The letter that releases was pressed a first time. */
  once: boolean
}

/** What the letters do, and whether they do. */
export function DeskKeys({ on, onSet, once }: Props) {
  return (
    <Keys>
      <Tick
        on={on}
        onSet={(next) => {
          onSet(next)
          localStorage.setItem(KEYS, next ? 'on' : 'off')
        }}
      >
        keys in this list: n next, r twice releases
      </Tick>
      {once && <b role="status">press r once more to release</b>}
    </Keys>
  )
}

const Keys = styled.p`
  display: flex;
  flex-wrap: wrap;
  justify-content: space-between;
  gap: 4px 12px;
  padding: 7px 12px;
  font-size: 12.5px;
  color: ${(p) => p.theme.colour.muted};
  border-bottom: 1px solid ${(p) => p.theme.colour.hair};
`
