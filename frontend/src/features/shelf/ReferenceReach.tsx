import { useMutation, useSuspenseQuery } from '@tanstack/react-query'
import { coursesQuery } from '../../shared/who'
import { Choice } from '../../ui/fields'
import { Note } from '../../ui/layout'
import { setReach, type Reference } from './queries'

/** Who reaches a reference; only its owner says so. */
export function ReferenceReach({
  reference,
  onChange,
}: {
  reference: Reference
  onChange: (next: Reference) => void
}) {
  const { data: courses } = useSuspenseQuery(coursesQuery)
  const change = useMutation({
    mutationFn: (key: string) =>
      setReach(
        reference.id,
        key === 'own' || key === 'school'
          ? { reach: key, course_id: null }
          : { reach: 'course', course_id: Number(key) },
      ),
    onSuccess: onChange,
  })
  if (!reference.owned) return <>{reference.author}’s; copy it to make one of your own</>
  return (
    <>
      <Choice
        hidden
        label="Who reaches it"
        value={reference.reach === 'course' ? String(reference.course_id) : reference.reach}
        onChange={(key) => change.mutate(key)}
        options={[
          { key: 'own', text: 'Only I see it' },
          ...courses.map((c) => ({ key: String(c.id), text: `${c.title}: its instructors change it too` })),
          { key: 'school', text: 'Every instructor, once it is published' },
        ]}
      />
      {change.error && <Note kind="error">{change.error.message}</Note>}
    </>
  )
}
