import { fixed } from '../../ui/numbers'
import { useMutation, useQuery, useQueryClient, useSuspenseQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { Link } from 'react-router'
import styled from 'styled-components'
import { Button } from '../../ui/Button'
import { Text } from '../../ui/fields'
import { Muted, Note, Page, PageHead, Panel, Row, Stack, Table } from '../../ui/layout'
import { clockText, dayText } from '../../ui/time'
import { installationQuery, nameSchool, schoolQuery, type Installation } from './queries'

/** How the installation is doing, for the administrator: what to do first, then room, queue, backups, slow pages. */
export function InstallationPage() {
  const { data } = useSuspenseQuery(installationQuery)
  return (
    <Page>
      <PageHead title="Installation" about={`version ${data.version}, engine ${data.engine}`} />
      <Stack>
        {data.warnings.map((w) => (
          <Note key={w} kind="warn">
            {w}
          </Note>
        ))}
        {data.warnings.length === 0 && <Note>All is well.</Note>}
        <Figures>
          <Figure name="Free on the disk" value={bytes(data.disk_free_bytes)}>
            of {bytes(data.disk_bytes)}
          </Figure>
          <Figure name="Database" value={bytes(data.database_bytes)}>
            {data.database.split('-')[0]}, schema {data.schema.split('.')[0]}
          </Figure>
          <Figure name="Files that wait" value={bytes(data.uploads_bytes)}>
            sent, not mapped yet
          </Figure>
          <Figure name="Background work" value={`${data.jobs_waiting + data.jobs_running} to do`}>
            {data.jobs_failed} failed in a day, <Link to="/jobs">look</Link>
          </Figure>
          <Figure name="Signed in" value={String(data.signed_in)}>
            people, in the last hours
          </Figure>
          <Figure name="Last backup" value={data.last_backup ? dayText(data.last_backup.at) : 'none'}>
            {data.last_backup
              ? `${clockText(data.last_backup.at)}, ${bytes(data.last_backup.bytes)}`
              : 'none in the folder of backups'}
          </Figure>
        </Figures>
        <SchoolName />
        <Slow routes={data.slow} />
        <Crashes crashes={data.crashes} />
      </Stack>
    </Page>
  )
}

/** What the school is called: on the sign-in page. */
function SchoolName() {
  const client = useQueryClient()
  const { data } = useQuery(schoolQuery)
  const [name, setName] = useState<string | null>(null)
  const keep = useMutation({
    mutationFn: () => nameSchool(name ?? ''),
    onSuccess: () => {
      setName(null)
      void client.invalidateQueries({ queryKey: ['session'] })
    },
  })
  return (
    <Panel>
      <Row>
        <Wide>
          <Text hidden label="Name of the school" placeholder value={name ?? data ?? ''} onChange={setName} />
        </Wide>
        <Button isDisabled={name === null || !name.trim() || keep.isPending} onPress={() => keep.mutate()}>
          Keep the name
        </Button>
        <Muted>What the school is called; it stands on the sign-in page.</Muted>
      </Row>
      {keep.error && <Note kind="error">{keep.error.message}</Note>}
    </Panel>
  )
}

function Figure({ name, value, children }: { name: string; value: string; children: React.ReactNode }) {
  return (
    <Panel>
      <Muted>{name}</Muted>
      <Big className="num">{value}</Big>
      <Muted>{children}</Muted>
    </Panel>
  )
}

function Slow({ routes }: { routes: Installation['slow'] }) {
  if (routes.length === 0) return null
  return (
    <Panel $pad={false}>
      <Table>
        <thead>
          <tr>
            <th>Slowest of the last day</th>
            <th>Asked</th>
            <th>Half within</th>
            <th>95 % within</th>
            <th>Longest</th>
            <th>Failed</th>
          </tr>
        </thead>
        <tbody>
          {routes.map((r) => (
            <tr key={r.route}>
              <td className="num">{r.route}</td>
              <td className="num">{r.count}</td>
              <td className="num">{ms(r.median_ms)}</td>
              <td className="num">{ms(r.p95_ms)}</td>
              <td className="num">{ms(r.longest_ms)}</td>
              <td className="num">{r.errors || ''}</td>
            </tr>
          ))}
        </tbody>
      </Table>
    </Panel>
  )
}

function Crashes({ crashes }: { crashes: Installation['crashes'] }) {
  if (crashes.length === 0) return null
  return (
    <Panel $pad={false}>
      <Table>
        <thead>
          <tr>
            <th>Unexpected errors of the last day</th>
            <th>Number</th>
            <th>Where</th>
          </tr>
        </thead>
        <tbody>
          {crashes.map((c) => (
            <tr key={c.id + c.at}>
              <td>
                {dayText(c.at)} {clockText(c.at)} <Muted>{c.error}</Muted>
              </td>
              <td className="num">{c.id}</td>
              <td className="num">{c.place}</td>
            </tr>
          ))}
        </tbody>
      </Table>
    </Panel>
  )
}

const UNITS = ['B', 'kB', 'MB', 'GB', 'TB']

function bytes(n: number): string {
  const k = Math.min(UNITS.length - 1, Math.floor(Math.log10(Math.max(n, 1)) / 3))
  const value = n / 1000 ** k
  return `${value < 10 && k > 0 ? fixed(value, 1) : Math.round(value)} ${UNITS[k]}`
}

const ms = (value: number): string =>
  value < 1000 ? `${Math.round(value)} ms` : `${fixed(value / 1000, 1)} s`

const Figures = styled.div`
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(180px, 1fr));
  gap: 12px;
`

const Big = styled.div`
  font-size: 24px;
  line-height: 1.3;
  white-space: nowrap;
`

const Wide = styled.div`
  flex: 0 1 380px;
`
