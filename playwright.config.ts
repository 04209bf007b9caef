import { defineConfig, devices } from '@playwright/test'

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
    launchOptions: {
      executablePath: process.env['SKIVEL_CHROMIUM'] ?? '/usr/bin/chromium',
      args: [
        '--no-sandbox',
        '--disable-gpu',
        '--disable-dev-shm-usage',
        '--disable-background-networking',
        '--no-first-run',
        '--font-render-hinting=none',
      ],
    },
  },
})
