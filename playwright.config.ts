import { defineConfig, devices } from '@playwright/test'
import { chromiumOptions } from './scripts/lib/chromium'

export default defineConfig({
  testDir: 'tests/browser',
  globalSetup: './tests/browser/setup.ts',
  workers: 1,
  // A second try tells a starved machine from a fault; tests that needed one are named in the report and counted aloud.
  retries: 1,
  // Generous, since a busy machine is no fault of the program; what has to be fast is measured by the bench.
  timeout: 180_000,
  expect: { timeout: 30_000 },
  reporter: process.env['SKIVEL_REPORT']
    ? [['json', { outputFile: process.env['SKIVEL_REPORT'] }], ['list']]
    : [['list']],
  use: {
    ...devices['Desktop Chrome'],
    viewport: { width: 1280, height: 800 },
    permissions: ['clipboard-read', 'clipboard-write'],
    launchOptions: chromiumOptions,
  },
})
