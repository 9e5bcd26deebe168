import type { Step } from './queries'

interface Props {
  steps: Step[]
  /** Steps of which something is open. */
  open: ReadonlyMap<string, string>
  at: number
  onAt: (at: number) => void
  title: (step: Step) => string
  records: number
}

/** The steps of a card, and the records beside its capture. */
export function StepList({ steps, open, at, onAt, title, records }: Props) {
  const stands = (s: Step) => (s.locked ? 'later' : open.has(s.id ?? '') ? 'open' : 'done')
  return (
    <nav aria-label="Steps">
      <ol>
        {steps.map((s, k) => (
          <li key={s.id}>
            <button aria-current={k === at ? 'step' : undefined} onClick={() => onAt(k)}>
              <i aria-hidden="true">{SIGNS[stands(s)]}</i>
              {title(s)}
              <span className="hidden-text">, {stands(s)}</span>
            </button>
          </li>
        ))}
        <li>
          <button aria-current={at === steps.length ? 'step' : undefined} onClick={() => onAt(steps.length)}>
            <i aria-hidden="true">+</i>
            Records{records > 0 ? ` (${records})` : ''}
          </button>
        </li>
      </ol>
    </nav>
  )
}

const SIGNS = { later: '·', open: '○', done: '●' }
