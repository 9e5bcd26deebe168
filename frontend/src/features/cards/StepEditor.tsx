import styled from 'styled-components'
import type { Circuit } from '../../shared/facts'
import { stepTitle } from '../../shared/steps'
import { Button } from '../../ui/Button'
import { Choice, Fields, Text } from '../../ui/fields'
import { Muted, Panel, Row, Stack } from '../../ui/layout'
import { Figure } from './Figure'
import { MakerStrip } from './MakerStrip'
import { criteriaOf, worthOf } from './points'
import type { CardCheck, CardDocument, MakerFacts } from './queries'
import { StepDetails } from './StepDetails'

interface Props {
  document: CardDocument
  circuit: Circuit
  maker: MakerFacts
  place: number
  /** What the tool makes of the card as it was last kept; null while that is not known. */
  check: CardCheck | null
  onChange: (change: Partial<CardDocument>) => void
  onGo: (to: number) => void
}

/** One step, edited below the trace as its learner will see it. */
export function StepEditor({ document, circuit, maker, place, check, onChange, onGo }: Props) {
  const { steps } = document
  const step = steps[place]
  if (!step) return null
  const title = stepTitle(step, circuit)
  const put = (change: Partial<typeof step>) =>
    onChange({ steps: steps.map((s, k) => (k === place ? { ...s, ...change } : s)) })
  const move = (to: number) => {
    const next = steps.filter((_, k) => k !== place)
    next.splice(to, 0, step)
    onChange({ steps: next })
    onGo(to)
  }
  const own = check?.own?.results.filter((r) => step.id && r.step === step.id) ?? []
  return (
    <Box>
      <MakerStrip circuit={circuit} check={check} stretches={own.flatMap((r) => r.stretches)} />
      <Panel>
        <Head>
          <h2>
            {place + 1}. {title}
          </h2>
          <Row $gap={2}>
            <Button
              $quiet
              aria-label={`Move ${title} up`}
              isDisabled={place === 0}
              onPress={() => move(place - 1)}
            >
              ↑
            </Button>
            <Button
              $quiet
              aria-label={`Move ${title} down`}
              isDisabled={place === steps.length - 1}
              onPress={() => move(place + 1)}
            >
              ↓
            </Button>
            <Button
              $quiet
              aria-label={`Take ${title} away`}
              onPress={() => {
                onChange({ steps: steps.filter((_, k) => k !== place) })
                onGo(Math.max(0, place - 1))
              }}
            >
              Take away
            </Button>
          </Row>
        </Head>
        <Columns>
          <Stack $gap={8}>
            <Text
              hidden
              placeholder
              lines={2}
              label={`Prompt of ${title}`}
              value={step.prompt}
              onChange={(prompt) => put({ prompt })}
            />
            <StepDetails step={step} document={document} circuit={circuit} onChange={put} />
            <Fields $least={200}>
              <Text
                label="Hint, for part of the points"
                value={step.hint ?? ''}
                onChange={(hint) => put({ hint })}
              />
              {place > 0 && (
                <Choice
                  label="Shown"
                  value={step.after ?? ''}
                  onChange={(after) => put({ after })}
                  options={[
                    { key: '', text: 'from the beginning' },
                    ...steps
                      .slice(0, place)
                      .filter((s) => s.id)
                      .map((s) => ({
                        key: s.id ?? '',
                        text: `after ${stepTitle(s, circuit).toLowerCase()}`,
                      })),
                  ]}
                />
              )}
            </Fields>
          </Stack>
          <Stack $gap={6}>
            {criteriaOf(step, maker).map((c) => {
              const said = own.find((r) => r.title === c.title) ?? (own.length === 1 ? own[0] : undefined)
              return (
                <Worth key={c.key}>
                  <b>{c.title}</b>
                  <Figure
                    label={`Points for ${c.title}`}
                    value={worthOf(document, c)}
                    onChange={(n) => onChange({ points: { ...document.points, [c.key]: n } })}
                  />
                  <Muted>{said ? said.reason : c.about}</Muted>
                </Worth>
              )
            })}
            <Muted>
              {own.length > 0 && 'Below each criterion: what a right answer is told. '}
              Points are the same in every step of a kind.
            </Muted>
          </Stack>
        </Columns>
      </Panel>
    </Box>
  )
}

const Box = styled.div`
  display: grid;
  grid-template-rows: minmax(50%, 1fr) fit-content(48%);
  gap: 10px;
  height: 100%;
  > :last-child {
    overflow: auto;
  }
`

const Head = styled.div`
  display: flex;
  justify-content: space-between;
  align-items: center;
  gap: 8px;
`

const Columns = styled.div`
  display: grid;
  grid-template-columns: minmax(0, 1.5fr) minmax(260px, 1fr);
  gap: 16px;
  @media (max-width: 1000px) {
    grid-template-columns: 1fr;
  }
`

const Worth = styled.div`
  display: grid;
  grid-template-columns: 1fr 68px;
  gap: 0 10px;
  align-items: center;
  b {
    font-size: 14px;
    font-weight: 600;
  }
  > :last-child {
    grid-column: 1 / -1;
    font-size: 12.5px;
  }
`
