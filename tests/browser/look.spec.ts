import type { Page } from '@playwright/test'
import { card, expect, fetched, ofDemo, open, sheet, test } from './pages'

const contents = (page: Page) => page.getByRole('navigation', { name: 'Contents' })
const chosen = async (page: Page, label: string, choice: string) => {
  await page.getByRole('button', { name: /^Look/ }).click()
  await page.getByRole('combobox', { name: new RegExp(`^${label}`) }).selectOption(choice)
  await page.keyboard.press('Escape')
}

test('a tree is set tight or airy by choice, and stays so after a reload', async ({ page }) => {
  await open(page, await ofDemo(page))
  const between = async () => {
    const [a, b] = [await card(page, 'Yara Solberg').boundingBox(), await card(page, 'Emil Castan').boundingBox()]
    const zoom = Number.parseInt((await page.getByTestId('zoom').textContent()) ?? '', 10) / 100
    return ((b?.x ?? 0) - (a?.x ?? 0)) / zoom
  }
  const normal = await between()
  await chosen(page, 'Spacing', 'airy')
  await expect.poll(between).toBeGreaterThan(normal + 10)
  await chosen(page, 'Spacing', 'tight')
  await expect.poll(between).toBeLessThan(normal - 5)
  await page.keyboard.press('Control+z')
  await expect.poll(between).toBeGreaterThan(normal + 10)
})

test('a long process is put in strips for a page, which goes out as it is seen', async ({ page }) => {
  const id = await ofDemo(page)
  await open(page, id)
  await contents(page).getByRole('button', { name: 'Sailing cancelled', exact: true }).click()
  await expect(page.getByRole('heading', { name: 'Sailing cancelled' })).toBeVisible()
  await chosen(page, 'Strips', 'landscape')
  const heads = sheet(page).locator('text', { hasText: /^Duty controller$/ })
  // What is fitted is what is there: the strips may still be on their way.
  await expect(async () => {
    await page.getByRole('button', { name: 'Fit', exact: true }).click()
    await expect(heads).toHaveCount(3, { timeout: 1000 })
    await expect(card(page, 'Close the case')).toBeVisible({ timeout: 1000 })
  }).toPass()
  await expect(sheet(page).locator('text', { hasText: /^A$/ })).toHaveCount(2)
  await expect(card(page, 'Close the case')).toBeVisible()
  await expect(page.getByTestId('standing')).toContainText('Saved')
  const address = new URL(`/api/workspaces/${id}/views/cancelled.svg`, page.url()).href
  const svg = await (await fetched(page, address)).text()
  expect(svg.match(/>Duty controller</g)).toHaveLength(3)
})
