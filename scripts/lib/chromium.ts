import type { LaunchOptions } from '@playwright/test'

/** Debian's Chromium, headless, without the services of its maker. */
export const chromiumOptions: LaunchOptions = {
  executablePath: process.env['SKIVEL_CHROMIUM'] || '/usr/bin/chromium',
  args: [
    '--no-sandbox',
    '--disable-gpu',
    '--disable-dev-shm-usage',
    '--disable-background-networking',
    '--no-first-run',
    '--font-render-hinting=none',
  ],
}
