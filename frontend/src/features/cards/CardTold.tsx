import { useSuspenseQuery } from '@tanstack/react-query'
import { factsQuery, type Circuit } from '../../shared/facts'
import { Choice, Text } from '../../ui/fields'
import { Muted, Panel, Stack, Two } from '../../ui/layout'
import { CardSource } from './CardSource'
import { stepsFor } from './fresh'
import type { CardDocument, MakerFacts } from './queries'

interface Props {
  document: CardDocument
  circuit: Circuit
  maker: MakerFacts
  /** True for a card that was never kept: its circuit can still be chosen. */
  fresh: boolean
  onChange: (change: Partial<CardDocument>) => void
}

/** The brief, and where the capture comes from. */
export function CardTold({ document, circuit, maker, fresh, onChange: set }: Props) {
  const { data: facts } = useSuspenseQuery(factsQuery)
  return (
    <Two>
      <Stack>
        <Panel>
          <h2>What the learner is told</h2>
          <Stack $gap={10}>
            {fresh && (
              <Choice
                label="Circuit"
                value={document.circuit}
                onChange={(code) => {
                  const next = facts.circuits.find((c) => c.code === code)
                  if (next)
                    set({
                      circuit: code,
                      steps: stepsFor(next),
                      reference_version_id: null,
                      limits: [],
                      options: {},
                      source:
                        document.source.kind === 'trainer'
                          ? { ...document.source, fault: 'none', layout: '' }
                          : document.source,
                    })
                }}
                options={facts.circuits.map((c) => ({ key: c.code, text: c.title }))}
              />
            )}
            <Text label="Title" value={document.title} onChange={(title) => set({ title })} />
            <Text
              label="Brief: complaint, history, what to find out"
              value={document.brief}
              onChange={(brief) => set({ brief })}
              lines={5}
            />
            <Choice
              label="The complaint shows"
              value={document.complaint ?? 'always'}
              onChange={(c) => set({ complaint: c as NonNullable<CardDocument['complaint']> })}
              options={facts.conditions}
            />
            {document.complaint !== 'always' && (
              <Muted>
                A clean capture that never shows this condition makes ‘cannot tell yet’ the right call; a
                fault that shows without it is a fault all the same.
              </Muted>
            )}
          </Stack>
        </Panel>

        <Panel>
          <h2>Cautions on this card</h2>
          <ul style={{ paddingLeft: 18 }}>
            {circuit.cautions.map((c) => (
              <li key={c.key}>{c.text}</li>
            ))}
          </ul>
        </Panel>
      </Stack>
      <CardSource document={document} circuit={circuit} maker={maker} onChange={set} />
    </Two>
  )
}
