import styled from 'styled-components'
import type { Circuit } from '../../shared/facts'
import { dayText } from '../../ui/time'
import { Exports } from './Exports'
import type { Reference } from './queries'
import { ReferenceReach } from './ReferenceReach'

interface Props {
  reference: Reference
  circuit: Circuit
  onTaken: (next: Reference) => void
}

/** Cautions of the circuit, who reaches the reference, its versions and files. */
export function SheetFoot({ reference, circuit, onTaken: take }: Props) {
  return (
    <>
      <Cautions aria-label="Cautions">
        {circuit.cautions.map((c) => (
          <li key={c.key}>{c.text}</li>
        ))}
      </Cautions>
      <Versions>
        <span>
          <ReferenceReach reference={reference} onChange={take} />
        </span>
        {reference.versions.map((v) => (
          <span key={v.id}>
            version {v.version}, published {dayText(v.published_at)} by {v.author}
          </span>
        ))}
        <Exports reference={reference} />
        <span>
          {reference.steps.length > 0 && <>measured {reference.steps.map((s) => s.words).join(', ')}; </>}
          last change {dayText(reference.changed_at)}, measured with engine {reference.answer.engine}
        </span>
      </Versions>
    </>
  )
}

const Cautions = styled.ul`
  margin: 12px 0;
  padding: 9px 14px 9px 30px;
  border-left: 4px solid ${(p) => p.theme.colour.warnEdge};
  background: ${(p) => p.theme.colour.warn};
  font-size: 13.5px;
  columns: 2 420px;
  li {
    break-inside: avoid;
    padding: 1px 0;
  }
`

const Versions = styled.p`
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 4px 18px;
  margin-top: 12px;
  font-size: 13px;
  color: ${(p) => p.theme.colour.muted};
`
