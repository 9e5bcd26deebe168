import { numberIn } from '../../ui/numbers'
import { useMutation, useQuery, useQueryClient, useSuspenseQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { useNavigate, useParams } from 'react-router'
import styled from 'styled-components'
import { Strip } from '../../plot/Strip'
import type { Pegs } from '../../plot/types'
import { BesideReference } from '../../shared/BesideReference'
import { useCircuit, usePegValues, useTrace } from '../../shared/facts'
import { KeptRecords } from '../../shared/KeptRecord'
import { useMeterBeside } from '../../shared/meter'
import { actionMarks } from '../../shared/records'
import { ResultList } from '../../shared/ResultList'
import { corridorOf, marksOfResults } from '../../shared/results'
import { Button } from '../../ui/Button'
import { Text } from '../../ui/fields'
import { Muted, Note, Page, PageHead, TraceAndSide } from '../../ui/layout'
import { GivenAnswers } from './GivenAnswers'
import { SheetParade } from './SheetParade'
import { Side } from './Side'
import {
  giveSecond,
  secondCorridorQuery,
  secondParadeQuery,
  secondSheetQuery,
  secondWaitingQuery,
} from './queries'
import { useGhost } from '../../shared/alignment'

const NONE: never[] = []

/** A sitting marked a second time: the trace, the answers and the tool's proposal, but not what anybody decided. */
export function SecondMarkPage() {
  const id = Number(useParams().id)
  const { data: sheet } = useSuspenseQuery(secondSheetQuery(id))
  const circuit = useCircuit(sheet.card.circuit)
  const trace = useMeterBeside(useTrace(sheet.capture_id, circuit.code), sheet.answers, sheet.records)
  const theirs = useTrace(sheet.reference_capture_id, circuit.code)
  const [pegs, setPegs] = useState<Pegs>([null, null])
  const [selected, setSelected] = useState<string | null>(null)
  const values = usePegValues(sheet.capture_id, pegs)
  const { data: parade } = useQuery(secondParadeQuery(sheet, circuit))
  const corridor = corridorOf(useQuery(secondCorridorQuery(sheet)).data)
  const { results } = sheet.grade
  const [marks, setMarks] = useState(() =>
    Object.fromEntries(results.map((r) => [r.criterion, String(r.earned)])),
  )
  const [words, setWords] = useState('')
  const go = useNavigate()
  const client = useQueryClient()
  const numbers = Object.fromEntries(
    results.map((r) => [r.criterion, numberIn(marks[r.criterion] ?? '') ?? NaN]),
  )
  const wrong = results.filter((r) => {
    const points = numbers[r.criterion]
    return points === undefined || !(points >= 0 && points <= r.points)
  })
  const give = useMutation({
    mutationFn: () => giveSecond(id, { marks: numbers, words }),
    onSuccess: (left) => {
      client.setQueryData(secondWaitingQuery.queryKey, left)
      void client.invalidateQueries({ queryKey: ['desk'] })
      void client.invalidateQueries({ queryKey: ['agreement'] })
      void go('/marking')
    },
  })
  const phases = sheet.measured?.phases ?? NONE
  const ghost = useGhost(trace?.record, theirs, sheet.reference_title, phases, sheet.reference_phases)
  const sum = Object.values(numbers).reduce((total, n) => total + (Number.isFinite(n) ? n : 0), 0)
  return (
    <Page>
      <PageHead
        title={`Marked a second time: ${sheet.card.title}`}
        about="Whose it is and what was decided stay hidden until you have given your marks"
      >
        <b className="num">
          {Math.round(sum * 100) / 100} of {sheet.grade.points} points
        </b>
        <Button $main isDisabled={wrong.length > 0 || give.isPending} onPress={() => give.mutate()}>
          Give these marks
        </Button>
      </PageHead>
      {give.error && <Note kind="error">{give.error.message}</Note>}
      {wrong[0] && (
        <Note kind="error">
          {wrong[0].title}: points from 0 to {wrong[0].points}.
        </Note>
      )}
      {sheet.alike.length > 0 && (
        <Note kind="warn">Like another sitting: {sheet.alike.join('; ')}. Nothing was taken off for it.</Note>
      )}
      <TraceAndSide $side={372} $below={140}>
        {trace ? (
          <Strip
            {...trace}
            key={trace.record.id}
            phases={phases}
            marks={[...marksOfResults(results), ...actionMarks(sheet.records)]}
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
        <Side aria-label="Criteria">
          <Say>
            <Text
              hidden
              placeholder
              label="Anything for the first marker to know"
              value={words}
              onChange={setWords}
            />
          </Say>
          <ResultList
            results={results}
            selected={selected}
            onSelect={setSelected}
            below={(r) => (
              <Points>
                <Muted>Your points, of {r.points}</Muted>
                <Text
                  hidden
                  label={`Your points for ${r.title}`}
                  value={marks[r.criterion] ?? ''}
                  onChange={(text) => setMarks({ ...marks, [r.criterion]: text })}
                />
              </Points>
            )}
          />
        </Side>
      </TraceAndSide>
      <BesideReference rows={sheet.beside_reference} circuit={circuit} />
      <SheetParade sheet={sheet} parade={parade} circuit={circuit} onPegs={setPegs} />
      <KeptRecords records={sheet.records} />
      <GivenAnswers sheet={sheet} circuit={circuit} />
    </Page>
  )
}

const Say = styled.div`
  padding: 8px 12px;
  border-bottom: 1px solid ${(p) => p.theme.colour.hair};
`

const Points = styled.div`
  display: grid;
  grid-template-columns: 1fr 80px;
  gap: 8px;
  align-items: center;
  padding: 0 12px 7px;
  font-size: 13px;
`
