import { defineConfig } from 'vitest/config'

export default defineConfig({
  test: {
    setupFiles: ['tests/holidays.ts'],
    include: ['tests/{core,reference,cli,app}/**/*.test.ts'],
    pool: 'threads',
    testTimeout: 30_000,
  },
})
