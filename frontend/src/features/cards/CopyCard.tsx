import { useMutation, useQueryClient, useSuspenseQuery } from '@tanstack/react-query'
import { useNavigate } from 'react-router'
import { coursesQuery } from '../../shared/who'
import { Choice } from '../../ui/fields'
import { Note } from '../../ui/layout'
import { copyCard } from './queries'

/** Copy a card into a course of one's own; the copy opens. */
export function CopyCard({ id, title }: { id: number; title: string }) {
  const { data: courses } = useSuspenseQuery(coursesQuery)
  const client = useQueryClient()
  const go = useNavigate()
  const copy = useMutation({
    mutationFn: (course: string) => copyCard(id, Number(course)),
    onSuccess: (made) => {
      void client.invalidateQueries({ queryKey: ['cards'] })
      void go(`/cards/${made.id}`)
    },
  })
  return (
    <>
      <Choice
        hidden
        label={`Copy ${title} into`}
        placeholder="Copy into…"
        value={null}
        onChange={(course) => copy.mutate(course)}
        disabled={courses.length === 0 || copy.isPending}
        options={courses.map((c) => ({ key: String(c.id), text: c.title }))}
      />
      {copy.error && <Note kind="error">{copy.error.message}</Note>}
    </>
  )
}
