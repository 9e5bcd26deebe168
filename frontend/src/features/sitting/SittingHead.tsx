import { Link } from 'react-router'
import styled from 'styled-components'
import { Button } from '../../ui/Button'
import { clockText } from '../../ui/time'
import type { Sitting } from './queries'
import { TimeLeft } from './TimeLeft'
import type { Saving } from './useAutosave'

interface Props {
  sitting: Sitting
  saving: Saving
  /** Kept on this device, so that it goes on without network. */
  held: boolean
  settled: () => Promise<void>
  onHandIn: () => void
}

/** What is sat, what is saved and what is left of its time. */
export function SittingHead({ sitting, saving, held, settled, onHandIn }: Props) {
  return (
    <header>
      <Link to="/" aria-label="Back to Today">
        ‹
      </Link>
      <h1>{sitting.card.title}</h1>
      <span>
        attempt {sitting.attempt}
        {sitting.trial ? ' · trial' : ''}
        {sitting.card.practice ? ' · practice' : ''}
      </span>
      <TimeLeft sitting={sitting} settled={settled} />
      <SavedNote saving={saving} held={held} />
      <HandButton $touch onPress={onHandIn}>
        Hand in
      </HandButton>
    </header>
  )
}

function SavedNote({ saving, held }: { saving: Saving; held: boolean }) {
  const text = {
    saved: () => (saving.state === 'saved' ? `saved ${clockText(saving.at)}` : ''),
    saving: () => 'saving…',
    waiting: () => 'not sent yet: kept here until the network is back',
    refused: () => (saving.state === 'refused' ? saving.why : ''),
  }[saving.state]()
  return (
    <em
      role="status"
      data-state={saving.state}
      title={held ? 'Kept on this device: the sitting goes on without network.' : undefined}
    >
      {text}
    </em>
  )
}

const HandButton = styled(Button)`
  border: 0;
  background: ${(p) => p.theme.colour.accent};
  color: ${(p) => p.theme.colour.accentInk};
  font-weight: 650;
`
