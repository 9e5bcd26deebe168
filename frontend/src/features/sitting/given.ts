/** What a learner has put on the trace, as marks of the strip. */
import type { StripMark } from '../../plot/types'
import type { Step, StepAnswer } from './queries'

type Answers = Record<string, StepAnswer>

/** The stretches that were chosen as evidence of the call. */
export const evidenceMarks = (answers: Answers): StripMark[] =>
  (answers['call']?.evidence ?? []).map((e, k) => ({
    id: `evidence-${k}`,
    kind: 'note',
    from: e[0] ?? 0,
    to: e.at(-1) ?? 0,
    label: `Your evidence ${k + 1}`,
    lane: 'signal',
  }))

/** The parts that were named in naming steps. */
export const nameMarks = (steps: Step[], answers: Answers, lane: string | null): StripMark[] =>
  steps.flatMap((s) =>
    Object.entries((s.kind === 'name' && answers[s.id ?? '']?.marks) || {}).map(([name, at]): StripMark => ({
      id: `name-${name}`,
      kind: 'tag',
      from: at[0] ?? 0,
      to: at.at(-1) ?? 0,
      label: name.replaceAll('_', ' '),
      lane,
    })),
  )
