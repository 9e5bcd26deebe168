import { useMutation } from '@tanstack/react-query'
import { useEffect } from 'react'
import { Link, useNavigate, useParams } from 'react-router'
import { Muted, Note, Page, PageHead } from '../../ui/layout'
import { beginSitting } from './queries'

/** Where the code on a printed job sheet leads: the card's sitting, begun or gone on with. */
export function BeginPage() {
  const card = Number(useParams().id)
  const go = useNavigate()
  const { mutate, error } = useMutation({
    mutationFn: beginSitting,
    onSuccess: (made) => void go(`/sittings/${made.id}`, { replace: true }),
  })
  useEffect(() => mutate(card), [mutate, card])
  return (
    <Page>
      <PageHead title="Job card" />
      {error ? (
        <Note kind="error">
          {error.message}. <Link to="/">To Today</Link>
        </Note>
      ) : (
        <Muted>Opening your sitting…</Muted>
      )}
    </Page>
  )
}
