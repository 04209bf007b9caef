import { defineConfig } from 'vitest/config'

export default defineConfig({
  test: {
    setupFiles: ['tests/holidays.ts'],
    include: ['tests/server/**/*.test.ts'],
    globalSetup: ['tests/server/setup.ts'],
    fileParallelism: false,
    testTimeout: 30_000,
    hookTimeout: 60_000,
  },
})
