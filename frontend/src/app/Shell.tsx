import { useQuery, useQueryClient } from '@tanstack/react-query'
import { Suspense, useContext, useState } from 'react'
import { NavLink, Outlet, ScrollRestoration, useLocation, useMatch } from 'react-router'
import styled from 'styled-components'
import { sessionQuery, signOut } from '../features/session/queries'
import { FirstPage } from '../features/session/FirstPage'
import { JoinPage } from '../features/session/JoinPage'
import { SignInPage } from '../features/session/SignInPage'
import { Note, Page } from '../ui/layout'
import { useShortcutsEverywhere } from '../ui/shortcuts'
import { ComingBack } from './ComingBack'
import { KeySheet } from './KeySheet'
import { ThemeChoice } from './theme-choice'

const VIEWS: Record<string, [string, string][]> = {
  instructor: [
    ['/', 'Today'],
    ['/shelf', 'Shelf'],
    ['/cards', 'Job cards'],
    ['/marking', 'Marking desk'],
    ['/skill', 'Skill map'],
    ['/courses', 'Courses'],
    ['/suspects', 'Suspects'],
    ['/toolbox', 'Toolbox'],
  ],
  learner: [
    ['/', 'Today'],
    ['/cards', 'Job cards'],
    ['/skill', 'Logbook'],
    ['/toolbox', 'Toolbox'],
  ],
  administrator: [
    ['/people', 'People and courses'],
    ['/jobs', 'Background work'],
    ['/trail', 'Trail'],
    ['/installation', 'Installation'],
  ],
}

/** Below this the views do not fit beside each other. */
const NARROW = '760px'

/** The bar on top, and the view below; the sign-in page until someone is signed in. */
export function Shell() {
  const { data, error, isPending } = useQuery(sessionQuery)
  const sitting = useMatch('/sittings/:id')
  const [keys, setKeys] = useState(false)
  useShortcutsEverywhere({ '?': () => setKeys(true) })
  if (isPending) return <ComingBack />
  if (error)
    return (
      <Page>
        <Note kind="error">{error.message}</Note>
      </Page>
    )
  if (window.location.pathname === '/join') return <JoinPage />
  if (!data.person)
    return window.location.pathname === '/first' ? <FirstPage /> : <SignInPage school={data.school} />
  return (
    <>
      <ScrollRestoration />
      {!sitting && (
        <Bar>
          <b>
            <svg width="26" height="20" viewBox="0 0 26 20" aria-hidden="true">
              <path
                d="M1 15h6l5-10h5l2 6 1-9 1 13h4"
                fill="none"
                stroke="currentColor"
                strokeWidth="2"
                strokeLinejoin="round"
              />
            </svg>
            Trace Bench
          </b>
          <Views views={VIEWS[data.person.role] ?? []} />
          <Account name={data.person.name} role={data.person.role} onKeys={() => setKeys(true)} />
        </Bar>
      )}
      <ComingBack />
      <Suspense fallback={<Page aria-busy="true">Loading…</Page>}>
        <Outlet />
      </Suspense>
      <KeySheet open={keys} onClose={() => setKeys(false)} />
    </>
  )
}

/** The views beside each other; on a narrow screen behind one button that says which is open. */
function Views({ views }: { views: [string, string][] }) {
  const { pathname } = useLocation()
  const [open, setOpen] = useState(false)
  useShortcutsEverywhere({ Escape: open && (() => setOpen(false)) })
  const here = views.find(([to]) => (to === '/' ? pathname === '/' : pathname.startsWith(to)))
  return (
    <>
      <MenuButton aria-expanded={open} aria-controls="views" onClick={() => setOpen(!open)}>
        ☰ {here?.[1] ?? 'Menu'}
      </MenuButton>
      <nav id="views" aria-label="Views" data-open={open || undefined}>
        {views.map(([to, name]) => (
          <NavLink key={to} to={to} end={to === '/'} onClick={() => setOpen(false)}>
            {name}
          </NavLink>
        ))}
      </nav>
    </>
  )
}

function Account({ name, role, onKeys }: { name: string; role: string; onKeys: () => void }) {
  const client = useQueryClient()
  const theme = useContext(ThemeChoice)
  const leave = (how: () => Promise<unknown>) => async () => {
    await how()
    client.clear()
    window.location.assign('/')
  }
  return (
    <Right>
      <NavLink to="/account" title="Your account: where you are signed in, a new password">
        {name}
        <i> · {role}</i>
      </NavLink>
      <button onClick={onKeys} aria-label="Keys">
        ?
      </button>
      <button onClick={() => theme.choose(theme.name === 'dark' ? 'light' : 'dark')}>
        {theme.name === 'dark' ? 'Light' : 'Dark'}
      </button>
      <button onClick={() => void leave(signOut)()}>Sign out</button>
    </Right>
  )
}

const Bar = styled.header`
  display: flex;
  align-items: center;
  flex-wrap: wrap;
  gap: 4px 22px;
  min-height: 46px;
  padding: 0 18px;
  background: ${(p) => p.theme.colour.bar};
  color: ${(p) => p.theme.colour.barInk};
  b {
    display: flex;
    gap: 9px;
    align-items: center;
    font-weight: 700;
    svg {
      color: ${(p) => p.theme.colour.accent};
    }
  }
  nav {
    display: flex;
    gap: 20px;
  }
  nav a {
    padding: 13px 0 10px;
    font-size: 14.5px;
    text-decoration: none;
    color: ${(p) => p.theme.colour.barMuted};
    border-bottom: 3px solid transparent;
    &.active {
      color: ${(p) => p.theme.colour.barInk};
      border-color: ${(p) => p.theme.colour.accent};
    }
  }
  :focus-visible {
    outline-color: ${(p) => p.theme.colour.accent};
  }
  @media (max-width: 1100px) {
    gap: 4px 12px;
    padding: 0 12px;
    nav {
      gap: 13px;
    }
    nav a {
      font-size: 14px;
    }
  }
  @media (max-width: ${NARROW}) {
    position: relative;
    flex-wrap: nowrap;
    gap: 4px 8px;
    padding: 0 8px;
    b {
      font-size: 0;
    }
    nav {
      display: none;
      position: absolute;
      top: 100%;
      left: 0;
      right: 0;
      z-index: 5;
      gap: 0;
      padding: 0 18px 10px;
      background: ${(p) => p.theme.colour.bar};
      border-bottom: 1px solid ${(p) => p.theme.colour.barMuted};
      &[data-open] {
        display: grid;
      }
    }
    nav a {
      min-height: 44px;
    }
    a,
    button {
      white-space: nowrap;
      overflow: hidden;
      text-overflow: ellipsis;
      flex-shrink: 0;
    }
    a[href='/account'] {
      max-width: 96px;
      min-width: 44px;
      flex-shrink: 1;
    }
    > div {
      min-width: 0;
      gap: 0;
    }
    > div > button {
      min-width: 32px;
    }
  }
`

const MenuButton = styled.button`
  display: none;
  border: 1px solid ${(p) => p.theme.colour.barMuted};
  border-radius: 4px;
  background: none;
  color: inherit;
  min-height: 44px;
  padding: 0 12px;
  white-space: nowrap;
  cursor: pointer;
  @media (max-width: ${NARROW}) {
    display: block;
    && {
      flex-shrink: 1;
      min-width: 88px;
    }
  }
`

const Right = styled.div`
  margin-left: auto;
  display: flex;
  align-items: center;
  gap: 4px;
  font-size: 13.5px;
  color: ${(p) => p.theme.colour.barMuted};
  i {
    font-style: normal;
    @media (max-width: 1100px) {
      display: none;
    }
  }
  button,
  a {
    border: 0;
    background: none;
    padding: 8px;
    color: inherit;
    cursor: pointer;
    text-decoration: underline;
    text-underline-offset: 3px;
  }
`
