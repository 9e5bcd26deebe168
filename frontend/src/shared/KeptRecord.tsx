import { useSuspenseQuery } from '@tanstack/react-query'
import styled from 'styled-components'
import { Button } from '../ui/Button'
import { Muted, Panel, Row, Stack } from '../ui/layout'
import { recordKindsQuery, type CaptureRecord } from './records'

/** One record as it was typed, with what it says where that is told. */
export function KeptRecord({ record, onRemove }: { record: CaptureRecord; onRemove?: () => void }) {
  const { data: kinds } = useSuspenseQuery(recordKindsQuery)
  const kind = kinds.find((k) => k.key === record.kind)
  const { said } = record
  return (
    <section>
      <Row>
        <h3>{record.title}</h3>
        <Muted>
          by {record.author}
          {record.earlier ? ', beside an earlier recording of this sitting' : ''}
        </Muted>
        {onRemove && (
          <Button $quiet aria-label={`Take the record away: ${record.title}`} onPress={onRemove}>
            ✕
          </Button>
        )}
      </Row>
      <Sheet>
        <thead>
          <tr>
            {kind?.columns.map((c) => (
              <th key={c.key}>
                {c.title} {c.unit && <small>{c.unit}</small>}
              </th>
            ))}
            {said && <th>Says</th>}
          </tr>
        </thead>
        <tbody>
          {record.rows.map((row, k) => (
            <tr key={k} data-state={said?.rows[k]?.state}>
              {kind?.columns.map((c) => (
                <td key={c.key} className={c.what === 'number' || c.what === 'resistance' ? 'num' : ''}>
                  {row[c.key]}
                </td>
              ))}
              {said && (
                <td>
                  {said.rows[k]?.state === 'outside' && <b>◆ </b>}
                  {said.rows[k]?.text}
                </td>
              )}
            </tr>
          ))}
        </tbody>
      </Sheet>
      {said?.findings.map((f, k) => (
        <Says key={k} data-kind={f.kind}>
          {f.text}
        </Says>
      ))}
    </section>
  )
}

/** Records of a sitting where they are only looked at; nothing where there are none. */
export function KeptRecords({ records }: { records: CaptureRecord[] }) {
  if (records.length === 0) return null
  return (
    <Panel style={{ marginTop: 12 }}>
      <h2>Records beside the trace</h2>
      <Stack $gap={12}>
        {records.map((r) => (
          <KeptRecord key={r.id} record={r} />
        ))}
      </Stack>
    </Panel>
  )
}

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
