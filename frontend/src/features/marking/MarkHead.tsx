import { Link } from 'react-router'
import { Sums } from '../../shared/ResultList'
import { Button } from '../../ui/Button'
import { PageHead } from '../../ui/layout'
import { CallBadge, Stage, type Call } from '../../ui/marks'
import { dayText } from '../../ui/time'
import { MakeReference } from './MakeReference'
import type { MarkSheet } from './queries'

interface Props {
  sheet: MarkSheet
  releasing: boolean
  takingBack: boolean
  onNext: () => void
  onRelease: () => void
  onTakeBack: () => void
}

/** Whose sitting it is, what it earned, and what may be done with it as a whole. */
export function MarkHead({ sheet, releasing, takingBack, onNext, onRelease, onTakeBack }: Props) {
  const open = sheet.state === 'handed_in'
  return (
    <PageHead
      title={
        <>
          {sheet.learner}: {sheet.card.title}
        </>
      }
      about={
        <>
          {sheet.practice ? 'practice, ' : ''}attempt {sheet.attempt}, handed in {dayText(sheet.handed_in_at)}{' '}
          · graded with engine {sheet.engine}
          {sheet.ends_at && sheet.handed_in_at > sheet.ends_at ? ' · time ran out' : ''} ·{' '}
          <Link to={`/skill/${sheet.course_id}/${sheet.learner_id}`}>logbook</Link>
        </>
      }
    >
      {sheet.measured && <CallBadge call={sheet.measured.call as Call} />}
      <Sums grade={sheet.grade} />
      <Stage stage={sheet.state} />
      <MakeReference sheet={sheet} />
      <Button onPress={onNext}>Next</Button>
      {open && (
        <Button $main isDisabled={releasing} onPress={onRelease}>
          Release
        </Button>
      )}
      {!open && !sheet.practice && (
        <Button isDisabled={takingBack} onPress={onTakeBack}>
          Take it back
        </Button>
      )}
    </PageHead>
  )
}
