import { useSuspenseQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { Link, useNavigate } from 'react-router'
import styled from 'styled-components'
import { SmallTrace } from '../../plot/SmallTrace'
import { factsQuery, useTrace } from '../../shared/facts'
import { Button } from '../../ui/Button'
import { Choice, Text } from '../../ui/fields'
import { Empty, Muted, Page, PageHead, Row } from '../../ui/layout'
import { CallBadge, Stage, type Call } from '../../ui/marks'
import { shelfQuery, type ShelfItem } from './queries'

/** References as small traces, with filters. */
export function ShelfPage() {
  const { data } = useSuspenseQuery(shelfQuery)
  const go = useNavigate()
  const [words, setWords] = useState('')
  const [stage, setStage] = useState('any')
  const [call, setCall] = useState('any')
  const [code, setCode] = useState('any')
  const { data: facts } = useSuspenseQuery(factsQuery)
  const items = data.filter(
    (item) =>
      (stage === 'any' ? item.state !== 'retired' : item.state === stage) &&
      (code === 'any' || item.circuit === code) &&
      (call === 'any' || item.call === call) &&
      `${item.title} ${item.provenance.vehicle} ${item.provenance.engine}`
        .toLowerCase()
        .includes(words.toLowerCase()),
  )
  return (
    <Page>
      <PageHead title="Shelf" about={`${data.length} references`}>
        <Text hidden placeholder label="Find by title or vehicle" value={words} onChange={setWords} />
        <Choice
          hidden
          label="Circuit"
          value={code}
          onChange={setCode}
          options={[
            { key: 'any', text: 'Every circuit' },
            ...facts.circuits.map((c) => ({ key: c.code, text: c.title })),
          ]}
        />
        <Choice
          hidden
          label="State"
          value={stage}
          onChange={setStage}
          options={[
            { key: 'any', text: 'Drafts and published' },
            { key: 'draft', text: 'Drafts' },
            { key: 'published', text: 'Published' },
            { key: 'retired', text: 'Retired' },
          ]}
        />
        <Choice
          hidden
          label="Call"
          value={call}
          onChange={setCall}
          options={[
            { key: 'any', text: 'Any call' },
            { key: 'sound', text: 'Sound' },
            { key: 'faulty', text: 'Faulty' },
            { key: 'inconclusive', text: 'Cannot tell' },
          ]}
        />
        <Button onPress={() => void go('/shelf/bring-in')}>Bring files in</Button>
        <Button $main onPress={() => void go('/shelf/new')}>
          New reference
        </Button>
      </PageHead>
      {items.length === 0 ? (
        <Empty>
          <p>
            {data.length
              ? 'Nothing on the shelf fits these filters.'
              : 'References of known-good and faulty parts stand here.'}
          </p>
          <Row style={{ justifyContent: 'center' }}>
            <Button $main onPress={() => void go('/shelf/new')}>
              Make the first one from a capture
            </Button>
          </Row>
        </Empty>
      ) : (
        <Grid>
          {items.map((item) => (
            <Item key={item.id} item={item} />
          ))}
        </Grid>
      )}
    </Page>
  )
}

function Item({ item }: { item: ShelfItem }) {
  const trace = useTrace(item.capture_id, item.circuit)
  return (
    <Card to={`/shelf/${item.id}`}>
      {trace ? <SmallTrace {...trace} /> : <div style={{ height: 84 }} />}
      <div>
        <b>{item.title}</b>
        <Muted>
          {[item.provenance.vehicle, item.provenance.engine].filter(Boolean).join(' · ') ||
            'vehicle not noted'}
        </Muted>
        <Muted>{item.provenance.conditions}</Muted>
        <Row $gap={6}>
          {item.call && <CallBadge call={item.call as Call} />}
          <Stage stage={item.state} version={item.version} />
          <Muted>{item.tags === 1 ? '1 tag' : `${item.tags} tags`}</Muted>
        </Row>
      </div>
    </Card>
  )
}

const Grid = styled.div`
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(290px, 1fr));
  gap: 12px;
`

const Card = styled(Link)`
  display: block;
  overflow: hidden;
  text-decoration: none;
  color: inherit;
  background: ${(p) => p.theme.colour.sheet};
  border: 1px solid ${(p) => p.theme.colour.hair};
  border-radius: ${(p) => p.theme.radius};
  &:hover {
    border-color: ${(p) => p.theme.colour.edge};
  }
  > div:last-child {
    display: flex;
    flex-direction: column;
    gap: 4px;
    padding: 10px 14px 12px;
  }
`
