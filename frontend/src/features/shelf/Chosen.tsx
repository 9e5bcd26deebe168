import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { useNavigate } from 'react-router'
import styled from 'styled-components'
import { Button } from '../../ui/Button'
import { Text } from '../../ui/fields'
import { Muted, Note, Row } from '../../ui/layout'
import { collect, publishReference, retireReference, type ShelfItem } from './queries'

/** What can be done with the references that were selected, all together. */
export function Chosen({
  items,
  onAll,
  onDone,
}: {
  items: ShelfItem[]
  onAll: () => void
  onDone: () => void
}) {
  const client = useQueryClient()
  const go = useNavigate()
  const each = useMutation({
    // One after the other, so that one that is refused is named and the rest go on.
    mutationFn: async ({ of, act }: { of: ShelfItem[]; act: (id: number) => Promise<unknown> }) => {
      const refused: string[] = []
      for (const item of of) {
        try {
          await act(item.id)
        } catch (problem) {
          refused.push(`${item.title}: ${(problem as Error).message}`)
        }
      }
      return refused
    },
    onSettled: () => client.invalidateQueries({ queryKey: ['shelf'] }),
  })
  const [name, setName] = useState('')
  const put = useMutation({
    mutationFn: (inside: boolean) => collect({ name, ids: items.map((item) => item.id), inside }),
    onSuccess: () => client.invalidateQueries({ queryKey: ['shelf'] }),
  })
  const drafts = items.filter((item) => item.state === 'draft')
  const standing = items.filter((item) => item.state !== 'retired')
  const comparable = items.length > 1 && items.length < 5 && new Set(items.map((i) => i.circuit)).size === 1
  const ids = items.map((item) => item.id).join(',')
  return (
    <Bar role="region" aria-label="Selected references">
      <Row>
        <b>{items.length} selected</b>
        <Button onPress={onAll}>All that are shown</Button>
        <Button
          isDisabled={drafts.length === 0 || each.isPending}
          onPress={() => each.mutate({ of: drafts, act: publishReference })}
        >
          {drafts.length === 0
            ? 'Publish drafts'
            : drafts.length === 1
              ? 'Publish 1 draft'
              : `Publish ${drafts.length} drafts`}
        </Button>
        <Button
          isDisabled={standing.length === 0 || each.isPending}
          onPress={() => each.mutate({ of: standing, act: retireReference })}
        >
          {standing.length === 0 ? 'Retire' : `Retire ${standing.length}`}
        </Button>
        <Button isDisabled={!comparable} onPress={() => void go(`/shelf/compare?ids=${ids}`)}>
          Compare
        </Button>
        <Button
          isDisabled={items.length === 0}
          onPress={() => window.location.assign(`/api/references/bundle?ids=${ids}`)}
        >
          Export as a bundle
        </Button>
        <Button $quiet onPress={onDone}>
          Done
        </Button>
        {items.length > 1 && !comparable && <Muted>To compare, select two to four of one circuit.</Muted>}
      </Row>
      <Row>
        <Text hidden placeholder label="Name of a collection" value={name} onChange={setName} />
        <Button isDisabled={!name.trim() || !items.length || put.isPending} onPress={() => put.mutate(true)}>
          Put into it
        </Button>
        <Button isDisabled={!name.trim() || !items.length || put.isPending} onPress={() => put.mutate(false)}>
          Take out of it
        </Button>
        {put.data && (
          <Muted>
            Done: {put.variables ? 'they are in' : 'they are out of'} “{name.trim()}”.
          </Muted>
        )}
      </Row>
      {put.error && <Note kind="error">{put.error.message}</Note>}
      {each.data?.map((said) => (
        <Note key={said} kind="error">
          {said}
        </Note>
      ))}
    </Bar>
  )
}

const Bar = styled.div`
  position: sticky;
  top: 6px;
  z-index: 2;
  display: grid;
  gap: 8px;
  margin-bottom: 10px;
  padding: 8px 14px;
  background: ${(p) => p.theme.colour.sheet};
  border: 1px solid ${(p) => p.theme.colour.edge};
  border-radius: ${(p) => p.theme.radius};
  box-shadow: 0 3px 10px rgb(0 0 0 / 14%);
`
