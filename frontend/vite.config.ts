import react from '@vitejs/plugin-react'
import { defineConfig } from 'vite'

export default defineConfig({
  plugins: [react()],
  // The server puts a fresh one in place of it with each page: styles are let in by it.
  html: { cspNonce: 'STYLE-NONCE' },
  build: {
    target: 'es2022',
    sourcemap: false,
    chunkSizeWarningLimit: 900,
    rolldownOptions: {
      input: { main: 'index.html', sw: 'src/offline/sw.ts' },
      // Browsers look for a new one at the address of the old.
      output: { entryFileNames: (chunk) => (chunk.name === 'sw' ? 'sw.js' : 'assets/[name]-[hash].js') },
    },
  },
  server: { proxy: { '/api': 'http://127.0.0.1:8000' } },
})
