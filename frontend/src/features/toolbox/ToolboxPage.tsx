import { useSuspenseQuery } from '@tanstack/react-query'
import styled from 'styled-components'
import { Sum } from '../../shared/Sum'
import { calculationsQuery } from '../../shared/sums'
import { Page, PageHead, Panel } from '../../ui/layout'

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
          <Panel key={c.key}>
            <h2>{c.title}</h2>
            <Sum calculation={c} />
          </Panel>
        ))}
      </Cards>
    </Page>
  )
}

const Cards = styled.div`
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(290px, 1fr));
  gap: 12px;
`
