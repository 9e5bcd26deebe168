import '@fontsource-variable/atkinson-hyperlegible-mono'
import '@fontsource-variable/atkinson-hyperlegible-next'
import { StrictMode } from 'react'
import { createRoot } from 'react-dom/client'
import { Providers } from './app/Providers'

const root = document.getElementById('root')
if (root) {
  createRoot(root).render(
    <StrictMode>
      <Providers />
    </StrictMode>,
  )
}
