import { fixed, numberIn } from '../ui/numbers'
import styled from 'styled-components'
import { Button } from '../ui/Button'
import { Choice, Text } from '../ui/fields'
import { Muted, Row, Stack } from '../ui/layout'
import type { RecordKind } from './records'

export type TypedRow = Record<string, string>

export const emptyRow = (kind: RecordKind): TypedRow =>
  Object.fromEntries(kind.columns.map((c) => [c.key, c.choices.length ? (c.choices[0] ?? '') : '']))

/** Whether a row has all that it needs, as it may be kept. */
export const isWhole = (kind: RecordKind, row: TypedRow): boolean =>
  kind.columns.every((c) => {
    const text = (row[c.key] ?? '').trim()
    if (!text) return !c.needed
    if (c.what === 'resistance' && /^(infinite|inf|ol)$/i.test(text)) return true
    return (c.what !== 'number' && c.what !== 'resistance') || numberIn(text) !== null
  })

/** A whole row as it is kept: trimmed, with decimal points. */
export const asKept = (kind: RecordKind, row: TypedRow): TypedRow =>
  Object.fromEntries(
    kind.columns.map((c) => {
      const text = (row[c.key] ?? '').trim()
      return [c.key, c.what === 'number' || c.what === 'resistance' ? text.replaceAll(',', '.') : text]
    }),
  )

interface Props {
  kind: RecordKind
  rows: TypedRow[]
  onRows: (rows: TypedRow[]) => void
  /** Instant of the first peg, for rows that stand on the time axis. */
  pegS: number | null
}

/** The rows of a record being typed, with its advice and cautions. */
export function RecordRows({ kind, rows, onRows, pegS }: Props) {
  const set = (at: number, key: string, value: string) =>
    onRows(rows.map((r, k) => (k === at ? { ...r, [key]: value } : r)))
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
              onPress={() => pegS !== null && set(k, 'at_s', fixed(pegS, 3))}
            >
              From peg
            </Button>
          )}
          <Button
            $quiet
            aria-label={`Take row ${k + 1} away`}
            isDisabled={rows.length === 1}
            onPress={() => onRows(rows.filter((_, j) => j !== k))}
          >
            ✕
          </Button>
        </Line>
      ))}
      <Row>
        <Button onPress={() => onRows([...rows, emptyRow(kind)])}>Add a row</Button>
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
