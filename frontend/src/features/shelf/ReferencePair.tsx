import { useMutation, useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { Link } from 'react-router'
import { Button } from '../../ui/Button'
import { Choice } from '../../ui/fields'
import { Muted, Note, Row } from '../../ui/layout'
import { sameCircuitQuery, setPair, type PairHow, type Reference } from './queries'

const HOW: { key: PairHow; text: string }[] = [
  { key: 'before', text: 'Before the repair' },
  { key: 'after', text: 'After the repair' },
  { key: 'sound', text: 'A sound one' },
  { key: 'faulty', text: 'A faulty one' },
  { key: 'sibling', text: 'A sibling' },
]

/** The reference that this one is drawn together with. */
export function ReferencePair({
  reference,
  onTaken,
}: {
  reference: Reference
  onTaken: (next: Reference) => void
}) {
  const { data: others } = useQuery(sameCircuitQuery(reference.circuit))
  const [other, setOther] = useState<string | null>(null)
  const [how, setHow] = useState<PairHow>('sound')
  const change = useMutation({
    mutationFn: (other_id: number | null) =>
      setPair(reference.id, { revision: reference.revision, other_id, how }),
    onSuccess: onTaken,
  })
  return (
    <>
      <h2 className="small">Drawn together with</h2>
      {reference.pair ? (
        <Row>
          <span>
            <Link to={`/shelf/${reference.pair.id}`}>{reference.pair.title}</Link>, {reference.pair.words}:
            the dashed line.{' '}
            <Link to={`/shelf/compare?ids=${reference.id},${reference.pair.id}`}>Compare readings</Link>
          </span>
          {reference.may_change && (
            <Button $quiet isDisabled={change.isPending} onPress={() => change.mutate(null)}>
              Alone again
            </Button>
          )}
        </Row>
      ) : (
        reference.may_change && (
          <Row>
            <div style={{ flex: '1 1 180px' }}>
              <Choice
                hidden
                label="The other half of the pair"
                placeholder="Another of this circuit"
                value={other}
                onChange={setOther}
                options={(others?.items ?? [])
                  .filter((item) => item.id !== reference.id)
                  .map((item) => ({ key: String(item.id), text: item.title }))}
              />
            </div>
            <div style={{ width: 150 }}>
              <Choice
                hidden
                label="What it is to this one"
                value={how}
                onChange={(key) => setHow(key as PairHow)}
                options={HOW}
              />
            </div>
            <Button
              isDisabled={other === null || change.isPending}
              onPress={() => change.mutate(Number(other))}
            >
              Pair
            </Button>
          </Row>
        )
      )}
      {!reference.pair && !reference.may_change && <Muted>Nothing.</Muted>}
      {change.error && <Note kind="error">{change.error.message}</Note>}
    </>
  )
}
