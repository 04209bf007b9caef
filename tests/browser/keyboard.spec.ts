import { AxeBuilder } from '@axe-core/playwright'
import type { Page } from '@playwright/test'
import { expect, ofDemo, open, press, sheet, test } from './pages'

const contents = (page: Page) => page.getByRole('navigation', { name: 'Contents' })
/** What a reader of the screen is told. */
const said = (page: Page) => sheet(page).locator('[aria-live=polite]')

/** What axe finds by all its rules, those of good practice included: landmarks, headings, names. */
async function faults(page: Page): Promise<string[]> {
  const { violations } = await new AxeBuilder({ page }).analyze()
  return violations.map(({ id, nodes }) => `${id}: ${nodes.map(({ html }) => html.slice(0, 160)).join(' | ')}`)
}

test('axe finds nothing on any picture, register or dialog, landmarks included', async ({ page }) => {
  await open(page, await ofDemo(page))
  for (const title of [
    'Whole company',
    'Who is who',
    'Sailing cancelled',
    'Dry dock and new ticketing',
    '1887 to 2028',
  ]) {
    await contents(page).getByRole('button', { name: title, exact: true }).click()
    await expect(page.getByRole('heading', { name: title })).toBeVisible()
    await expect(page.locator('[data-item], canvas').first()).toBeVisible()
    expect([title, await faults(page)]).toEqual([title, []])
  }
  await contents(page).getByRole('button', { name: 'Whole company', exact: true }).click()
  await page.getByRole('tab', { name: /Numbers/ }).click()
  await page.getByRole('button', { name: 'Compare…' }).click()
  expect(await faults(page)).toEqual([])
  await sheet(page).focus()
  await page.keyboard.press('z')
  expect(await faults(page)).toEqual([])
  await page.keyboard.press('z')
  await page.getByRole('button', { name: 'Bring in', exact: true }).click()
  await expect(page.getByRole('menu')).toBeVisible()
  expect(await faults(page)).toEqual([])
  await page.keyboard.press('Escape')
  await page.getByRole('button', { name: 'New view', exact: true }).first().click()
  await expect(page.getByRole('dialog', { name: 'New view' })).toBeVisible()
  expect(await faults(page)).toEqual([])
})

test('after a dialog the focus is where it was, whatever opened it', async ({ page }) => {
  await open(page, await ofDemo(page))
  await sheet(page).focus()
  for (const key of ['?', 'Control+k']) {
    await page.keyboard.press(key)
    await expect(page.locator('dialog[open]')).toBeVisible()
    await page.keyboard.press('Escape')
    await expect(page.locator('dialog[open]')).toHaveCount(0)
    await expect(sheet(page)).toBeFocused()
  }
  const handOut = page.getByRole('button', { name: 'Hand out' })
  await handOut.press('Enter')
  await expect(page.locator('dialog[open]')).toBeVisible()
  await page.keyboard.press('Escape')
  await expect(handOut).toBeFocused()

  const workspace = page.getByRole('button', { name: /^Workspace/ })
  await workspace.press('Enter')
  await page.getByRole('menuitem', { name: 'History' }).press('Enter')
  await expect(page.getByRole('dialog', { name: 'History' })).toBeVisible()
  await page.keyboard.press('Escape')
  await expect(workspace).toBeFocused()
})

test('the outline is left forwards with one key', async ({ page }) => {
  await open(page, await ofDemo(page))
  await page.getByRole('tab', { name: 'Outline' }).click()
  await page.locator('input[data-line]').nth(2).click()
  await page.keyboard.press('Escape')
  await expect(page.getByTestId('outline').locator(':focus')).toHaveCount(0)
  await expect(page.getByRole('separator', { name: 'Edge of the margin' })).toBeFocused()
})

test('every selection is told in words: one with its findings, several by their number, and one that is not drawn', async ({
  page,
}) => {
  await open(page, await ofDemo(page))
  await press(page, 'Yara Solberg')
  await expect(said(page)).toHaveText(/^Yara Solberg — Digital and ticketing lead/)
  await page.keyboard.down('Shift')
  await press(page, 'Selma Varga')
  await page.keyboard.up('Shift')
  await expect(said(page)).toHaveText('2 selected')
  await contents(page).getByRole('button', { name: 'Dry dock and new ticketing', exact: true }).click()
  await page.getByRole('tab', { name: /Plans/ }).click()
  await page.getByRole('gridcell').first().click()
  await expect(said(page)).not.toHaveText('')
})

test('a bar, its end, a milestone and a dated event are moved by keys, and the new date is said', async ({ page }) => {
  await open(page, await ofDemo(page))
  await contents(page).getByRole('button', { name: 'Dry dock and new ticketing', exact: true }).click()
  const notice = page.getByTestId('notice')
  const select = async (name: string) => {
    await page.getByRole('button', { name: /Go to or do/ }).click()
    await page.keyboard.type(name)
    await page.keyboard.press('Enter')
    await sheet(page).focus()
  }
  await select('Wash and blast the hull')
  await page.keyboard.press('>')
  await expect(notice).toContainText(/“Wash and blast the hull” starts \d+ Dec 2026/)
  const first = await notice.textContent()
  await page.keyboard.press('>')
  await expect(notice).not.toHaveText(first ?? '')
  await page.keyboard.press('}')
  await expect(notice).toContainText('“Wash and blast the hull” takes 5d')
  await page.keyboard.press('{')
  await expect(notice).toContainText('“Wash and blast the hull” takes 4d')
  await contents(page).getByRole('button', { name: '1887 to 2028', exact: true }).click()
  await sheet(page).focus()
  await page.keyboard.press('ArrowRight')
  await page.keyboard.press('>')
  await expect(notice).toContainText(/ in .*\d{4}|from .*\d{4} to/)
  await page.keyboard.press('Control+z')
  await expect(notice).toContainText('Undo')

  await page.locator('[data-dateline]').focus()
  const day = await page.locator('[data-dateline]').getAttribute('aria-valuetext')
  await page.keyboard.press('ArrowRight')
  await expect(page.locator('[data-dateline]')).not.toHaveAttribute('aria-valuetext', day ?? '')
})
