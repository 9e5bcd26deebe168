import { useState } from 'react'
import type { Circuit } from '../../shared/facts'
import { Button } from '../../ui/Button'
import { Choice, Fields, Text } from '../../ui/fields'
import { Muted, Panel, Row, Stack } from '../../ui/layout'
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
  const changed = circuit.options.some((o) => (told[o.key] ?? '') !== (kept[o.key] ?? ''))
  if (circuit.options.length === 0) return null
  return (
    <Panel>
      <h2>Told with the capture</h2>
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
        <Row>
          <Button
            isDisabled={!changed || saving}
            onPress={() => {
              const options = Object.fromEntries(Object.entries(told).filter(([, v]) => v.trim() !== ''))
              onSave({ ...reference.document, options })
            }}
          >
            Keep and measure again
          </Button>
        </Row>
      </Stack>
    </Panel>
  )
}
