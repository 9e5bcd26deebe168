import { Link } from 'react-router'
import { Note, Page, PageHead } from '../../ui/layout'
import { dayText } from '../../ui/time'
import type { Sitting } from './queries'

export function WaitingView({ sitting }: { sitting: Sitting }) {
  return (
    <Page>
      <PageHead
        title={sitting.card.title}
        about={`attempt ${sitting.attempt}, handed in ${dayText(sitting.handed_in_at)}`}
      />
      <Note>
        Handed in and safe. Your instructor settles the mark; feedback on your own trace appears here after
        that. <Link to="/">Back to Today</Link>
      </Note>
    </Page>
  )
}
