import { Link, useRouteError } from 'react-router'
import { Note, Page, PageHead } from '../ui/layout'

/** What is shown when a view cannot be shown. */
export function Wrong() {
  const error = useRouteError()
  const text = error instanceof Error ? error.message : 'There is no such page.'
  return (
    <Page>
      <PageHead title="This page cannot be shown" />
      <Note kind="error">
        {text} <Link to="/">Back to Today</Link>, or reload the page.
      </Note>
    </Page>
  )
}
