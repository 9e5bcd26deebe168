import { useMutation, useQueryClient, useSuspenseQuery } from '@tanstack/react-query'
import { useState } from 'react'
import styled from 'styled-components'
import { Button } from '../../ui/Button'
import { Choice, Text } from '../../ui/fields'
import { Muted, Note, Panel, Row, Stack } from '../../ui/layout'
import {
  addRecord,
  recordKindsQuery,
  recordsQuery,
  takeRecordAway,
  type CaptureRecord,
  type RecordKind,
} from './queries'

interface Props {
  captureId: number
  /** Instant of the first peg, for rows that stand on the time axis. */
  pegS: number | null
}

type Typed = Record<string, string>

/** What is no trace: drop test, resistances, voltages, the log of what was done; judged and kept with the capture. */
export function RecordsPanel({ captureId, pegS }: Props) {
  const { data: kinds } = useSuspenseQuery(recordKindsQuery)
  const { data: records } = useSuspenseQuery(recordsQuery(captureId))
  const client = useQueryClient()
  const [key, setKey] = useState('')
  const kind = kinds.find((k) => k.key === key)
  const kept = (next: CaptureRecord[]) => client.setQueryData(recordsQuery(captureId).queryKey, next)
  const remove = useMutation({ mutationFn: (id: number) => takeRecordAway(captureId, id), onSuccess: kept })
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
          <Kept
            key={r.id}
            record={r}
            kind={kinds.find((k) => k.key === r.kind)}
            onRemove={() => remove.mutate(r.id)}
          />
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
            captureId={captureId}
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

function Kept({
  record,
  kind,
  onRemove,
}: {
  record: CaptureRecord
  kind: RecordKind | undefined
  onRemove: () => void
}) {
  return (
    <section>
      <Row>
        <h3>{record.title}</h3>
        <Muted>by {record.author}</Muted>
        <Button $quiet aria-label={`Take the record away: ${record.title}`} onPress={onRemove}>
          ✕
        </Button>
      </Row>
      <Sheet>
        <thead>
          <tr>
            {kind?.columns.map((c) => (
              <th key={c.key}>
                {c.title} {c.unit && <small>{c.unit}</small>}
              </th>
            ))}
            <th>Says</th>
          </tr>
        </thead>
        <tbody>
          {record.rows.map((row, k) => (
            <tr key={k} data-state={record.said.rows[k]?.state}>
              {kind?.columns.map((c) => (
                <td key={c.key} className={c.what === 'number' || c.what === 'resistance' ? 'num' : ''}>
                  {row[c.key]}
                </td>
              ))}
              <td>
                {record.said.rows[k]?.state === 'outside' && <b>◆ </b>}
                {record.said.rows[k]?.text}
              </td>
            </tr>
          ))}
        </tbody>
      </Sheet>
      {record.said.findings.map((f, k) => (
        <Says key={k} data-kind={f.kind}>
          {f.text}
        </Says>
      ))}
    </section>
  )
}

function Entry({
  kind,
  captureId,
  pegS,
  onKept,
}: {
  kind: RecordKind
  captureId: number
  pegS: number | null
  onKept: (records: CaptureRecord[]) => void
}) {
  const empty = (): Typed =>
    Object.fromEntries(kind.columns.map((c) => [c.key, c.choices.length ? (c.choices[0] ?? '') : '']))
  const [rows, setRows] = useState<Typed[]>([empty()])
  const keep = useMutation({
    mutationFn: () => addRecord(captureId, { kind: kind.key, rows }),
    onSuccess: onKept,
  })
  const set = (at: number, key: string, value: string) =>
    setRows(rows.map((r, k) => (k === at ? { ...r, [key]: value } : r)))
  return (
    <Stack $gap={8}>
      <Muted>{kind.advice}</Muted>
      {kind.cautions.map((c) => (
        <Caution key={c}>{c}</Caution>
      ))}
      {rows.map((row, k) => (
        <Line key={k}>
          {kind.columns.map((c) =>
            c.choices.length ? (
              <Choice
                key={c.key}
                label={c.title}
                value={row[c.key] ?? null}
                onChange={(v) => set(k, c.key, v)}
                options={c.choices.map((x) => ({ key: x, text: x }))}
              />
            ) : (
              <Text
                key={c.key}
                label={c.unit ? `${c.title}, ${c.unit}` : c.title}
                value={row[c.key] ?? ''}
                onChange={(v) => set(k, c.key, v)}
              />
            ),
          )}
          {kind.timed && (
            <Button
              isDisabled={pegS === null}
              onPress={() => pegS !== null && set(k, 'at_s', pegS.toFixed(3))}
            >
              From peg
            </Button>
          )}
          <Button
            $quiet
            aria-label={`Take row ${k + 1} away`}
            isDisabled={rows.length === 1}
            onPress={() => setRows(rows.filter((_, j) => j !== k))}
          >
            ✕
          </Button>
        </Line>
      ))}
      {keep.error && <Note kind="error">{keep.error.message}</Note>}
      <Row>
        <Button onPress={() => setRows([...rows, empty()])}>Add a row</Button>
        <Button $main isDisabled={keep.isPending} onPress={() => keep.mutate()}>
          Keep the record
        </Button>
      </Row>
    </Stack>
  )
}

const Line = styled.div`
  display: flex;
  flex-wrap: wrap;
  align-items: flex-end;
  gap: 8px;
  > :not(button) {
    flex: 1 1 130px;
    max-width: 220px;
  }
`

const Caution = styled.p`
  padding: 6px 10px;
  border-left: 4px solid ${(p) => p.theme.colour.warnEdge};
  background: ${(p) => p.theme.colour.warn};
  font-size: 13.5px;
`

const Sheet = styled.table`
  border-collapse: collapse;
  font-size: 14px;
  th,
  td {
    padding: 4px 18px 4px 0;
    border-top: 1px solid ${(p) => p.theme.colour.faint};
    text-align: left;
    font-weight: 400;
  }
  thead th {
    border-top: 0;
    font-size: 13px;
    color: ${(p) => p.theme.colour.muted};
  }
  [data-state='outside'] td:last-child {
    color: ${(p) => p.theme.colour.fault};
  }
`

const Says = styled.p`
  margin-top: 5px;
  padding-left: 10px;
  border-left: 4px solid ${(p) => p.theme.colour.edge};
  font-size: 14px;
  &[data-kind='fault'] {
    border-color: ${(p) => p.theme.colour.fault};
  }
`
