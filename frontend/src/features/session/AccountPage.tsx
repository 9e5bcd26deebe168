import { useMutation, useQueryClient, useSuspenseQuery } from '@tanstack/react-query'
import { useState } from 'react'
import styled from 'styled-components'
import { Button } from '../../ui/Button'
import { Fields, Text } from '../../ui/fields'
import { Muted, Note, Page, PageHead, Panel, Row, Stack, Table } from '../../ui/layout'
import { clockText, dayText } from '../../ui/time'
import { OwnCaptures } from './OwnCaptures'
import { changePassword, doneQuery, endSession, signedInQuery, signOutEverywhere } from './queries'

/** One's own account: where one is signed in, and a new password. */
export function AccountPage() {
  const { data } = useSuspenseQuery(signedInQuery)
  const client = useQueryClient()
  const end = useMutation({
    mutationFn: endSession,
    onSuccess: (next) => client.setQueryData(signedInQuery.queryKey, next),
  })
  const leave = useMutation({
    mutationFn: signOutEverywhere,
    onSuccess: () => window.location.assign('/'),
  })
  return (
    <Page>
      <PageHead
        title="Your account"
        about={`signed in ${data.length === 1 ? 'here only' : `at ${data.length} places`}`}
      >
        <Button isDisabled={leave.isPending} onPress={() => leave.mutate()}>
          Sign out everywhere
        </Button>
      </PageHead>
      {(end.error ?? leave.error) && <Note kind="error">{(end.error ?? leave.error)?.message}</Note>}
      <Two>
        <Stack>
          <Panel $pad={false}>
            <Table>
              <thead>
                <tr>
                  <th>Device</th>
                  <th>Address</th>
                  <th>Last used</th>
                  <th>
                    <span className="hidden-text">What to do</span>
                  </th>
                </tr>
              </thead>
              <tbody>
                {data.map((s) => (
                  <tr key={s.id}>
                    <td title={s.device}>{deviceText(s.device)}</td>
                    <td className="num">{s.address}</td>
                    <td>
                      {dayText(s.used_at)} {clockText(s.used_at)}
                    </td>
                    <td>
                      {s.this ? (
                        <Muted>this one</Muted>
                      ) : (
                        <Button $quiet isDisabled={end.isPending} onPress={() => end.mutate(s.id)}>
                          Sign out
                        </Button>
                      )}
                    </td>
                  </tr>
                ))}
              </tbody>
            </Table>
          </Panel>
          <DoneToIt />
        </Stack>
        <Stack>
          <Panel>
            <h2>New password</h2>
            <Password />
          </Panel>
          <Panel>
            <h2>Your captures</h2>
            <OwnCaptures />
          </Panel>
        </Stack>
      </Two>
    </Page>
  )
}

/** Who made this account, a link for it, or closed it: a link that one did not ask for stands here. */
function DoneToIt() {
  const { data } = useSuspenseQuery(doneQuery)
  if (data.length === 0) return null
  return (
    <Panel>
      <h2>What was done to this account</h2>
      <Lines>
        {data.map((line) => (
          <li key={line.id}>
            <b>{line.who}</b> {line.did}{' '}
            <Muted>
              {dayText(line.at)} {clockText(line.at)}
            </Muted>
          </li>
        ))}
      </Lines>
      <Muted>If there is something that you know nothing of, tell the administrator.</Muted>
    </Panel>
  )
}

function Password() {
  const [old, setOld] = useState('')
  const [fresh, setFresh] = useState('')
  const change = useMutation({
    mutationFn: () => changePassword(old, fresh),
    onSuccess: () => window.location.assign('/'),
  })
  return (
    <Stack $gap={10}>
      <Muted>Three or four words that do not belong together are easy to keep and hard to guess.</Muted>
      <Fields>
        <Text
          label="Old password"
          type="password"
          value={old}
          onChange={setOld}
          autoComplete="current-password"
        />
        <Text
          label="New password"
          type="password"
          value={fresh}
          onChange={setFresh}
          autoComplete="new-password"
        />
      </Fields>
      {change.error && <Note kind="error">{change.error.message}</Note>}
      <Row $end>
        <Muted>Every session ends; sign in again with the new one.</Muted>
        <Button $main isDisabled={!old || !fresh || change.isPending} onPress={() => change.mutate()}>
          Change it
        </Button>
      </Row>
    </Stack>
  )
}

const SYSTEMS: [string, RegExp][] = [
  ['iPad or iPhone', /iPad|iPhone/],
  ['Android', /Android/],
  ['Windows', /Windows/],
  ['macOS', /Mac OS/],
  ['Linux', /Linux/],
]

/** The kind of device that a browser says it is on. */
const deviceText = (agent: string) => SYSTEMS.find(([, known]) => known.test(agent))?.[0] ?? 'Another device'

const Two = styled.div`
  display: grid;
  grid-template-columns: minmax(0, 1fr) 400px;
  gap: 12px;
  align-items: start;
  @media (max-width: 900px) {
    grid-template-columns: 1fr;
  }
`

const Lines = styled.ul`
  list-style: none;
  margin: 0 0 8px;
  padding: 0;
  display: grid;
  gap: 4px;
`
