import { said } from '../../shared/answers'
import type { Circuit } from '../../shared/facts'
import { AGAINST, stepTitle, whose } from '../../shared/steps'
import { Muted, Panel, Table } from '../../ui/layout'
import type { MarkSheet } from './queries'

/** What the learner answered, step by step. */
interface Props {
  sheet: Pick<MarkSheet, 'card' | 'answers'>
  /** Whose they are, where that is told. */
  learner?: string
  circuit: Circuit
}

export function GivenAnswers({ sheet, learner = 'the learner', circuit }: Props) {
  return (
    <Panel style={{ marginTop: 12 }}>
      <h2>What {learner} answered</h2>
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
                      ? `${spec.title}${whose(s) ? `, ${whose(s)}` : ''}${s.kind === 'compare' ? ` ${AGAINST[s.against ?? 'limit']}` : ''}`
                      : s.kind === 'call'
                        ? 'The call'
                        : stepTitle(s, circuit)}
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
