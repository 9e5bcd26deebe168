import { useSuspenseQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { Choice } from '../ui/fields'
import { coursesQuery } from './who'

/** The course a view is about, and a picker when there are several; id is null without any course. */
export function useCourse(): { id: number | null; title: string; picker: React.ReactNode } {
  const { data } = useSuspenseQuery(coursesQuery)
  const [id, setId] = useState<number | null>(data[0]?.id ?? null)
  const picker =
    data.length > 1 ? (
      <Choice
        hidden
        label="Course"
        value={String(id)}
        onChange={(key) => setId(Number(key))}
        options={data.map((c) => ({ key: String(c.id), text: c.title }))}
      />
    ) : null
  return { id, title: data.find((c) => c.id === id)?.title ?? 'no course yet', picker }
}
