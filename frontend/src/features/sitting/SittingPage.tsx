import { useSuspenseQuery } from '@tanstack/react-query'
import { useParams } from 'react-router'
import { FeedbackView } from './FeedbackView'
import { OpenSitting } from './OpenSitting'
import { sittingQuery } from './queries'
import { WaitingView } from './WaitingView'

/** One sitting: at work, handed in, or back with feedback. */
export function SittingPage() {
  const { id } = useParams()
  const { data } = useSuspenseQuery(sittingQuery(Number(id)))
  if (data.feedback) return <FeedbackView sitting={data} feedback={data.feedback} />
  return data.state === 'open' ? <OpenSitting key={data.id} sitting={data} /> : <WaitingView sitting={data} />
}
