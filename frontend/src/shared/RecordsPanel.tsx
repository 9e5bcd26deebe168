import { useMutation, useQueryClient, useSuspenseQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { Button } from '../ui/Button'
import { Choice } from '../ui/fields'
import { Muted, Note, Panel, Row, Stack } from '../ui/layout'
import { KeptRecord } from './KeptRecord'
import { emptyRow, RecordRows, type TypedRow } from './RecordRows'
import { recordKindsQuery, type CaptureRecord, type RecordKind, type RecordPlace } from './records'

interface Props {
  place: RecordPlace
  /** Instant of the first peg, for rows that stand on the time axis. */
  pegS: number | null
}

/** What is no trace: drop test, resistances, voltages, the log of what was done; judged and kept with the capture. */
export function RecordsPanel({ place, pegS }: Props) {
  const { data: kinds } = useSuspenseQuery(recordKindsQuery)
  const { data: records } = useSuspenseQuery(place.query)
  const client = useQueryClient()
  const [key, setKey] = useState('')
  const kind = kinds.find((k) => k.key === key)
  const kept = (next: CaptureRecord[]) => client.setQueryData(place.query.queryKey, next)
  const remove = useMutation({ mutationFn: place.remove, onSuccess: kept })
  return (
    <Panel style={{ gridColumn: '1 / -1' }}>
      <h2>Records beside the trace</h2>
      <Stack $gap={12}>
        {records.length === 0 && !kind && (
          <Muted>
            Drop test, swap, spark gap, resistance, voltages, or a log of what was wiggled and when.
          </Muted>
        )}
        {records.map((r) => (
          <KeptRecord key={r.id} record={r} onRemove={() => remove.mutate(r.id)} />
        ))}
        {remove.error && <Note kind="error">{remove.error.message}</Note>}
        <div style={{ width: 260 }}>
          <Choice
            label="Add a record"
            value={key || null}
            onChange={setKey}
            options={kinds.map((k) => ({ key: k.key, text: k.title }))}
          />
        </div>
        {kind && (
          <Entry
            key={kind.key}
            kind={kind}
            place={place}
            pegS={pegS}
            onKept={(next) => {
              kept(next)
              setKey('')
            }}
          />
        )}
      </Stack>
    </Panel>
  )
}

function Entry({
  kind,
  place,
  pegS,
  onKept,
}: {
  kind: RecordKind
  place: RecordPlace
  pegS: number | null
  onKept: (records: CaptureRecord[]) => void
}) {
  const [rows, setRows] = useState<TypedRow[]>([emptyRow(kind)])
  const keep = useMutation({
    mutationFn: () => place.add({ kind: kind.key, rows }),
    onSuccess: onKept,
  })
  return (
    <Stack $gap={8}>
      <RecordRows kind={kind} rows={rows} onRows={setRows} pegS={pegS} />
      {keep.error && <Note kind="error">{keep.error.message}</Note>}
      <Row>
        <Button $main isDisabled={keep.isPending} onPress={() => keep.mutate()}>
          Keep the record
        </Button>
      </Row>
    </Stack>
  )
}
