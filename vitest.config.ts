import { defineConfig } from 'vitest/config'

export default defineConfig({
  test: {
    setupFiles: ['tests/holidays.ts'],
    include: ['tests/{core,reference,cli,app}/**/*.test.ts'],
    pool: 'threads',
    isolate: false,
    // On two cores the default is one.
    maxWorkers: 2,
    testTimeout: 30_000,
  },
})
