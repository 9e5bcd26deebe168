import { useSuspenseQuery } from '@tanstack/react-query'
import { Tick, ticked } from '../../ui/Tick'
import { useState } from 'react'
import styled from 'styled-components'
import { factsQuery, type Circuit } from '../../shared/facts'
import { Button } from '../../ui/Button'
import { Choice, Fields, Text } from '../../ui/fields'
import { Muted, Row, Stack } from '../../ui/layout'
import type { Reference, ReferenceDocument } from './queries'

interface Props {
  reference: Reference
  circuit: Circuit
  onSave: (document: ReferenceDocument) => void
  saving: boolean
}

/** What the capture cannot say of itself: firing order, number of injectors, resistance. Cards take it over. */
export function ReferenceTold({ reference, circuit, onSave, saving }: Props) {
  const kept = reference.document.options
  const [told, setTold] = useState<Record<string, string>>(kept)
  const [complaint, setComplaint] = useState(reference.document.complaint ?? 'always')
  const { data: facts } = useSuspenseQuery(factsQuery)
  const shown = (told.shown ?? '').split(',').filter(Boolean)
  const keys = [...circuit.options.map((o) => o.key), 'shown']
  const changed =
    complaint !== reference.document.complaint || keys.some((key) => (told[key] ?? '') !== (kept[key] ?? ''))
  return (
    <Inside aria-label="Told with the capture">
      <Stack $gap={10}>
        <Muted>What no trace says of itself. Job cards made from this reference take it over.</Muted>
        <Fields $least={190}>
          {circuit.options.map((o) =>
            o.choices ? (
              <Choice
                key={o.key}
                label={o.title}
                value={told[o.key] ?? o.default}
                onChange={(v) => setTold({ ...told, [o.key]: v })}
                options={o.choices.map((c) => ({ key: c, text: c }))}
              />
            ) : (
              <Text
                key={o.key}
                label={o.default ? `${o.title} (${o.default} unless told)` : o.title}
                value={told[o.key] ?? ''}
                onChange={(v) => setTold({ ...told, [o.key]: v })}
              />
            ),
          )}
        </Fields>
        <Choice
          label="The complaint shows"
          value={complaint}
          onChange={(c) => setComplaint(c as typeof complaint)}
          options={facts.conditions}
        />
        <Shown>
          <legend>This capture was taken (beside what it shows itself)</legend>
          {facts.conditions
            .filter((c) => c.key !== 'always')
            .map((c) => (
              <Tick
                key={c.key}
                on={shown.includes(c.key)}
                onSet={(on) => setTold({ ...told, shown: ticked(shown, c.key, on).join(',') })}
              >
                {c.text}
              </Tick>
            ))}
        </Shown>
        <Row>
          <Button
            isDisabled={!changed || saving}
            onPress={() => {
              const options = Object.fromEntries(Object.entries(told).filter(([, v]) => v.trim() !== ''))
              onSave({ ...reference.document, options, complaint })
            }}
          >
            Keep and measure again
          </Button>
        </Row>
      </Stack>
    </Inside>
  )
}

const Inside = styled.section`
  padding: 12px 14px;
`

const Shown = styled.fieldset`
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(170px, 1fr));
  gap: 2px 12px;
  padding: 0;
  border: 0;
  legend {
    margin-bottom: 3px;
    font-size: 13px;
    color: ${(p) => p.theme.colour.muted};
  }
  label {
    display: flex;
    align-items: center;
    gap: 8px;
    min-height: 30px;
    font-size: 14px;
  }
`
