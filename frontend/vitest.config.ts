import { defineConfig } from 'vitest/config'

/** What is pure is tested here; what needs a browser, in tests/ui of the project. */
export default defineConfig({
  test: {
    include: ['tests/**/*.test.ts'],
    environment: 'node',
    globals: false,
    restoreMocks: true,
    // Properties try hundreds of cases, also where other work runs beside.
    testTimeout: 30_000,
  },
})
