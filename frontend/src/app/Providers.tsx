import { QueryCache, QueryClient, QueryClientProvider } from '@tanstack/react-query'
import { Suspense, useState } from 'react'
import { RouterProvider } from 'react-router'
import { ThemeProvider } from 'styled-components'
import { isComingBack } from './ComingBack'
import { Problem } from '../api/client'
import { GlobalStyle } from '../design/GlobalStyle'
import { themes } from '../design/theme'
import { sessionQuery } from '../features/session/queries'
import { router } from './routes'
import { ThemeChoice, type ThemeName } from './theme-choice'

const KEY = 'tracebench-theme'

function makeClient(): QueryClient {
  const client = new QueryClient({
    queryCache: new QueryCache({
      onError: (error, query) => {
        // A session that ended elsewhere shows the sign-in page at once.
        if (error instanceof Problem && error.status === 401 && query.queryKey[0] !== 'session')
          void client.invalidateQueries({ queryKey: sessionQuery.queryKey })
      },
    }),
    defaultOptions: {
      // Without network a service worker answers what it may, and what it may not fails at once instead of waiting.
      mutations: { networkMode: 'always' },
      queries: {
        networkMode: 'always',
        retry: (count, error) =>
          isComingBack(error)
            ? count < TRIES_BACK
            : count < 2 && (!(error instanceof Problem) || error.status === 0),
        retryDelay: (count, error) => (isComingBack(error) ? 1000 : 1000 * 2 ** count),
      },
    },
  })
  return client
}

/** A database is back in a second or two, and in a minute at the worst. */
const TRIES_BACK = 90

export function Providers() {
  const [name, setName] = useState<ThemeName>(() => (localStorage.getItem(KEY) === 'dark' ? 'dark' : 'light'))
  const [client] = useState(makeClient)
  const choose = (next: ThemeName) => {
    localStorage.setItem(KEY, next)
    setName(next)
  }
  return (
    <ThemeProvider theme={themes[name]}>
      <GlobalStyle />
      <ThemeChoice.Provider value={{ name, choose }}>
        <QueryClientProvider client={client}>
          <Suspense>
            <RouterProvider router={router} />
          </Suspense>
        </QueryClientProvider>
      </ThemeChoice.Provider>
    </ThemeProvider>
  )
}
