import type { ReactNode } from 'react'
import styled from 'styled-components'

/** A white sheet on the floor. */
export const Panel = styled.section<{ $pad?: boolean }>`
  background: ${(p) => p.theme.colour.sheet};
  border: 1px solid ${(p) => p.theme.colour.hair};
  border-radius: ${(p) => p.theme.radius};
  padding: ${(p) => (p.$pad === false ? '0' : '14px 16px')};
  min-width: 0;
  h2 + * {
    margin-top: 8px;
  }
`

export const Row = styled.div<{ $gap?: number; $end?: boolean }>`
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: ${(p) => p.$gap ?? 8}px;
  justify-content: ${(p) => (p.$end ? 'flex-end' : 'flex-start')};
`

/** Two columns that become one on a narrow page. `$left` is the left one's share of the right one's width. */
export const Two = styled.div<{ $left?: number; $least?: number }>`
  display: grid;
  grid-template-columns: ${(p) => p.$left ?? 1}fr 1fr;
  gap: 12px;
  align-items: start;
  @media (max-width: ${(p) => p.$least ?? 900}px) {
    grid-template-columns: 1fr;
  }
`

/** A trace with what is said of it beside it; under each other on a narrow page. `$below` is what the page needs else. */
export const TraceAndSide = styled.div<{ $side: number; $below: number }>`
  display: grid;
  grid-template-columns: minmax(0, 1fr) ${(p) => p.$side}px;
  gap: 12px;
  height: max(520px, calc(100vh - ${(p) => p.$below}px));
  @media (max-width: 1000px) {
    grid-template-columns: 1fr;
    height: auto;
    > :first-child {
      height: 520px;
    }
  }
`

export const Stack = styled.div<{ $gap?: number }>`
  display: flex;
  flex-direction: column;
  gap: ${(p) => p.$gap ?? 12}px;
  min-width: 0;
`

export const Page = styled.main`
  padding: 12px 14px 20px;
  max-width: 1500px;
  margin: 0 auto;
`

const Head = styled.div`
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 8px 16px;
  margin-bottom: 12px;
  min-height: 44px;
  p {
    font-size: 13.5px;
    color: ${(p) => p.theme.colour.muted};
  }
  > :last-child:not(:first-child) {
    margin-left: auto;
  }
`

/** Title of a page with what can be done there. */
export function PageHead({
  title,
  about,
  children,
}: {
  title: ReactNode
  about?: ReactNode
  children?: ReactNode
}) {
  return (
    <Head>
      <div>
        <h1>{title}</h1>
        {about && <p>{about}</p>}
      </div>
      <Row>{children}</Row>
    </Head>
  )
}

const NoteBox = styled.div<{ $kind: 'error' | 'warn' | 'plain' }>`
  padding: 9px 12px;
  border-radius: ${(p) => p.theme.radius};
  border: 1px solid
    ${(p) => ({ error: p.theme.colour.fault, warn: p.theme.colour.warnEdge, plain: p.theme.colour.hair })[p.$kind]};
  background: ${(p) => ({ error: p.theme.colour.sheet, warn: p.theme.colour.warn, plain: p.theme.colour.sunk })[p.$kind]};
  border-left-width: 5px;
  font-size: 14.5px;
  & + ${TraceAndSide} {
    margin-top: 10px;
  }
`

/** What happened, to what, and what to do. Errors are read out. */
export function Note({
  kind = 'plain',
  children,
}: {
  kind?: 'error' | 'warn' | 'plain'
  children: ReactNode
}) {
  return (
    <NoteBox $kind={kind} role={kind === 'error' ? 'alert' : undefined}>
      {children}
    </NoteBox>
  )
}

/** An empty view: what goes there, and the first thing to do. */
export const Empty = styled.div`
  padding: 34px 20px;
  text-align: center;
  color: ${(p) => p.theme.colour.muted};
  border: 1.5px dashed ${(p) => p.theme.colour.hair};
  border-radius: ${(p) => p.theme.radius};
  > * + * {
    margin-top: 10px;
  }
`

export const Table = styled.table`
  width: 100%;
  border-collapse: collapse;
  font-size: 14.5px;
  th {
    text-align: left;
    font-size: 13px;
    font-weight: 500;
    color: ${(p) => p.theme.colour.muted};
    padding: 6px 12px;
  }
  td {
    padding: 8px 12px;
    border-top: 1px solid ${(p) => p.theme.colour.faint};
    vertical-align: middle;
  }
  tbody tr:hover td {
    background: ${(p) => p.theme.colour.sunk};
  }
  td a {
    color: inherit;
    font-weight: 600;
  }
`

export const Muted = styled.span`
  color: ${(p) => p.theme.colour.muted};
  font-size: 13.5px;
`
