import { counted } from '../../ui/numbers'
import {
  useInfiniteQuery,
  useMutation,
  useQuery,
  useQueryClient,
  useSuspenseQuery,
} from '@tanstack/react-query'
import {
  useDeferredValue,
  useEffect,
  useReducer,
  useRef,
  useState,
  type KeyboardEvent,
  type MouseEvent,
} from 'react'
import { Link, useNavigate } from 'react-router'
import styled from 'styled-components'
import { factsQuery } from '../../shared/facts'
import { percent, useJob, type Job } from '../../shared/useJob'
import { Button } from '../../ui/Button'
import { Choice, Text } from '../../ui/fields'
import { Empty, Muted, Note, Page, PageHead, Row } from '../../ui/layout'
import { CallBadge, Stage, type Call } from '../../ui/marks'
import { takeStarter } from './bring-in'
import { Chosen } from './Chosen'
import { ANY, asked, isFiltered, narrowed, WHOLE_SHELF } from './filters'
import { collectionsQuery, shelfQuery, type ShelfItem } from './queries'
import { roleOf, Thumb } from './Thumb'

/** References as small traces, found by words, circuit, state and call; further ones come as one scrolls. */
export function ShelfPage() {
  const go = useNavigate()
  const [filters, narrow] = useReducer(narrowed, WHOLE_SHELF)
  const { data: collections } = useQuery(collectionsQuery)
  const [dense, setDense] = useState(false)
  const [chosen, setChosen] = useState<ReadonlySet<number> | null>(null)
  const { data: facts } = useSuspenseQuery(factsQuery)
  const wanted = asked({ ...filters, words: useDeferredValue(filters.words) })
  const { data, error, hasNextPage, isFetchingNextPage, fetchNextPage } = useInfiniteQuery(shelfQuery(wanted))
  const all = () => narrow(WHOLE_SHELF)
  const items = data?.pages.flatMap((page) => page.items) ?? []
  const total = data?.pages[0]?.total
  const filtered = isFiltered(filters)
  const found = total === 1 ? '1 reference' : `${counted(total ?? 0)} references`
  return (
    <Page>
      <PageHead title="Shelf" about={total === undefined ? ' ' : filtered ? `${found} found` : found}>
        <Text
          hidden
          placeholder
          label="Find by words"
          value={filters.words}
          onChange={(words) => narrow({ words })}
        />
        <Choice
          hidden
          label="Circuit"
          value={filters.circuit}
          onChange={(circuit) => narrow({ circuit })}
          options={[
            { key: ANY, text: 'Every circuit' },
            ...facts.circuits.map((c) => ({ key: c.code, text: c.title })),
          ]}
        />
        <Choice
          hidden
          label="State"
          value={filters.state}
          onChange={(state) => narrow({ state })}
          options={[
            { key: ANY, text: 'Drafts and published' },
            { key: 'draft', text: 'Drafts' },
            { key: 'published', text: 'Published' },
            { key: 'retired', text: 'Retired' },
          ]}
        />
        <Choice
          hidden
          label="Call"
          value={filters.call}
          onChange={(call) => narrow({ call })}
          options={[
            { key: ANY, text: 'Any call' },
            { key: 'sound', text: 'Sound' },
            { key: 'faulty', text: 'Faulty' },
            { key: 'inconclusive', text: 'Cannot tell' },
          ]}
        />
        {(collections ?? []).length > 0 && (
          <Choice
            hidden
            label="Collection"
            value={filters.collection}
            onChange={(collection) => narrow({ collection })}
            options={[
              { key: ANY, text: 'Every collection' },
              ...(collections ?? []).map((c) => ({ key: c.name, text: `${c.name} (${c.items})` })),
            ]}
          />
        )}
        <Button aria-pressed={dense} onPress={() => setDense(!dense)}>
          Rows
        </Button>
        <Button aria-pressed={chosen !== null} onPress={() => setChosen(chosen ? null : new Set())}>
          Select
        </Button>
        <Button onPress={() => void go('/shelf/bring-in')}>Bring files in</Button>
        <Button $main onPress={() => void go('/shelf/new')}>
          New reference
        </Button>
      </PageHead>
      {error && <Note kind="error">{error.message}</Note>}
      {total === 0 && (
        <Empty>
          <p>
            {filtered
              ? 'Nothing on the shelf fits these words and filters.'
              : 'References of known-good and faulty parts stand here.'}
          </p>
          {filtered && <Button onPress={all}>Show the whole shelf</Button>}
          {!filtered && (
            <Row style={{ justifyContent: 'center' }}>
              <Button $main onPress={() => void go('/shelf/bring-in')}>
                Bring a folder of captures in
              </Button>
              <Button onPress={() => void go('/shelf/new')}>One capture, the trainer or a scope</Button>
              <Starter />
            </Row>
          )}
        </Empty>
      )}
      {chosen && (
        <Chosen
          items={items.filter((item) => chosen.has(item.id))}
          onAll={() => setChosen(new Set(items.map((item) => item.id)))}
          onDone={() => setChosen(null)}
        />
      )}
      <Grid $dense={dense}>
        {items.map((item) => (
          <Item
            key={item.id}
            item={item}
            dense={dense}
            {...(chosen && {
              chosen: chosen.has(item.id),
              onChoose: () => setChosen(turned(chosen, item.id)),
            })}
            role={roleOf(facts.circuits.find((c) => c.code === item.circuit))}
          />
        ))}
      </Grid>
      {hasNextPage && <More onSeen={() => void fetchNextPage()} busy={isFetchingNextPage} />}
    </Page>
  )
}

/** References of every circuit that ship with the application, for a school that has none yet. */
function Starter() {
  const client = useQueryClient()
  const [job, setJob] = useState<Job | null>(null)
  const [problem, setProblem] = useState('')
  const take = useMutation({ mutationFn: takeStarter, onSuccess: setJob })
  const done = useJob(job, (ended) => {
    setJob(null)
    if (ended.state !== 'done') setProblem(ended.problem ?? 'It was stopped.')
    void client.invalidateQueries({ queryKey: ['shelf'] })
  })
  return (
    <>
      <Button isDisabled={take.isPending || job !== null} onPress={() => take.mutate()}>
        {job ? `The starter shelf is coming, ${percent(done)}` : 'The starter shelf'}
      </Button>
      {(take.error ?? problem) && <Note kind="error">{take.error?.message ?? problem}</Note>}
    </>
  )
}

/** Asks for the next page a screen before it is reached. */
function More({ onSeen, busy }: { onSeen: () => void; busy: boolean }) {
  const end = useRef<HTMLDivElement>(null)
  useEffect(() => {
    if (!end.current || busy) return
    const watch = new IntersectionObserver((seen) => seen.some((s) => s.isIntersecting) && onSeen(), {
      rootMargin: '900px',
    })
    watch.observe(end.current)
    return () => watch.disconnect()
  })
  return (
    <Further ref={end}>
      <Button onPress={onSeen} isDisabled={busy}>
        {busy ? 'More are coming…' : 'More'}
      </Button>
    </Further>
  )
}

const turned = (set: ReadonlySet<number>, id: number) => {
  const next = new Set(set)
  if (!next.delete(id)) next.add(id)
  return next
}

interface ItemProps {
  item: ShelfItem
  /** Given while references are selected: a press selects, and opens nothing. */
  chosen?: boolean
  onChoose?: () => void
  dense: boolean
  role: Parameters<typeof Thumb>[0]['role']
}

function Item({ item, dense, role, chosen, onChoose }: ItemProps) {
  const { provenance } = item
  const tags = item.tags === 1 ? '1 tag' : `${item.tags} tags`
  const vehicle = [provenance.vehicle, provenance.engine].filter(Boolean).join(' · ') || 'vehicle not noted'
  return (
    <Card
      to={`/shelf/${item.id}`}
      $dense={dense}
      $chosen={chosen ?? false}
      {...(onChoose && {
        role: 'checkbox',
        'aria-checked': chosen,
        onClick: (e: MouseEvent) => {
          e.preventDefault()
          onChoose()
        },
        onKeyDown: (e: KeyboardEvent) => {
          if (e.key !== ' ') return
          e.preventDefault()
          onChoose()
        },
      })}
    >
      <Thumb picture={item.picture} role={role} height={dense ? 36 : 84} />
      <Told $dense={dense}>
        <b title={item.title}>{item.title}</b>
        <Muted>{[vehicle, dense && provenance.conditions].filter(Boolean).join(' · ')}</Muted>
        {!dense && <Muted>{[provenance.conditions, tags].filter(Boolean).join(' · ')}</Muted>}
        <Row $gap={6}>
          {item.call && <CallBadge call={item.call as Call} />}
          <Stage stage={item.state} version={item.version} />
        </Row>
      </Told>
    </Card>
  )
}

const Grid = styled.div<{ $dense: boolean }>`
  display: grid;
  grid-template-columns: ${(p) => (p.$dense ? '1fr' : 'repeat(auto-fill, minmax(290px, 1fr))')};
  gap: ${(p) => (p.$dense ? 4 : 12)}px;
`

/** What is out of sight is not drawn: a long shelf scrolls as quickly as a short one. */
const Card = styled(Link)<{ $dense: boolean; $chosen: boolean }>`
  outline: ${(p) => (p.$chosen ? `3px solid ${p.theme.colour.focus}` : 'none')};
  outline-offset: -1px;
  display: ${(p) => (p.$dense ? 'grid' : 'block')};
  grid-template-columns: 150px minmax(0, 1fr);
  align-items: center;
  overflow: hidden;
  content-visibility: auto;
  contain-intrinsic-size: auto ${(p) => (p.$dense ? 38 : 206)}px;
  text-decoration: none;
  color: inherit;
  background: ${(p) => p.theme.colour.sheet};
  border: 1px solid ${(p) => p.theme.colour.hair};
  border-radius: ${(p) => p.theme.radius};
  &:hover {
    border-color: ${(p) => p.theme.colour.edge};
  }
`

const Told = styled.div<{ $dense: boolean }>`
  display: ${(p) => (p.$dense ? 'grid' : 'flex')};
  grid-template-columns: minmax(0, 5fr) minmax(0, 5fr) 300px;
  align-items: ${(p) => (p.$dense ? 'center' : 'stretch')};
  flex-direction: column;
  gap: ${(p) => (p.$dense ? '0 14px' : '4px')};
  padding: ${(p) => (p.$dense ? '2px 12px' : '10px 14px 12px')};
  b,
  > span {
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: ${(p) => (p.$dense ? 'nowrap' : 'normal')};
  }
`

const Further = styled.div`
  display: flex;
  justify-content: center;
  padding: 18px;
`
