import type { Circuit } from '../../shared/facts'
import { whose } from '../../shared/steps'
import { Muted, Panel, Table } from '../../ui/layout'
import { CALL_WORDS, type Call } from '../../ui/marks'
import type { MarkSheet } from './queries'

/** What the learner answered, step by step. */
export function GivenAnswers({ sheet, circuit }: { sheet: MarkSheet; circuit: Circuit }) {
  return (
    <Panel style={{ marginTop: 12 }}>
      <h2>What {sheet.learner} answered</h2>
      <Table>
        <tbody>
          {sheet.card.steps
            .filter((s) => s.kind !== 'cautions' && s.kind !== 'capture')
            .map((s) => {
              const spec = circuit.readings.find((r) => r.id === s.reading)
              const given = sheet.answers[s.id ?? '']
              return (
                <tr key={s.id}>
                  <td style={{ width: 260 }}>
                    {spec
                      ? `${spec.title}${whose(s) ? `, ${whose(s)}` : ''}${s.kind === 'compare' ? ' against its limit' : ''}`
                      : 'The call'}
                  </td>
                  <td>{given ? said(given, spec?.unit ?? '', circuit) : <Muted>nothing</Muted>}</td>
                </tr>
              )
            })}
        </tbody>
      </Table>
    </Panel>
  )
}

function said(given: MarkSheet['answers'][string], unit: string, circuit: Circuit): string {
  if (given.absent) return 'there is none here'
  if (given.state) return given.state
  if (given.value !== undefined && given.value !== null) {
    const pegs = given.pegs?.length
      ? `, pegs at ${given.pegs.map((p) => `${p.toFixed(3)} s`).join(' and ')}`
      : ''
    return `${given.value} ${unit}${pegs}`
  }
  const parts = [
    given.verdict && CALL_WORDS[given.verdict as Call],
    circuit.causes.find((c) => c.key === given.cause)?.text,
    given.evidence?.length &&
      `evidence ${given.evidence.map((e) => e.map((t) => t.toFixed(2)).join('–')).join(', ')} s`,
    circuit.next_tests.find((c) => c.key === given.next_test)?.text,
    given.confidence !== undefined && `${given.confidence} % sure`,
  ]
  return parts.filter(Boolean).join(' · ') || 'nothing'
}
