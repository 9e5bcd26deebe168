import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useNavigate } from 'react-router'
import styled from 'styled-components'
import { Button } from '../../ui/Button'
import { Text } from '../../ui/fields'
import { Note, PageHead } from '../../ui/layout'
import { Stage } from '../../ui/marks'
import { copyReference, publishReference, retireReference, type Reference } from './queries'
import type { SheetEvent, SheetState } from './sheetState'

interface Props {
  reference: Reference
  state: SheetState
  act: (event: SheetEvent) => void
  onTitle: (title: string) => void
  onTaken: (next: Reference) => void
}

/** Title, stage, and what may be done with the reference as a whole. */
export function SheetHead({ reference, state, act, onTitle, onTaken: take }: Props) {
  const client = useQueryClient()
  const go = useNavigate()
  const publish = useMutation({ mutationFn: () => publishReference(reference.id), onSuccess: take })
  const retire = useMutation({ mutationFn: () => retireReference(reference.id), onSuccess: take })
  const copy = useMutation({
    mutationFn: () => copyReference(reference.id),
    onSuccess: (made) => {
      void client.invalidateQueries({ queryKey: ['shelf'] })
      void go(`/shelf/${made.id}`)
    },
  })
  const error = publish.error ?? retire.error ?? copy.error
  const typed = (title: string | null) => act({ type: 'titleTyped', title })
  const latest = reference.versions[0]
  const { provenance } = reference.document
  const about = [provenance.vehicle, provenance.engine, provenance.conditions, provenance.ground]
    .filter(Boolean)
    .join(' · ')
  return (
    <>
      <PageHead
        title={
          !reference.may_change ? (
            reference.title
          ) : state.title === null ? (
            <TitleButton onClick={() => typed(reference.title)} title="Change the title">
              {reference.title}
            </TitleButton>
          ) : (
            <Text hidden label="Title" value={state.title} onChange={typed} />
          )
        }
        about={about || 'no provenance yet: say under Origin where this capture comes from'}
      >
        {state.title !== null && (
          <Button
            $main
            onPress={() => {
              onTitle(state.title ?? reference.title)
              typed(null)
            }}
          >
            Keep title
          </Button>
        )}
        <Stage stage={reference.state} version={latest?.version ?? null} />
        {reference.answer.events.length > 1 && (
          <Button
            aria-pressed={state.laidOver}
            onPress={() => act({ type: 'laidOver', on: !state.laidOver })}
          >
            {state.laidOver ? 'Back to the strip' : 'Lay events over each other'}
          </Button>
        )}
        {!reference.owned && (
          <Button onPress={() => copy.mutate()} isDisabled={copy.isPending}>
            Copy it
          </Button>
        )}
        {reference.may_change && reference.state !== 'retired' && (
          <Button onPress={() => retire.mutate()} isDisabled={retire.isPending}>
            Retire
          </Button>
        )}
        {latest && (
          <Button onPress={() => void go(`/cards/new?reference=${latest.id}`)}>Make a job card</Button>
        )}
        {reference.may_change && reference.state !== 'published' && (
          <Button $main onPress={() => publish.mutate()} isDisabled={publish.isPending}>
            Publish version {(latest?.version ?? 0) + 1}
          </Button>
        )}
      </PageHead>
      {error && <Note kind="error">{error.message}</Note>}
    </>
  )
}

const TitleButton = styled.button`
  border: 0;
  padding: 0;
  background: none;
  font-weight: 650;
  cursor: text;
  text-align: left;
`
