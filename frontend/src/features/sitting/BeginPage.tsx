import { useMutation, useQueryClient, useSuspenseQuery } from '@tanstack/react-query'
import { useEffect } from 'react'
import { Link, useNavigate, useParams } from 'react-router'
import { cardsQuery } from '../../shared/cards'
import { Button } from '../../ui/Button'
import { Muted, Note, Page, PageHead, Row } from '../../ui/layout'
import { beginSitting } from './queries'

/** Where the code on a printed job sheet leads: the card's sitting, begun or gone on with. */
export function BeginPage() {
  const id = Number(useParams().id)
  const go = useNavigate()
  const { data: cards } = useSuspenseQuery(cardsQuery)
  const card = cards.find((c) => c.id === id)
  const client = useQueryClient()
  const begin = useMutation({
    mutationFn: beginSitting,
    onSuccess: (made) => {
      // What was told of an earlier attempt would be the key to this one.
      client.removeQueries({ queryKey: ['sitting'] })
      void go(`/sittings/${made.id}`, { replace: true })
    },
  })
  const { mutate } = begin
  // A clock starts only when that is meant.
  const asks = Boolean(card?.minutes) && !card?.taken.some((t) => t.state === 'open')
  useEffect(() => {
    if (!asks) mutate(id)
  }, [asks, mutate, id])
  return (
    <Page>
      <PageHead title={card?.title ?? 'Job card'} />
      {begin.error ? (
        <Note kind="error">
          {begin.error.message}. <Link to="/">To Today</Link>
        </Note>
      ) : asks ? (
        <Row>
          <p>
            You have {card?.minutes} minutes from when you begin; at their end, what is saved is handed in.
          </p>
          <Button $main $touch isDisabled={begin.isPending} onPress={() => mutate(id)}>
            Begin
          </Button>
        </Row>
      ) : (
        <Muted>Opening your sitting…</Muted>
      )}
    </Page>
  )
}
