import { Tab, TabList, TabPanel, Tabs } from 'react-aria-components'
import { Suspense } from 'react'
import styled from 'styled-components'
import { CallFoot, ReadingsPanel } from '../../shared/ReadingsPanel'
import { besideCapture } from '../../shared/records'
import { RecordsPanel } from '../../shared/RecordsPanel'
import { CaptureSteps } from './CaptureSteps'
import type { LimitDraft } from './limitDraft'
import { Limits, Phases, Provenance, Tags, type PartProps } from './ReferenceEditor'
import { ReferenceShape } from './ReferenceShape'
import { ReferenceTold } from './ReferenceTold'
import type { Reference } from './queries'

export type SideTab =
  'readings' | 'tags' | 'limits' | 'phases' | 'shape' | 'told' | 'origin' | 'records' | 'steps'

const TABS: [SideTab, string][] = [
  ['readings', 'Readings'],
  ['tags', 'Tags'],
  ['limits', 'Limits'],
  ['phases', 'Phases'],
  ['shape', 'Shape'],
  ['told', 'Told'],
  ['origin', 'Origin'],
  ['records', 'Records'],
  ['steps', 'Steps'],
]

interface Props extends PartProps {
  tab: SideTab
  onTab: (tab: SideTab) => void
  /** Counts how often one asked by key to write a tag. */
  begin: number
  onTaken: (next: Reference) => void
  limit: LimitDraft
  onLimit: (limit: LimitDraft) => void
}

/** Everything of a sheet but its trace, beside the trace: what is asked about it never hides it. */
export function SheetSide({ tab, onTab, limit, onLimit, begin, onTaken, ...props }: Props) {
  const { reference, circuit, pegs, selected, onSelect } = props
  return (
    <Side selectedKey={tab} onSelectionChange={(key) => onTab(key as SideTab)}>
      <Heads aria-label="Parts of the sheet">
        {TABS.map(([key, text]) => (
          <Head key={key} id={key}>
            {text}
          </Head>
        ))}
      </Heads>
      <Body id="readings">
        <ReadingsPanel
          answer={reference.answer}
          circuit={circuit}
          place={reference.document.options.firing_order ? 'Cylinder' : 'Position'}
          selected={selected}
          onSelect={onSelect}
        />
      </Body>
      <Body id="tags" inert={!reference.may_change}>
        <Tags {...props} begin={begin} />
      </Body>
      <Body id="limits" inert={!reference.may_change}>
        <Limits {...props} draft={limit} onDraft={onLimit} />
      </Body>
      <Body id="phases" inert={!reference.may_change}>
        <Phases {...props} />
      </Body>
      <Body id="shape">
        <Suspense fallback={<div />}>
          <ReferenceShape {...props} onTaken={onTaken} />
        </Suspense>
      </Body>
      <Body id="told" inert={!reference.may_change}>
        <ReferenceTold {...props} />
      </Body>
      <Body id="origin" inert={!reference.may_change}>
        <Provenance {...props} />
      </Body>
      <Body id="records" inert={!reference.may_change}>
        <RecordsPanel place={besideCapture(reference.raw_id)} pegS={pegs[0]} />
      </Body>
      <Body id="steps" inert={!reference.may_change}>
        <CaptureSteps reference={reference} circuit={circuit} pegs={pegs} onTaken={onTaken} />
      </Body>
      <CallFoot answer={reference.answer} circuit={circuit} />
    </Side>
  )
}

const Side = styled(Tabs)`
  display: flex;
  flex-direction: column;
  min-height: 0;
  background: ${(p) => p.theme.colour.sheet};
  border: 1px solid ${(p) => p.theme.colour.hair};
  border-radius: ${(p) => p.theme.radius};
`

const Heads = styled(TabList)`
  display: grid;
  grid-template-columns: repeat(5, 1fr);
  border-bottom: 1px solid ${(p) => p.theme.colour.hair};
`

const Head = styled(Tab)`
  min-height: 40px;
  padding: 9px 4px;
  text-align: center;
  font-size: 13px;
  color: ${(p) => p.theme.colour.muted};
  cursor: pointer;
  outline-offset: -3px;
  &[data-selected] {
    color: ${(p) => p.theme.colour.ink};
    font-weight: 650;
    box-shadow: inset 0 -3px 0 ${(p) => p.theme.colour.ink};
  }
`

const Body = styled(TabPanel)`
  flex: 1;
  min-height: 0;
  overflow: auto;
  display: flex;
  flex-direction: column;
  > aside,
  > section {
    flex: 1;
    border: 0;
  }
`
