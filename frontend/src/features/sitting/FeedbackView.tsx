import { fixed } from '../../ui/numbers'
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { Link } from 'react-router'
import styled from 'styled-components'
import { Strip } from '../../plot/Strip'
import type { Pegs } from '../../plot/types'
import { useCircuit, usePegValues, useTrace } from '../../shared/facts'
import { BesideReference } from '../../shared/BesideReference'
import { EventParade } from '../../shared/EventParade'
import { KeptRecords } from '../../shared/KeptRecord'
import { useMeterBeside } from '../../shared/meter'
import { actionMarks } from '../../shared/records'
import { ResultList, Sums } from '../../shared/ResultList'
import { commentMarks, corridorOf, marksOfResults } from '../../shared/results'
import { Button } from '../../ui/Button'
import { Text } from '../../ui/fields'
import { Note, Page, PageHead, Panel, Row } from '../../ui/layout'
import { askAgain, corridorQuery, paradeQuery, sittingQuery, type Sitting } from './queries'
import { useGhost } from '../../shared/alignment'

const NONE: never[] = []

type Feedback = NonNullable<Sitting['feedback']>

/** A released sitting: marks with their reasons, pinned to the learner's own trace over the reference. */
export function FeedbackView({ sitting, feedback }: { sitting: Sitting; feedback: Feedback }) {
  const circuit = useCircuit(sitting.card.circuit)
  const recorded = useTrace(sitting.capture_id, circuit.code)
  const trace = useMeterBeside(recorded, sitting.answers, feedback.records)
  const theirs = useTrace(feedback.reference_capture_id, circuit.code)
  const [pegs, setPegs] = useState<Pegs>([null, null])
  const [selected, setSelected] = useState<string | null>(null)
  const values = usePegValues(sitting.capture_id, pegs)
  const { data: parade } = useQuery(paradeQuery(sitting, circuit))
  const corridor = corridorOf(useQuery(corridorQuery(sitting)).data)
  const { grade } = feedback
  const phases = feedback.measured?.phases ?? NONE
  const ghost = useGhost(trace?.record, theirs, feedback.reference_title, phases, feedback.reference_phases)
  return (
    <>
      <Top>
        <Link to="/">‹ Today</Link>
      </Top>
      <Page>
        <PageHead
          title={sitting.card.title}
          about={`attempt ${sitting.attempt}${sitting.trial ? ', a trial: only you see this' : ''}${
            sitting.practice ? ', practice: the tool’s own marks, which count for nothing' : ''
          }`}
        >
          {sitting.may_try_again && <Link to={`/begin/${sitting.card_id}`}>Try again</Link>}
          <Sums grade={grade} />
        </PageHead>
        <Two>
          {trace ? (
            <Strip
              {...trace}
              phases={phases}
              marks={[
                ...marksOfResults(grade.results),
                ...actionMarks(feedback.records),
                ...commentMarks(feedback.comments),
              ]}
              selected={selected}
              onSelect={setSelected}
              pegs={pegs}
              onPegs={setPegs}
              values={values}
              corridor={corridor}
              ghost={corridor ? null : ghost}
            />
          ) : (
            <Note>No capture was handed in.</Note>
          )}
          <Panel $pad={false}>
            {feedback.comments.length > 0 && (
              <Pinned>
                {feedback.comments.map((c) => (
                  <li key={c.id}>
                    <button onClick={() => setPegs([c.from, c.to === c.from ? null : c.to])}>
                      <b>{c.author}</b>, at <span className="num">{fixed(c.from, 2)} s</span>: {c.words}
                    </button>
                  </li>
                ))}
              </Pinned>
            )}
            <ResultList results={grade.results} selected={selected} onSelect={setSelected} />
          </Panel>
        </Two>
        <SecondLook sitting={sitting} />
        <KeptRecords records={feedback.records} />
        <BesideReference rows={feedback.beside_reference} circuit={circuit} />
        {parade && (
          <EventParade
            tall
            data={parade}
            circuit={circuit}
            findings={feedback.measured?.findings ?? []}
            ordered={(feedback.measured?.readings ?? []).some((r) => r.cylinder !== null)}
            onShow={(course) => setPegs([course.from, course.to])}
          />
        )}
      </Page>
    </>
  )
}

/** A learner who thinks a mark is wrong says so, once; the instructor looks again. */
function SecondLook({ sitting }: { sitting: Sitting }) {
  const [words, setWords] = useState('')
  const client = useQueryClient()
  const ask = useMutation({
    mutationFn: () => askAgain(sitting.id, words),
    onSuccess: (next) => client.setQueryData(sittingQuery(sitting.id).queryKey, next),
  })
  const asked = sitting.second_look
  if (sitting.trial || sitting.practice) return null
  return (
    <Panel style={{ marginTop: 12 }}>
      <h2>A second look</h2>
      {asked ? (
        <p>
          You asked: “{asked.words}”.{' '}
          {asked.answered_at
            ? 'Your instructor has looked at it again.'
            : 'Your instructor will look at it again.'}
        </p>
      ) : (
        <Row>
          <div style={{ flex: '1 1 320px' }}>
            <Text
              hidden
              placeholder
              label="What should be looked at again, and why?"
              value={words}
              onChange={setWords}
            />
          </div>
          <Button $touch isDisabled={!words.trim() || ask.isPending} onPress={() => ask.mutate()}>
            Ask for it
          </Button>
        </Row>
      )}
      {ask.error && <Note kind="error">{ask.error.message}</Note>}
    </Panel>
  )
}

/** What an instructor pinned to the trace; choosing one puts the pegs there. */
const Pinned = styled.ul`
  list-style: none;
  padding: 0;
  li {
    border-left: 4px solid ${(p) => p.theme.colour.ink};
    border-bottom: 1px solid ${(p) => p.theme.colour.faint};
  }
  button {
    width: 100%;
    min-height: 44px;
    padding: 7px 12px;
    border: 0;
    background: none;
    font-size: 14px;
    text-align: left;
    cursor: pointer;
  }
`

const Top = styled.header`
  min-height: 46px;
  padding: 12px 16px;
  background: ${(p) => p.theme.colour.bar};
  a {
    color: ${(p) => p.theme.colour.barInk};
    text-decoration: none;
    padding: 10px 4px;
  }
`

const Two = styled.div`
  display: grid;
  grid-template-columns: minmax(0, 1fr) 356px;
  gap: 12px;
  height: max(520px, calc(100vh - 140px));
  > :last-child {
    overflow: auto;
  }
  @media (max-width: 1000px) {
    grid-template-columns: 1fr;
    height: auto;
    > :first-child {
      height: 480px;
    }
  }
`
