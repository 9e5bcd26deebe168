import styled from 'styled-components'
import { STEP_KINDS } from '../../shared/steps'
import { Fold } from '../../ui/Fold'
import { Text } from '../../ui/fields'
import { Muted, Panel, Stack } from '../../ui/layout'
import type { CardDocument, MakerFacts } from './queries'

/** Skills whose points are earned around the trace. */
const AROUND = ['connect', 'capture']

interface Props {
  document: CardDocument
  maker: MakerFacts
  onChange: (change: Partial<CardDocument>) => void
}

/** What each criterion is worth, and what is earned by answers that are neither right nor wrong. */
export function CardPoints({ document, maker, onChange }: Props) {
  const worth = (key: string, usual: number) => document.points[key] ?? usual
  const times = (key: string) => {
    const kinds: Record<string, string> = { reading: 'reading', compare: 'compare', cautions: 'cautions' }
    const own = key in STEP_KINDS ? key : 'call'
    const kind = kinds[key] ?? (key === 'capture_quality' ? 'capture' : own)
    return document.steps.filter((s) => s.kind === kind).length
  }
  const sum = (around: boolean) =>
    maker.criteria
      .filter((c) => AROUND.includes(c.skill) === around)
      .reduce((total, c) => total + worth(c.key, c.points) * times(c.key), 0)
  return (
    <Panel>
      <h2>Points</h2>
      <Stack $gap={6}>
        <Muted>
          <b className="num">{sum(false)}</b> for reading the trace, <b className="num">{sum(true)}</b> around
          it (cautions, capture), as the steps stand now.
        </Muted>
        {maker.criteria.map((c) => (
          <Line key={c.key}>
            <span>
              {c.title} <Muted>{c.about}</Muted>
            </span>
            <Figure
              label={`Points for ${c.title}`}
              value={worth(c.key, c.points)}
              onChange={(n) => onChange({ points: { ...document.points, [c.key]: n } })}
            />
          </Line>
        ))}
        <Fold title="Shares for what is neither right nor wrong">
          <Stack $gap={6}>
            {maker.shares.map((s) => (
              <Line key={s.key}>
                <span>{s.title}</span>
                <Figure
                  label={`Share: ${s.title}`}
                  value={document.rubric?.[s.key] ?? s.share}
                  onChange={(n) => onChange({ rubric: { ...document.rubric, [s.key]: n } })}
                />
              </Line>
            ))}
          </Stack>
        </Fold>
      </Stack>
    </Panel>
  )
}

function Figure({ label, value, onChange }: { label: string; value: number; onChange: (n: number) => void }) {
  return (
    <Text
      hidden
      label={label}
      value={String(value)}
      onChange={(t) => {
        const n = Number(t.replace(',', '.'))
        if (Number.isFinite(n)) onChange(n)
      }}
    />
  )
}

const Line = styled.div`
  display: grid;
  grid-template-columns: 1fr 76px;
  gap: 10px;
  align-items: center;
  span span {
    display: block;
    font-size: 12.5px;
  }
`
