import { rounded, numberIn } from '../ui/numbers'
import { useMutation } from '@tanstack/react-query'
import { useState } from 'react'
import { FileTrigger } from 'react-aria-components'
import styled from 'styled-components'
import { sendFile, type Schemas } from '../api/client'
import { Button } from '../ui/Button'
import { Choice, Text } from '../ui/fields'
import { Empty, Muted, Note, Row, Stack, Table } from '../ui/layout'
import type { Circuit } from './facts'
import { captureOf, importUpload, stopImport, type Mapping, type Upload } from './importing'
import { percent, useJob, type Job } from './useJob'

interface Props {
  circuit: Circuit
  onImported: (capture: Schemas['CaptureOut']) => void
}

/** Choose a file, see how it was understood, say which column is which lane, import. */
export function ImportFile({ circuit, onImported }: Props) {
  const send = useMutation({ mutationFn: (file: File) => sendFile(file, circuit.code) })
  if (!send.data) {
    return (
      <Drop
        onDragOver={(e) => e.preventDefault()}
        onDrop={(e) => {
          e.preventDefault()
          const file = e.dataTransfer.files[0]
          if (file) send.mutate(file)
        }}
      >
        <p>
          Drop a capture here: text as your scope exports it (CSV, TXT), MATLAB, HDF5, WAV, MDF, Parquet or
          Arrow, with a time column or an interval.
        </p>
        <FileTrigger
          acceptedFileTypes={[
            ...['.csv', '.txt', '.tsv', '.dat', '.asc', '.mat', '.wav'],
            ...['.parquet', '.arrow', '.feather', '.h5', '.hdf5', '.mf4', '.mdf'],
          ]}
          onSelect={(files) => {
            const file = files?.[0]
            if (file) send.mutate(file)
          }}
        >
          <Button $touch $main isDisabled={send.isPending}>
            {send.isPending ? 'Reading the head of the file…' : 'Choose a file'}
          </Button>
        </FileTrigger>
        {send.error && <Note kind="error">{send.error.message} Nothing was stored.</Note>}
      </Drop>
    )
  }
  return (
    <Confirm
      key={send.data.upload_id}
      upload={send.data}
      circuit={circuit}
      onImported={onImported}
      onAgain={() => send.reset()}
    />
  )
}

function Confirm({ upload, circuit, onImported, onAgain }: Props & { upload: Upload; onAgain: () => void }) {
  const [mapping, setMapping] = useState<Mapping[]>(upload.mapping)
  const [interval, setInterval] = useState('')
  const { layout } = upload
  const bring = useMutation({
    mutationFn: () =>
      importUpload({
        upload_id: upload.upload_id,
        circuit: circuit.code,
        mapping,
        interval_s: layout.time_known ? null : numberIn(interval) || null,
      }),
    onSuccess: (done) => {
      if (done.capture) onImported(done.capture)
      else setJob(done.job)
    },
  })
  // A large file is read beside everything else, and this page is told when that is done.
  const [job, setJob] = useState<Job | null>(null)
  const [failed, setFailed] = useState('')
  const done = useJob(job, (ended) => {
    setJob(null)
    const made = (ended.result as { capture_id: number } | null)?.capture_id
    if (made) void captureOf(made).then(onImported)
    else setFailed(ended.state === 'cancelled' ? 'The import was stopped.' : (ended.problem ?? ''))
  })
  const stop = useMutation({ mutationFn: stopImport })
  const busy = bring.isPending || job !== null
  const laneOf = (position: number) => mapping.find((m) => m.position === position)
  const map = (position: number, lane: string) =>
    setMapping([
      ...mapping.filter((m) => m.position !== position && m.lane !== lane),
      ...(lane === 'none' ? [] : [{ position, lane, factor: laneOf(position)?.factor ?? 1 }]),
    ])
  const setFactor = (position: number, text: string) =>
    setMapping(mapping.map((m) => (m.position === position ? { ...m, factor: numberIn(text) ?? 0 } : m)))
  const missing = circuit.lanes.filter((l) => l.required && !mapping.some((m) => m.lane === l.name))
  return (
    <Stack>
      <p>
        <b>{upload.filename}</b>{' '}
        <Muted>
          {layout.delimiter
            ? `read as: cells apart by “${layout.delimiter}”, decimal “${layout.decimal}”, numbers from line ${layout.data_line}`
            : `read as: ${layout.format}`}
          {layout.interval_s ? `, ${rounded(layout.interval_s, 6)} s a sample` : ''}
        </Muted>
      </p>
      {layout.format === 'WAV' && (
        <Note kind="warn">
          WAV tells no unit: values are parts of full scale. The factor is what full scale stands for, such as
          20 for a recorder of ±20 {circuit.lanes[0]?.unit}.
        </Note>
      )}
      {layout.header.length > 0 && <Head className="num">{layout.header.slice(0, 4).join('\n')}</Head>}
      <Scroll>
        <Table>
          <thead>
            <tr>
              <th>Column</th>
              <th>First values</th>
              <th>Lane</th>
              <th>Factor to {circuit.lanes[0]?.unit}</th>
            </tr>
          </thead>
          <tbody>
            {layout.columns.map((c) => (
              <tr key={c.position}>
                <td>
                  {c.name} {c.unit && <Muted>{c.unit}</Muted>}
                </td>
                <td className="num">{c.first_values.slice(0, 4).join('  ')}</td>
                <td>
                  {c.is_time ? (
                    'time'
                  ) : (
                    <Choice
                      hidden
                      label={`Lane of ${c.name}`}
                      value={laneOf(c.position)?.lane ?? 'none'}
                      onChange={(lane) => map(c.position, lane)}
                      options={[
                        ...circuit.lanes.map((l) => ({
                          key: l.name,
                          text: l.title + (l.required ? ' (needed)' : ''),
                        })),
                        { key: 'none', text: 'leave out' },
                      ]}
                    />
                  )}
                </td>
                <td>
                  {laneOf(c.position) && (
                    <FactorField
                      label={`Factor of ${c.name}`}
                      value={laneOf(c.position)?.factor ?? 1}
                      onChange={(t) => setFactor(c.position, t)}
                    />
                  )}
                </td>
              </tr>
            ))}
          </tbody>
        </Table>
      </Scroll>
      {!layout.time_known && (
        <Stack $gap={6}>
          <Note kind="warn">
            The file tells neither times nor a sampling interval. Say how far apart the samples are.
          </Note>
          <Text label="Seconds a sample" value={interval} onChange={setInterval} />
        </Stack>
      )}
      {missing.length > 0 && (
        <Note kind="warn">Choose the column for: {missing.map((l) => l.title).join(', ')}.</Note>
      )}
      {(bring.error || failed) && !busy && (
        <Note kind="error">{bring.error?.message ?? failed} Nothing was stored; the file is still here.</Note>
      )}
      <Row>
        <Button
          $touch
          $main
          isDisabled={missing.length > 0 || busy}
          onPress={() => {
            setFailed('')
            bring.mutate()
          }}
        >
          {job ? `Reading a large file, ${percent(done)}` : busy ? 'Importing…' : 'Import'}
        </Button>
        {job && (
          <Button $touch isDisabled={stop.isPending} onPress={() => stop.mutate(job.id)}>
            Stop
          </Button>
        )}
        <Button $touch onPress={onAgain}>
          Another file
        </Button>
      </Row>
    </Stack>
  )
}

function FactorField({
  label,
  value,
  onChange,
}: {
  label: string
  value: number
  onChange: (text: string) => void
}) {
  const [text, setText] = useState(String(value))
  return (
    <Text
      hidden
      label={label}
      value={text}
      onChange={(t) => {
        setText(t)
        onChange(t)
      }}
    />
  )
}

const Drop = styled(Empty)`
  padding: 44px 20px;
`

const Head = styled.pre`
  padding: 8px 10px;
  font-size: 12.5px;
  overflow: auto;
  background: ${(p) => p.theme.colour.sunk};
  border-radius: ${(p) => p.theme.small};
`

const Scroll = styled.div`
  overflow: auto;
`
