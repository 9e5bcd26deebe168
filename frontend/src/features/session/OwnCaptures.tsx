import { fixed } from '../../ui/numbers'
import { useMutation, useQueryClient, useSuspenseQuery } from '@tanstack/react-query'
import { useState } from 'react'
import styled from 'styled-components'
import { Ask } from '../../ui/Ask'
import { Button } from '../../ui/Button'
import { Muted, Note, Row, Stack, Table } from '../../ui/layout'
import { dayText } from '../../ui/time'
import { giveUp, unusedQuery } from './queries'

const SHOWN = 12

/** How much of one's share one's captures take, and those that nothing holds, to be given up. */
export function OwnCaptures() {
  const { data } = useSuspenseQuery(unusedQuery)
  const client = useQueryClient()
  const [asked, setAsked] = useState<number[]>([])
  const give = useMutation({
    mutationFn: giveUp,
    onSuccess: (next) => client.setQueryData(unusedQuery.queryKey, next),
    onSettled: () => setAsked([]),
  })
  const free = data.captures.reduce((sum, c) => sum + c.stored_bytes, 0)
  return (
    <Stack $gap={10}>
      <Muted>
        Yours take {sizeText(data.taken_bytes)} of {sizeText(data.share_bytes)}.{' '}
        {data.captures.length === 0
          ? 'Each is held by a reference, a sitting or a record.'
          : `${data.captures.length} of them, ${sizeText(free)}, are held by nothing.`}
      </Muted>
      {give.error && <Note kind="error">{give.error.message}</Note>}
      {data.captures.length > 0 && (
        <>
          <Table>
            <tbody>
              {data.captures.slice(0, SHOWN).map((c) => (
                <tr key={c.id}>
                  <Name title={c.title}>{c.title}</Name>
                  <td className="num">{sizeText(c.stored_bytes)}</td>
                  <td>{dayText(c.created_at)}</td>
                  <td>
                    <Button $quiet onPress={() => setAsked([c.id])}>
                      Give up
                    </Button>
                  </td>
                </tr>
              ))}
            </tbody>
          </Table>
          <Row $end>
            {data.captures.length > SHOWN && <Muted>and {data.captures.length - SHOWN} older</Muted>}
            <Button onPress={() => setAsked(data.captures.slice(0, 1000).map((c) => c.id))}>
              Give all of them up
            </Button>
          </Row>
        </>
      )}
      <Ask
        open={asked.length > 0}
        title={asked.length === 1 ? 'Give this capture up?' : `Give ${asked.length} captures up?`}
        onClose={() => setAsked([])}
      >
        <p>Their samples are deleted and do not come back. Files they were read from are not touched.</p>
        <Row $end>
          <Button $touch onPress={() => setAsked([])}>
            Keep
          </Button>
          <Button $touch $main isDisabled={give.isPending} onPress={() => give.mutate(asked)}>
            Give up
          </Button>
        </Row>
      </Ask>
    </Stack>
  )
}

function sizeText(bytes: number): string {
  if (bytes < 1e6) return `${Math.ceil(bytes / 1024)} KiB`
  if (bytes < 1e9) return `${fixed(bytes / 1024 ** 2, 1)} MiB`
  return `${fixed(bytes / 1024 ** 3, 1)} GiB`
}

const Name = styled.td`
  max-width: 220px;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
`
