import AxeBuilder from '@axe-core/playwright'
import { createServer } from 'node:http'
import type { AddressInfo } from 'node:net'
import type { Page } from '@playwright/test'
import { expect, notice, ofDemo, open, saved, test } from './pages'

const section = (page: Page) => page.getByRole('region', { name: 'Pages to read' })
/** Makes a page to read and answers its address. */
async function make(page: Page, reach?: string): Promise<string> {
  await page.getByRole('button', { name: 'Hand out' }).click()
  if (reach !== undefined) await section(page).getByLabel('What is read').selectOption(reach)
  await section(page).getByRole('button', { name: 'Make a page' }).click()
  return section(page).getByLabel('Address').inputValue()
}
const place = (page: Page) => page.locator('#stage > div').evaluate((layer) => (layer as HTMLElement).style.transform)

test('a page is read in another browser, zoomed, searched, and gone once it is withdrawn', async ({
  page,
  browser,
}) => {
  await open(page, await ofDemo(page))
  await page.getByRole('button', { name: 'Hand out' }).click()
  await section(page).getByLabel('with findings').check()
  await section(page).getByLabel('Until').fill('then')
  await expect(section(page).getByRole('button', { name: 'Make a page' })).toBeDisabled()
  await section(page).getByLabel('Until').fill('2099-12-31')
  await section(page).getByRole('button', { name: 'Make a page' }).click()
  const address = await section(page).getByLabel('Address').inputValue()
  await expect(section(page).getByRole('listitem')).toContainText('“Whole company”, until 2099-12-31')
  await section(page).getByRole('button', { name: 'Copy as a frame' }).click()
  const frame = await page.evaluate(() => navigator.clipboard.readText())
  expect(frame).toContain(`<iframe src="${address}" title="Whole company"`)

  // Another browser, without anything of the first one's.
  const context = await browser.newContext({ viewport: { width: 1000, height: 700 } })
  const reader = await context.newPage()
  await reader.goto(address)
  await expect(reader.getByRole('heading', { name: 'Whole company' })).toBeVisible()
  await expect(reader.locator('svg text', { hasText: 'Yara Solberg' })).toBeVisible()
  await expect(reader.getByRole('list', { name: 'Findings' })).toContainText('“Service designer” reports to')
  const before = await place(reader)
  await reader.getByRole('button', { name: 'Larger' }).click()
  await expect.poll(() => place(reader)).not.toBe(before)
  await reader.getByRole('button', { name: 'Fit' }).click()
  await expect.poll(() => place(reader)).toBe(before)
  await reader.locator('#stage').focus()
  await reader.keyboard.press('ArrowRight')
  await expect.poll(() => place(reader)).not.toBe(before)
  await reader.getByLabel('Find in this picture').fill('lune')
  await expect(reader.locator('output')).toHaveText('1 of 1')
  await expect(reader.locator('[data-found]')).toBeInViewport()
  await reader.getByLabel('Find in this picture').fill('nobody at all')
  await expect(reader.locator('output')).toHaveText('not here')
  const { violations } = await new AxeBuilder({ page: reader }).exclude('svg').analyze()
  expect(violations.map(({ id, nodes }) => `${id}: ${nodes[0]?.html}`)).toEqual([])

  // The first one sees that it was read, and withdraws it.
  await page.keyboard.press('Escape')
  await page.reload()
  await page.getByRole('button', { name: 'Hand out' }).click()
  await expect(section(page).getByRole('listitem')).toContainText('last read')
  await expect(section(page).getByLabel('Address')).toHaveCount(0)
  await section(page).getByRole('button', { name: 'Withdraw' }).click()
  await expect(notice(page)).toContainText('withdrawn')
  expect((await reader.reload())?.status()).toBe(404)
  await expect(reader.getByText('There is nothing at this address, or it was withdrawn.')).toBeVisible()
  await context.close()
})

test('a chapter is read on a telephone and in a frame, and follows the facts', async ({ page, browser }) => {
  await open(page, await ofDemo(page))
  const address = await make(page, 'chapter')
  const context = await browser.newContext({ viewport: { width: 360, height: 640 }, hasTouch: true, isMobile: true })
  const phone = await context.newPage()
  await phone.goto(address)
  await expect(phone.locator('svg text', { hasText: 'Yara Solberg' })).toBeVisible()
  // Nothing is wider than the telephone.
  expect(await phone.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(360)
  const stage = await phone.locator('#stage').boundingBox()
  expect(stage?.height ?? 0).toBeGreaterThan(300)
  await phone.getByLabel('View', { exact: true }).selectOption({ label: 'Port services' })
  await expect(phone.getByRole('heading', { name: 'Port services' })).toBeVisible()
  await expect(phone).toHaveURL(/\?view=port-services$/)
  await context.close()

  // In a frame of a page of somewhere else.
  const other = await browser.newContext({ viewport: { width: 900, height: 700 } })
  const elsewhere = await other.newPage()
  const host = createServer((_, response) => {
    response.setHeader('content-type', 'text/html')
    response.end(`<h1>Elsewhere</h1><iframe src="${address}" width="800" height="500"></iframe>`)
  })
  await new Promise<void>((begun) => host.listen(0, '127.0.0.1', begun))
  await elsewhere.goto(`http://127.0.0.1:${(host.address() as AddressInfo).port}/`)
  const framed = elsewhere.frameLocator('iframe')
  await expect(framed.getByRole('heading', { name: 'Whole company' })).toBeVisible()
  await expect(framed.locator('svg text', { hasText: 'Yara Solberg' })).toBeVisible()

  // What changes is there with the next reading.
  await page.keyboard.press('Escape')
  await page.getByTestId('outline').locator('input').nth(1).fill('Mika of the Quay – Executive assistant (assistant)')
  await page.keyboard.press('Escape')
  await saved(page)
  await elsewhere.reload()
  await expect(framed.locator('svg text', { hasText: 'Mika of the Quay' })).toBeVisible()
  await other.close()
  host.close()
})
