/** Takes docs/screenshots from the demo in the built application: npm run screenshots */
import { join } from 'node:path'
import { writeWorkspace } from '../src/core/file'
import { marramSoundFerries } from '../src/demo'
import { withApplication } from './lib/application'

await withApplication('screenshots', async (browser, address) => {
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 }, colorScheme: 'light' })
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

  const response = await page.request.post(`${address}/api/workspaces`, {
    data: { file: writeWorkspace(marramSoundFerries()) },
  })
  const { id } = (await response.json()) as { id: string }
  await page.goto(address)
  await page.getByRole('region', { name: 'Starters' }).waitFor()
  await shot('home')
  await page.goto(`${address}/w/${id}`)
  await page.locator('[data-item]').first().waitFor()
  await page.getByRole('tab', { name: /Positions/ }).click()
  await pressCard('Osei Brandt')
  await shot('organisation')
  await page.getByRole('tab', { name: 'Outline' }).click()
  await page.getByRole('navigation').getByRole('button', { name: 'Port services', exact: true }).click()
  await page.locator('[data-item]').first().waitFor()
  await pressCard('Ida Nwosu')
  await shot('branch-and-outline')
})
