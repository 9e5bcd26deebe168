import { useSuspenseQuery } from '@tanstack/react-query'
import { Navigate } from 'react-router'
import { useWho } from '../../shared/who'
import { Page } from '../../ui/layout'
import { InstructorToday } from './InstructorToday'
import { LearnerToday } from './LearnerToday'
import { todayQuery } from './queries'

/** What needs me now, by role. */
export function TodayPage() {
  const who = useWho()
  if (who.role === 'administrator') return <Navigate to="/people" replace />
  return (
    <Page>
      <ByRole role={who.role} name={who.name} />
    </Page>
  )
}

function ByRole({ role, name }: { role: string; name: string }) {
  const { data } = useSuspenseQuery(todayQuery)
  return role === 'learner' ? (
    <LearnerToday today={data} name={name} />
  ) : (
    <InstructorToday today={data} name={name} />
  )
}
