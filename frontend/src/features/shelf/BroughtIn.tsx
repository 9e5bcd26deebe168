import { counted, figures, rounded, numberIn } from '../../ui/numbers'
import { useMutation, useSuspenseQuery } from '@tanstack/react-query'
import { useState, type KeyboardEvent } from 'react'
import { Link } from 'react-router'
import styled from 'styled-components'
import { factsQuery, type Circuit } from '../../shared/facts'
import { Button } from '../../ui/Button'
import { Choice, Text } from '../../ui/fields'
import { Muted, Row } from '../../ui/layout'
import { CallBadge } from '../../ui/marks'
import { pressed } from '../../ui/shortcuts'
import { choose, type Item, type Looked } from './bring-in'
import { roleOf, Thumb } from './Thumb'

interface Props {
  item: Item
  onMake: () => void
  onDrop: () => void
  onChanged: () => void
}

/** One file that was brought in: its trace, what it most likely is and why, and what to do with it. */
export function BroughtIn({ item, onMake, onDrop, onChanged }: Props) {
  const { data: facts } = useSuspenseQuery(factsQuery)
  const [lanesOpen, setLanesOpen] = useState(false)
  const { looked } = item
  const again = useMutation({
    mutationFn: (body: { circuit: string; mapping?: Looked['mapping']; interval_s?: number }) =>
      choose(item.id, { mapping: null, interval_s: null, ...body }),
    onSettled: onChanged,
  })
  const open = item.state === 'ready' || item.state === 'refused'
  const missing = looked?.missing_lanes ?? []
  const makeable = item.state === 'ready' && missing.length === 0
  const onKeyDown = (e: KeyboardEvent<HTMLLIElement>) => {
    const line = e.currentTarget
    // Keys act on the line itself, not on what can be pressed within it.
    if (e.target !== line) return
    const to = (beside: Element | null) => beside instanceof HTMLElement && beside.focus()
    const proposals = (open ? (looked?.proposals ?? []) : []).map((p, k): [string, () => void] => [
      `${k + 1}`,
      () => again.mutate({ circuit: p.circuit }),
    ])
    pressed({
      ...Object.fromEntries(proposals),
      Enter:
        makeable &&
        (() => {
          onMake()
          to(line.nextElementSibling)
        }),
      Delete: item.state !== 'making' && onDrop,
      ArrowDown: () => to(line.nextElementSibling),
      ArrowUp: () => to(line.previousElementSibling),
    })(e)
  }
  const circuit = facts.circuits.find((c) => c.code === looked?.circuit)
  const found = looked?.proposals.find((p) => p.circuit === looked.circuit)
  const likely = looked?.proposals.map((p) => p.circuit) ?? []
  const rest = facts.circuits.filter((c) => !likely.includes(c.code))
  const titleOf = (code: string) => facts.circuits.find((c) => c.code === code)?.title ?? code
  return (
    <Line tabIndex={0} onKeyDown={onKeyDown} aria-label={item.filename} $done={item.state === 'made'}>
      {looked ? (
        <Thumb picture={looked.picture} role={roleOf(circuit)} height={56} />
      ) : (
        <Nothing aria-hidden="true" />
      )}
      <Main>
        <Head>
          <b title={item.filename}>{item.filename}</b>
          {looked && item.state !== 'refused' && <CallBadge call={looked.call} />}
          <Muted>
            {looked
              ? `${looked.format}, ${durationText(looked.duration_s)} at ${rateText(looked.rate_hz)}`
              : `${counted(Math.ceil(item.bytes / 1000))} kB`}
          </Muted>
        </Head>
        {item.state === 'looking' && <Muted role="status">Being looked at…</Muted>}
        {item.state === 'making' && <Muted role="status">The draft is being made…</Muted>}
        {item.state === 'refused' && <Bad role="alert">{item.problem}</Bad>}
        {item.state === 'made' && (
          <span>
            Draft made: <Link to={`/shelf/${item.reference_id}`}>{looked?.title}</Link>
          </span>
        )}
        {item.state === 'ready' && looked && (
          <>
            <span>
              {looked.title}{' '}
              <Muted>
                {found?.reasons.join('; ') || 'as you chose'}
                {found && found.share < 0.6 ? ' (not sure)' : ''}
              </Muted>
            </span>
            {missing.length > 0 && <Bad>Say which column is: {missing.join(', ')}</Bad>}
            {looked.remembered && <Muted>Columns as in the last file of this kind.</Muted>}
            {looked.same.length > 0 && (
              <Bad>
                The same samples stand on the shelf:{' '}
                {looked.same.map((s) => (
                  <Link key={s.id} to={`/shelf/${s.id}`}>
                    {s.title}
                  </Link>
                ))}
              </Bad>
            )}
          </>
        )}
        {again.error && <Bad role="alert">{again.error.message}</Bad>}
        {lanesOpen && looked && circuit && open && (
          <Lanes
            looked={looked}
            circuit={circuit}
            onChange={(mapping) => again.mutate({ circuit: circuit.code, mapping })}
          />
        )}
        {item.state === 'refused' && item.problem?.includes('how far apart') && (
          <Interval
            onTold={(interval_s) => again.mutate({ circuit: likely[0] ?? 'throttle-position', interval_s })}
          />
        )}
      </Main>
      {open && (
        <Does>
          {looked && (
            <Picked>
              <Choice
                hidden
                label={`Circuit of ${item.filename}`}
                value={looked.circuit}
                onChange={(code) => again.mutate({ circuit: code })}
                options={[
                  ...likely.map((code, k) => ({ key: code, text: `${k + 1}  ${titleOf(code)}` })),
                  ...rest.map((c) => ({ key: c.code, text: c.title })),
                ]}
              />
            </Picked>
          )}
          {looked && (
            <Button aria-expanded={lanesOpen} onPress={() => setLanesOpen(!lanesOpen)}>
              Lanes
            </Button>
          )}
          <Button onPress={onDrop}>Give up</Button>
          {item.state === 'ready' && (
            <Button $main isDisabled={!makeable} onPress={onMake}>
              Make a draft
            </Button>
          )}
        </Does>
      )}
    </Line>
  )
}

/** Which column is which lane. */
function Lanes({
  looked,
  circuit,
  onChange,
}: {
  looked: Looked
  circuit: Circuit
  onChange: (mapping: Looked['mapping']) => void
}) {
  return (
    <Row $gap={10}>
      {looked.columns.map((column) => (
        <Wide key={column.position}>
          <Choice
            label={`${column.name || `column ${column.position}`} ${column.unit}`}
            value={looked.mapping.find((m) => m.position === column.position)?.lane ?? 'none'}
            onChange={(lane) =>
              onChange([
                ...looked.mapping.filter((m) => m.position !== column.position && m.lane !== lane),
                ...(lane === 'none' ? [] : [{ position: column.position, lane, factor: 1 }]),
              ])
            }
            options={[
              ...circuit.lanes.map((l) => ({ key: l.name, text: l.title + (l.required ? ' (needed)' : '') })),
              { key: 'none', text: 'leave out' },
            ]}
          />
        </Wide>
      ))}
    </Row>
  )
}

function Interval({ onTold }: { onTold: (seconds: number) => void }) {
  const [text, setText] = useState('')
  const seconds = numberIn(text) ?? 0
  return (
    <Row>
      <Text label="Seconds from sample to sample" value={text} onChange={setText} />
      <Button isDisabled={!(seconds > 0)} onPress={() => onTold(seconds)}>
        Look again
      </Button>
    </Row>
  )
}

const durationText = (s: number) => (s < 1 ? `${figures(1000 * s, 3)} ms` : `${figures(s, 3)} s`)

const rateText = (hz: number) =>
  hz >= 1e6
    ? `${rounded(hz / 1e6, 3)} MS/s`
    : hz >= 1e3
      ? `${rounded(hz / 1e3, 3)} kS/s`
      : `${rounded(hz, 3)} S/s`

const Line = styled.li<{ $done: boolean }>`
  display: grid;
  grid-template-columns: 168px minmax(0, 1fr) auto;
  gap: 14px;
  align-items: center;
  padding: 8px 12px;
  background: ${(p) => p.theme.colour.sheet};
  border: 1px solid ${(p) => p.theme.colour.hair};
  border-radius: ${(p) => p.theme.radius};
  opacity: ${(p) => (p.$done ? 0.75 : 1)};
  @media (max-width: 1000px) {
    grid-template-columns: minmax(0, 1fr);
  }
`

const Main = styled.div`
  display: flex;
  flex-direction: column;
  gap: 3px;
  min-width: 0;
`

const Head = styled.div`
  display: flex;
  align-items: center;
  gap: 4px 12px;
  min-width: 0;
  b {
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  > span {
    flex: none;
  }
`

const Does = styled.div`
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
`

const Picked = styled.div`
  width: 214px;
`

const Wide = styled.div`
  min-width: 190px;
`

const Nothing = styled.div`
  height: 56px;
  background: ${(p) => p.theme.colour.sunk};
`

const Bad = styled.span`
  color: ${(p) => p.theme.colour.fault};
  font-size: 14px;
  a {
    color: inherit;
    margin-right: 8px;
  }
`
