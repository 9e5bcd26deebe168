import { useSuspenseInfiniteQuery } from '@tanstack/react-query'
import { useState } from 'react'
import styled from 'styled-components'
import { ChangeList } from '../../shared/ChangeList'
import { Button } from '../../ui/Button'
import { Choice } from '../../ui/fields'
import { Empty, Page, PageHead, Panel, Row, Table } from '../../ui/layout'
import { clockText, dayText } from '../../ui/time'
import { trailQuery, type Kind, type Line } from './queries'

const KINDS: { key: string; text: string }[] = [
  { key: 'all', text: 'Everything' },
  { key: 'sitting', text: 'Marks' },
  { key: 'reference', text: 'References and limits' },
  { key: 'card', text: 'Job cards' },
  { key: 'person', text: 'People' },
  { key: 'course', text: 'Courses' },
]

/** Who changed what, when, from what to what, and why: nothing in it can be changed or taken away. */
export function TrailPage() {
  const [kind, setKind] = useState<string>('all')
  const [one, setOne] = useState<Line | null>(null)
  const about = one?.about ?? (kind === 'all' ? null : (kind as Kind))
  const { data, hasNextPage, fetchNextPage, isFetchingNextPage } = useSuspenseInfiniteQuery(
    trailQuery(about, one?.about_id ?? null),
  )
  const lines = data.pages.flat()
  return (
    <Page>
      <PageHead
        title="Trail"
        about={one ? `all that was done with ${one.title}` : 'who changed what, and why; the newest first'}
      >
        {one ? (
          <Button onPress={() => setOne(null)}>Back to all</Button>
        ) : (
          <Choice hidden label="What" value={kind} onChange={setKind} options={KINDS} />
        )}
      </PageHead>
      {lines.length === 0 ? (
        <Empty>
          <p>Nothing of this kind has been changed yet.</p>
        </Empty>
      ) : (
        <Panel $pad={false}>
          <Table>
            <thead>
              <tr>
                <th>When</th>
                <th>Who</th>
                <th>What</th>
                <th style={{ width: '45%' }}>From what to what</th>
              </tr>
            </thead>
            <tbody>
              {lines.map((line) => (
                <tr key={line.id}>
                  <When className="num">
                    {dayText(line.at)} {clockText(line.at)}
                  </When>
                  <td>{line.who}</td>
                  <td>
                    {line.did}
                    <br />
                    <Thing onClick={() => setOne(line)} title="All that was done with it">
                      {line.title}
                    </Thing>
                  </td>
                  <td>
                    <Changes line={line} />
                  </td>
                </tr>
              ))}
            </tbody>
          </Table>
        </Panel>
      )}
      {hasNextPage && (
        <Row style={{ marginTop: 12 }}>
          <Button isDisabled={isFetchingNextPage} onPress={() => void fetchNextPage()}>
            Earlier
          </Button>
        </Row>
      )}
    </Page>
  )
}

function Changes({ line }: { line: Line }) {
  return (
    <>
      {line.why && <i>{line.why}</i>}
      <ChangeList changes={line.changes} />
    </>
  )
}

const When = styled.td`
  white-space: nowrap;
  width: 1%;
`

const Thing = styled.button`
  border: 0;
  padding: 0;
  background: none;
  color: inherit;
  font-weight: 600;
  text-align: left;
  cursor: pointer;
  text-decoration: underline;
  text-underline-offset: 3px;
`
