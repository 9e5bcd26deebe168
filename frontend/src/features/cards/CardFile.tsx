import { useMutation, useQueryClient } from '@tanstack/react-query'
import { FileTrigger } from 'react-aria-components'
import { useNavigate } from 'react-router'
import { useCourse } from '../../shared/CoursePicker'
import { Button } from '../../ui/Button'
import { Note } from '../../ui/layout'
import { createCard, type CardDocument } from './queries'

/** A card that came as a file, into the course that is chosen; it opens as a draft. */
export function CardFile() {
  const course = useCourse()
  const client = useQueryClient()
  const go = useNavigate()
  const bring = useMutation({
    mutationFn: async (file: File) => {
      let document: CardDocument
      try {
        document = JSON.parse(await file.text()) as CardDocument
      } catch {
        throw new Error(`${file.name} is no card: it is not JSON. Export one from its card maker.`)
      }
      return createCard({ course_id: course.id ?? 0, document })
    },
    onSuccess: (made) => {
      void client.invalidateQueries({ queryKey: ['cards'] })
      void go(`/cards/${made.id}`)
    },
  })
  return (
    <>
      <FileTrigger
        acceptedFileTypes={['.json', 'application/json']}
        onSelect={(files) => {
          const [file] = [...(files ?? [])]
          if (file) bring.mutate(file)
        }}
      >
        <Button isDisabled={course.id === null || bring.isPending}>Bring a card in</Button>
      </FileTrigger>
      {bring.error && <Note kind="error">{bring.error.message}</Note>}
    </>
  )
}
