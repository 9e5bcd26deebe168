import { useMutation, useQueryClient } from '@tanstack/react-query'
import { Tick } from '../../ui/Tick'
import { useState } from 'react'
import { Link } from 'react-router'
import styled from 'styled-components'
import { percent, useJob, type Job } from '../../shared/useJob'
import { Button } from '../../ui/Button'
import { Muted, Note, Panel, Row, Stack, Table } from '../../ui/layout'
import { takeBundle, type Bundle } from './bring-in'

type Change = Bundle['changes'][number]

const WORDS: Record<Change['what'], (change: Change) => string> = {
  new: () => 'new here',
  versions: (c) =>
    c.versions.length ? `adds version ${c.versions.join(', ')}` : 'goes on where yours is unchanged',
  copy: () => 'yours or another’s went another way: comes in beside it, as a copy',
  same: () => 'here already, nothing to do',
}

/** A bundle that was brought in: what each reference in it would change, before anything does. */
export function BundleIn({ bundle, onDone }: { bundle: Bundle; onDone: () => void }) {
  const client = useQueryClient()
  const telling = bundle.changes.filter((c) => c.what !== 'same')
  const [left, setLeft] = useState<ReadonlySet<string>>(new Set())
  const chosen = telling.filter((c) => !left.has(c.uid))
  const [job, setJob] = useState<Job | null>(null)
  const [ended, setEnded] = useState<Job | null>(null)
  const take = useMutation({
    mutationFn: () =>
      takeBundle(
        bundle.upload_id,
        chosen.map((c) => c.uid),
      ),
    onSuccess: setJob,
  })
  const done = useJob(job, (told) => {
    setJob(null)
    setEnded(told)
    void client.invalidateQueries({ queryKey: ['shelf'] })
  })
  const turn = (uid: string) =>
    setLeft((now) => {
      const next = new Set(now)
      if (!next.delete(uid)) next.add(uid)
      return next
    })
  if (ended?.state === 'done')
    return (
      <Panel>
        <Row>
          <span>
            <b>{bundle.filename}</b>: {chosen.length} taken in.{' '}
            <Link to="/shelf">They stand on the shelf.</Link>
          </span>
          <Button onPress={onDone}>Done</Button>
        </Row>
      </Panel>
    )
  return (
    <Panel>
      <Stack $gap={10}>
        <Row>
          <b>{bundle.filename}</b>
          <Muted>
            a bundle of {bundle.changes.length} references; {telling.length} would change something here
          </Muted>
        </Row>
        <Scroll>
          <Table>
            <tbody>
              {bundle.changes.map((c) => (
                <tr key={c.uid}>
                  <td>
                    <Tick
                      on={c.what !== 'same' && !left.has(c.uid)}
                      disabled={c.what === 'same' || job !== null}
                      onSet={() => turn(c.uid)}
                    >
                      {c.title}
                    </Tick>
                  </td>
                  <td>
                    <Muted>{WORDS[c.what](c)}</Muted>
                  </td>
                </tr>
              ))}
            </tbody>
          </Table>
        </Scroll>
        {(take.error ?? ended) && (
          <Note kind="error">
            {take.error?.message ?? ended?.problem ?? 'It was stopped.'} What was taken in before it stays.
          </Note>
        )}
        <Row $end>
          <Button onPress={onDone} isDisabled={job !== null}>
            Leave it
          </Button>
          <Button
            $main
            isDisabled={chosen.length === 0 || job !== null || take.isPending}
            onPress={() => take.mutate()}
          >
            {job ? `Being taken in, ${percent(done)}` : `Take ${chosen.length} in`}
          </Button>
        </Row>
      </Stack>
    </Panel>
  )
}

const Scroll = styled.div`
  max-height: 46vh;
  overflow: auto;
`
