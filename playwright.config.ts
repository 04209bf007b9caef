import { defineConfig, devices } from '@playwright/test'
import { chromiumOptions } from './scripts/lib/chromium'

export default defineConfig({
  testDir: 'tests/browser',
  globalSetup: './tests/browser/setup.ts',
  workers: 1,
  timeout: 45_000,
  expect: { timeout: 8_000 },
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
