import { useMutation } from '@tanstack/react-query'
import { useState } from 'react'
import { api, unwrap, type Schemas } from '../api/client'
import { Button } from '../ui/Button'
import { Text } from '../ui/fields'
import { Muted, Note, Row, Stack } from '../ui/layout'
import type { Circuit } from './facts'

const takeFromInstrument = (body: Schemas['InstrumentIn']) =>
  unwrap(api.POST('/api/captures/instrument', { body }))

interface Props {
  circuit: Circuit
  onRecorded: (capture: Schemas['CaptureOut']) => void
}

/** Takes a capture from a scope that speaks SCPI on the machine that serves the application. */
export function ScopeForm({ circuit, onRecorded }: Props) {
  const [port, setPort] = useState('5025')
  const take = useMutation({
    mutationFn: () =>
      takeFromInstrument({ circuit: circuit.code, host: '127.0.0.1', port: Number(port) || 0 }),
    onSuccess: onRecorded,
  })
  return (
    <Stack $gap={10}>
      <Muted>
        A scope that speaks SCPI on a port of the school’s machine. “tracebench trainer scope” serves the
        simulated one.
      </Muted>
      {take.error && <Note kind="error">{take.error.message}</Note>}
      <Row>
        <div style={{ width: 110 }}>
          <Text hidden label="Port of the instrument" value={port} onChange={setPort} />
        </div>
        <Button isDisabled={take.isPending} onPress={() => take.mutate()}>
          {take.isPending ? 'Recording…' : 'Run it and take the record'}
        </Button>
      </Row>
    </Stack>
  )
}
