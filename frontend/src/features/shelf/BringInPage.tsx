import { useMutation, useQueryClient, useSuspenseQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { FileTrigger } from 'react-aria-components'
import { useNavigate } from 'react-router'
import styled from 'styled-components'
import { Button } from '../../ui/Button'
import { Empty, Muted, Note, Page, PageHead, Row } from '../../ui/layout'
import { accept, giveUp, inboxQuery, sendOne, type Bundle, type Item } from './bring-in'
import { BundleIn } from './BundleIn'
import { BroughtIn } from './BroughtIn'

/** Many files at once: what each most likely is, to be confirmed file by file or all together. */
export function BringInPage() {
  const { data } = useSuspenseQuery(inboxQuery)
  const client = useQueryClient()
  const go = useNavigate()
  const [sending, setSending] = useState(0)
  const [refused, setRefused] = useState<string[]>([])
  const [bundles, setBundles] = useState<Bundle[]>([])
  const fresh = () => client.invalidateQueries({ queryKey: inboxQuery.queryKey })
  const send = async (files: File[]) => {
    setSending((n) => n + files.length)
    for (const file of files) {
      try {
        const { bundle } = await sendOne(file)
        if (bundle) setBundles((known) => [...known, bundle])
      } catch (problem) {
        setRefused((said) => [...said, `${file.name}: ${(problem as Error).message}`])
      }
      setSending((n) => n - 1)
      await fresh()
    }
  }
  const settled = { onSettled: fresh }
  const make = useMutation({ mutationFn: accept, ...settled })
  const drop = useMutation({ mutationFn: giveUp, ...settled })
  const having = (state: Item['state']) => data.filter((item) => item.state === state)
  const ready = having('ready').filter((item) => item.looked?.missing_lanes.length === 0)
  const made = having('made')
  const busy = sending + having('looking').length + having('making').length
  const ids = (items: Item[]) => items.map((item) => item.id)
  const about = [
    busy && `${busy} being read`,
    having('ready').length && `${having('ready').length} to confirm`,
    made.length && `${made.length} made`,
    having('refused').length && `${having('refused').length} cannot be read`,
  ].filter(Boolean)
  return (
    <Page>
      <PageHead title="Bring files in" about={about.join(' · ') || 'a folder of captures, or a zip of them'}>
        {data.length > 0 && <Pick onPick={(files) => void send(files)} label="More files" />}
        {made.length > 0 && (
          <Button
            onPress={() => {
              drop.mutate(ids(made))
              void client.invalidateQueries({ queryKey: ['shelf'] })
              void go('/shelf')
            }}
          >
            Done with those made
          </Button>
        )}
        {ready.length > 0 && (
          <Button $main isDisabled={make.isPending} onPress={() => make.mutate(ids(ready))}>
            {ready.length === 1 ? 'Make a draft of it' : `Make drafts of all ${ready.length}`}
          </Button>
        )}
      </PageHead>
      {refused.map((said, k) => (
        <Note key={k} kind="error">
          {said} Nothing of it was kept.
        </Note>
      ))}
      {(make.error ?? drop.error) && <Note kind="error">{(make.error ?? drop.error)?.message}</Note>}
      {bundles.map((bundle) => (
        <BundleIn
          key={bundle.upload_id}
          bundle={bundle}
          onDone={() => setBundles((known) => known.filter((b) => b !== bundle))}
        />
      ))}
      <Drop
        onDragOver={(e) => e.preventDefault()}
        onDrop={(e) => {
          e.preventDefault()
          void send([...e.dataTransfer.files])
        }}
      >
        {data.length === 0 && bundles.length === 0 ? (
          <Empty>
            <p>
              Drop files here, as many as you like, or a zip: text (CSV, TXT), MATLAB, HDF5, WAV, MDF, Parquet
              or Arrow; or a bundle of references.
            </p>
            <p>
              Each is looked at: what circuit it most likely is, its lanes, phases and readings. You confirm,
              and drafts stand on the shelf.
            </p>
            <Row style={{ justifyContent: 'center' }}>
              <Pick
                main
                onPick={(files) => void send(files)}
                label={sending ? `Sending ${sending}…` : 'Choose files'}
              />
            </Row>
          </Empty>
        ) : data.length === 0 ? null : (
          <>
            <Muted>
              Enter makes a draft of the file that is marked; 1 to 5 take another proposal; arrow keys move;
              Delete gives up.
            </Muted>
            <List>
              {data.map((item) => (
                <BroughtIn
                  key={item.id}
                  item={item}
                  onMake={() => make.mutate([item.id])}
                  onDrop={() => drop.mutate([item.id])}
                  onChanged={() => void fresh()}
                />
              ))}
            </List>
          </>
        )}
      </Drop>
    </Page>
  )
}

function Pick({ label, main, onPick }: { label: string; main?: boolean; onPick: (files: File[]) => void }) {
  return (
    <FileTrigger allowsMultiple onSelect={(files) => files && onPick([...files])}>
      <Button {...(main ? { $main: true, $touch: true } : {})}>{label}</Button>
    </FileTrigger>
  )
}

const Drop = styled.div`
  min-height: 60vh;
`

const List = styled.ul`
  margin: 8px 0 0;
  padding: 0;
  list-style: none;
  display: flex;
  flex-direction: column;
  gap: 6px;
`
