import { useMutation, useQuery, useSuspenseQuery } from '@tanstack/react-query'
import { useEffect, useReducer, useRef, useState } from 'react'
import styled from 'styled-components'
import { useWho } from '../../shared/who'
import { Button } from '../../ui/Button'
import { Muted, Note, Page, PageHead, Panel, Row, Stack } from '../../ui/layout'
import { fixed } from '../../ui/numbers'
import { AddEvidence, type Begun } from './AddEvidence'
import { CaseSheet } from './CaseSheet'
import { changed, type Evidence, FRESH, fromFile, keep, kept } from './caseState'
import { DrawnCause } from './DrawnCause'
import { EvidenceList } from './EvidenceList'
import { type Instead, LeaveCase } from './LeaveCase'
import { NextTests } from './NextTests'
import { choicesQuery, doTest, draw, type NextTest, suspectsQuery } from './queries'
import { SuspectList } from './SuspectList'

const MOST_SEED = 2 ** 31 - 1

/** A whole diagnosis: vehicle, complaint and evidence on the left, who is suspected and what to test on the right. */
export function SuspectsPage() {
  const { data: choices } = useSuspenseQuery(choicesQuery)
  const who = useWho().id
  const [state, deed] = useReducer(changed, who, kept)
  const [instead, setInstead] = useState<Instead | null>(null)
  const [begun, setBegun] = useState<Begun | null>(null)
  const [wrongFile, setWrongFile] = useState(false)
  const { document, drawn } = state
  const { data: found, error, isPlaceholderData } = useQuery(suspectsQuery(document))
  useEffect(() => keep(who, state), [who, state])
  const drawing = useMutation({
    mutationFn: async () => {
      const seed = Math.floor(Math.random() * MOST_SEED)
      return { ...(await draw(document.vehicle, seed)), seed }
    },
    onSuccess: ({ cause, title, seed, symptoms, when }) => {
      setBegun(null)
      deed({ do: 'drawn', drawn: { cause, title, seed, shown: false }, symptoms, when })
    },
  })
  const doing = useMutation({
    mutationFn: (n: NextTest) =>
      doTest({
        case: { ...document },
        cause: drawn?.cause ?? '',
        seed: drawn?.seed ?? 0,
        test: n.test,
        at: n.at,
        what: n.what,
        conditions: n.conditions,
      }),
    onSuccess: (done) => {
      const { test, at, conditions, answer, rows } = done
      const evidence: Evidence = { test, conditions, ...(at ? { at } : {}) }
      if (rows) evidence.rows = rows
      if (answer) evidence.answer = answer
      const captured = answer && done.capture_id !== null ? { id: done.capture_id, answer } : null
      deed({ do: 'add', evidence, capture: captured })
    },
  })
  const began = (n: NextTest) => (drawn ? doing.mutate(n) : setBegun({ ...n, at: n.at }))
  const used = (found?.minutes ?? []).reduce((sum, m) => sum + m, 0)
  const written = document.evidence.length > 0 || document.complaint.symptoms.length > 0
  const begin = (what: Instead) => {
    setInstead(null)
    if (what === 'draw') return drawing.mutate()
    setBegun(null)
    deed({ do: 'open', state: FRESH })
  }
  const problem = error ?? drawing.error ?? doing.error
  return (
    <Page>
      <PageHead
        title="Suspects"
        about="a vehicle's evidence: who is suspected, and which test is worth its minutes"
      >
        <CaseFile
          onOpen={(text) => {
            const opened = fromFile(text)
            setWrongFile(opened === null)
            if (opened) deed({ do: 'open', state: opened })
          }}
          text={() => JSON.stringify(document, null, 2)}
        />
        <Button onPress={() => (written ? setInstead('fresh') : begin('fresh'))}>New case</Button>
        <Button
          $main
          isDisabled={drawing.isPending}
          onPress={() => (written ? setInstead('draw') : begin('draw'))}
        >
          Draw a case on the trainer
        </Button>
      </PageHead>
      <LeaveCase
        instead={instead}
        pieces={document.evidence.length}
        onStay={() => setInstead(null)}
        onLeave={begin}
      />
      {wrongFile && (
        <Note kind="error">
          This file holds no case: choose one that was saved here, or by hand in its shape.
        </Note>
      )}
      {problem && <Note kind="error">{problem.message}</Note>}
      <Columns>
        <CaseSheet document={document} onDeed={deed} />
        <Stack>
          <Panel aria-label="Evidence">
            <Row>
              <h2>Evidence</h2>
              {used > 0 && <Muted>{fixed(used)} minutes so far</Muted>}
            </Row>
            {drawn && (
              <DrawnCause
                drawn={drawn}
                symptoms={document.complaint.symptoms}
                onShow={() => deed({ do: 'show' })}
              />
            )}
            <EvidenceList
              evidence={document.evidence}
              tests={choices.tests}
              captures={state.captures}
              minutes={found?.minutes ?? []}
              onRemove={(at) => deed({ do: 'remove', at })}
            />
            {doing.isPending && <Note>The trainer is doing it…</Note>}
            {begun ? (
              <Below>
                <AddEvidence
                  key={`${begun.test} ${begun.at}`}
                  begun={begun}
                  choices={choices}
                  places={found?.places ?? {}}
                  cylinders={document.vehicle.cylinders}
                  onAdd={(evidence) => {
                    deed({ do: 'add', evidence })
                    setBegun(null)
                  }}
                />
              </Below>
            ) : (
              <Below>
                <Button onPress={() => setBegun({ test: 'cylinder-drop', at: null, conditions: ['idle'] })}>
                  Write down a capture or record
                </Button>
              </Below>
            )}
          </Panel>
        </Stack>
        <Stack>
          {found && <SuspectList found={found} />}
          {found && (
            <NextTests
              found={found}
              onDo={began}
              onTrainer={drawn !== null}
              busy={doing.isPending || isPlaceholderData}
            />
          )}
        </Stack>
      </Columns>
    </Page>
  )
}

/** The case as a file: the same that the command line reads. */
function CaseFile({ onOpen, text }: { onOpen: (text: string) => void; text: () => string }) {
  const picker = useRef<HTMLInputElement>(null)
  const save = () => {
    const url = URL.createObjectURL(new Blob([text()], { type: 'application/json' }))
    const link = window.document.createElement('a')
    link.href = url
    link.download = 'case.json'
    link.click()
    URL.revokeObjectURL(url)
  }
  return (
    <>
      <input
        ref={picker}
        type="file"
        accept=".json,application/json"
        hidden
        onChange={(event) => {
          void event.target.files?.[0]?.text().then(onOpen)
          event.target.value = ''
        }}
      />
      <Button onPress={() => picker.current?.click()}>Open a case</Button>
      <Button onPress={save}>Save it</Button>
    </>
  )
}

const Columns = styled.div`
  display: grid;
  grid-template-columns: 250px minmax(0, 1fr) 360px;
  gap: 12px;
  align-items: start;
  @media (max-width: 1100px) {
    grid-template-columns: minmax(0, 1fr) 340px;
    > :first-child {
      grid-column: 1 / 3;
    }
  }
  @media (max-width: 760px) {
    grid-template-columns: minmax(0, 1fr);
    > :first-child {
      grid-column: auto;
    }
  }
`

const Below = styled.div`
  margin-top: 10px;
`
