import { Choice, Fields } from '../../ui/fields'
import { Muted, Panel, Stack } from '../../ui/layout'
import type { CardDocument, MakerFacts } from './queries'

interface Props {
  document: CardDocument
  maker: MakerFacts
  onChange: (change: Partial<CardDocument>) => void
}

/** Questions on which practitioners differ, of those that this circuit asks. */
export function CardSchools({ document, maker, onChange }: Props) {
  const asked = maker.schools.filter((s) => s.circuits.length === 0 || s.circuits.includes(document.circuit))
  return (
    <Panel>
      <h2>Where schools disagree</h2>
      <Stack $gap={8}>
        <Muted>Your learners are told what you choose here, and marked by it.</Muted>
        <Fields $least={240}>
          {asked.map((school) => (
            <Choice
              key={school.key}
              label={school.title}
              value={document.schools?.[school.key] ?? school.ways[0]?.key ?? null}
              onChange={(way) => onChange({ schools: { ...document.schools, [school.key]: way } })}
              options={school.ways.map((w) => ({ key: w.key, text: w.title }))}
            />
          ))}
        </Fields>
      </Stack>
    </Panel>
  )
}
