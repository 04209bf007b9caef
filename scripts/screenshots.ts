/** Takes docs/screenshots from the demo in the built application: npm run screenshots */
import { chromium, type Page } from '@playwright/test'
import { join } from 'node:path'
import { writeWorkspace } from '../src/core/file'
import { marramSoundFerries } from '../src/demo'
import { migrate } from '../src/server/db/migrate'
import { openPool } from '../src/server/db/pool'
import { startServer } from '../tests/server/running'
import { startMariaDb } from './lib/mariadb.mjs'

const database = await startMariaDb(join('.skivel', 'screenshots-mariadb'), 'skivel_screenshots')
const pool = openPool(database.url)
await migrate(pool, join('src', 'server', 'db', 'migrations'))
await pool.query('DELETE FROM workspace')
await pool.end()
const server = await startServer(database.url)
const browser = await chromium.launch({
  executablePath: process.env['SKIVEL_CHROMIUM'] ?? '/usr/bin/chromium',
  args: [
    '--no-sandbox',
    '--disable-gpu',
    '--disable-dev-shm-usage',
    '--disable-background-networking',
    '--no-first-run',
    '--font-render-hinting=none',
  ],
})
const page: Page = await browser.newPage({ viewport: { width: 1280, height: 800 }, colorScheme: 'light' })
await page.clock.setFixedTime(new Date('2026-11-24T09:12:00'))

const shot = async (name: string) => {
  await page.waitForTimeout(500)
  await page.screenshot({ path: join('docs', 'screenshots', `${name}.png`) })
}
const pressCard = async (text: string) => {
  const box = await page.getByTestId('sheet').locator('g[data-item]', { hasText: text }).first().boundingBox()
  if (!box) throw new Error(`no card “${text}”`)
  await page.mouse.click(box.x + box.width / 2, box.y + box.height / 2)
}

try {
  const response = await page.request.post(`${server.address}/api/workspaces`, {
    data: { file: writeWorkspace(marramSoundFerries()) },
  })
  const { id } = (await response.json()) as { id: string }
  await page.goto(server.address)
  await page.getByRole('region', { name: 'Starters' }).waitFor()
  await shot('home')
  await page.goto(`${server.address}/w/${id}`)
  await page.locator('[data-item]').first().waitFor()
  await page.getByRole('tab', { name: /Positions/ }).click()
  await pressCard('Osei Brandt')
  await shot('organisation')
  await page.getByRole('tab', { name: 'Outline' }).click()
  await page.getByRole('navigation').getByRole('button', { name: 'Port services', exact: true }).click()
  await page.locator('[data-item]').first().waitFor()
  await pressCard('Ida Nwosu')
  await shot('branch-and-outline')
} finally {
  await browser.close()
  await server.stop()
  await database.stop()
}
