import { useQuery, useSuspenseQuery } from '@tanstack/react-query'
import { useState } from 'react'
import styled from 'styled-components'
import { Fields, Text } from '../../ui/fields'
import { Muted, Page, PageHead, Panel, Stack } from '../../ui/layout'
import { calculationsQuery, workedQuery, type Calculation } from './queries'

/** Small calculations, each with its working shown. */
export function ToolboxPage() {
  const { data } = useSuspenseQuery(calculationsQuery)
  return (
    <Page>
      <PageHead
        title="Toolbox"
        about="the sums of the workshop, with their working: write it down as it stands"
      />
      <Cards>
        {data.map((c) => (
          <Sum key={c.key} calculation={c} />
        ))}
      </Cards>
    </Page>
  )
}

function Sum({ calculation }: { calculation: Calculation }) {
  const [figures, setFigures] = useState<Record<string, string>>({})
  const whole = calculation.inputs.every((i) => (figures[i.key] ?? '').trim() !== '')
  const { data, error } = useQuery({ ...workedQuery(calculation.key, figures), enabled: whole })
  return (
    <Panel>
      <h2>{calculation.title}</h2>
      <Stack $gap={10}>
        <Muted>{calculation.rule}</Muted>
        <Fields $least={120}>
          {calculation.inputs.map((i) => (
            <Text
              key={i.key}
              label={i.unit ? `${i.title}, ${i.unit}` : i.title}
              value={figures[i.key] ?? ''}
              onChange={(v) => setFigures({ ...figures, [i.key]: v })}
            />
          ))}
        </Fields>
        <Out aria-live="polite">
          {whole && error && <em>{error.message}</em>}
          {whole && data && (
            <>
              <b className="num">
                {Number(data.value.toPrecision(5))} {data.unit}
              </b>
              {data.lines.map((line) => (
                <span key={line}>{line}</span>
              ))}
            </>
          )}
        </Out>
      </Stack>
    </Panel>
  )
}

const Cards = styled.div`
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(290px, 1fr));
  gap: 12px;
`

const Out = styled.output`
  display: block;
  min-height: 72px;
  b {
    display: block;
    margin-bottom: 3px;
    font-size: 21px;
    font-weight: 500;
  }
  span {
    display: block;
    font-family: ${(p) => p.theme.type.mono};
    font-size: 13px;
    color: ${(p) => p.theme.colour.soft};
  }
  em {
    font-style: normal;
    color: ${(p) => p.theme.colour.fault};
  }
`
