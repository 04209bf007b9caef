import AxeBuilder from '@axe-core/playwright'
import { readFileSync } from 'node:fs'
import type { Page } from '@playwright/test'
import sharp from 'sharp'
import { address, card, expect, notice, ofDemo, open, saved, sheet, test } from './pages'

const openThemes = async (page: Page) => {
  await page.getByRole('button', { name: 'Look of the picture' }).click()
  await page.getByRole('button', { name: 'Theme', exact: true }).click()
  await expect(page.getByTestId('themes')).toBeVisible()
}
const edge = (page: Page) => card(page, 'Yara Solberg').locator('path').nth(1)
const ground = (page: Page) => sheet(page).evaluate((one) => getComputedStyle(one).backgroundColor)
const contents = (page: Page, title: string) =>
  page.getByRole('navigation', { name: 'Contents' }).getByRole('button', { name: title, exact: true })

test('a theme and a tone restyle a view, all views, and come back with a reload', async ({ page }) => {
  await open(page, await ofDemo(page))
  await expect(edge(page)).toBeVisible()
  const before = await edge(page).getAttribute('fill')
  await openThemes(page)
  await page.getByTestId('themes').getByRole('button', { name: 'Heather' }).click()
  await expect(edge(page)).not.toHaveAttribute('fill', before ?? '')
  await page.getByRole('radio', { name: 'Dark screen' }).check()
  await expect.poll(() => ground(page)).not.toBe('rgb(255, 255, 255)')
  const { violations } = await new AxeBuilder({ page }).include('dialog').analyze()
  expect(violations.map(({ id, nodes }) => [id, nodes.map(({ html }) => html.slice(0, 120))])).toEqual([])
  await page.keyboard.press('Escape')
  await contents(page, 'Port services').click()
  await expect.poll(() => ground(page)).toBe('rgb(255, 255, 255)')

  await openThemes(page)
  await page.getByRole('radio', { name: 'all views' }).check()
  await page.getByRole('radio', { name: 'Tinted paper' }).check()
  await expect.poll(() => ground(page)).not.toBe('rgb(255, 255, 255)')
  const tinted = await ground(page)
  await page.keyboard.press('Escape')
  await contents(page, 'Units and their size').click()
  await expect.poll(() => ground(page)).toBe(tinted)
  await contents(page, 'Whole company').click()
  await expect.poll(() => ground(page)).not.toBe(tinted)
  await openThemes(page)
  await page.getByRole('button', { name: 'As the workspace' }).click()
  await expect.poll(() => ground(page)).toBe(tinted)
  await page.keyboard.press('Escape')
  await saved(page)
  await page.reload()
  await expect(edge(page)).toBeVisible()
  await expect.poll(() => ground(page)).toBe(tinted)
})

test('a theme of one’s own is made of colours and of a picture, says what it mends, is handed on and brought in again', async ({
  page,
}) => {
  const id = await ofDemo(page)
  await open(page, id)
  await openThemes(page)
  await page.getByRole('button', { name: 'Make one of your colours' }).click()
  await page.getByLabel('Colour 1').fill('red')
  await expect(page.getByText('Six digits, as #1f5fa8.')).toBeVisible()
  await expect(page.getByRole('button', { name: 'Keep and use it' })).toBeDisabled()
  await page.getByLabel('Colour 1').fill('#ffd400')
  await expect(page.getByTestId('mended')).toContainText(
    '#ffd400 is 1.4 to 1 on the sheet, 3 to 1 is the least: drawn as #',
  )
  await page.getByLabel('Draw them exactly as given').check()
  await expect(page.getByTestId('mended')).toContainText('it is drawn so all the same')
  await page.getByLabel('Colour 1').fill('#d62728')
  await page.getByRole('button', { name: 'One more' }).click()
  await page.getByLabel('Colour 2').fill('#2ca02c')
  await expect(page.getByTestId('mended')).toHaveText(
    '#d62728 and #2ca02c are hardly told apart without the cones for green.',
  )
  await page.getByRole('button', { name: 'Leave out' }).last().click()
  await page.getByLabel('Draw them exactly as given').uncheck()
  const png = await sharp({ create: { width: 60, height: 40, channels: 3, background: '#004d7f' } })
    .png()
    .toBuffer()
  await page.getByLabel('Read from a picture').setInputFiles({ name: 'house.png', mimeType: 'image/png', buffer: png })
  await expect(page.getByLabel('Colour 1')).toHaveValue('#004d7f')
  await expect(page.getByTestId('mended')).toHaveCount(0)
  await page
    .getByLabel('Read from a picture')
    .setInputFiles({ name: 'house.txt', mimeType: 'image/png', buffer: Buffer.from('x') })
  await expect(notice(page)).toContainText('“house.txt” is no picture that can be read.')
  await page.getByRole('button', { name: 'Keep and use it' }).click()
  await expect(page.getByTestId('themes').getByRole('button', { name: 'House style' })).toHaveAttribute(
    'aria-pressed',
    'true',
  )
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: 'Hand on' }).click(),
  ])
  expect(download.suggestedFilename()).toBe('house-style.skivel-theme.json')
  const file = readFileSync(await download.path())
  expect(JSON.parse(file.toString())).toMatchObject({ format: 'skivel-theme', colours: ['#004d7f'] })

  await page.goto(`${address()}/w/${await ofDemo(page)}`)
  await expect(edge(page)).toBeVisible()
  await openThemes(page)
  await page
    .getByLabel('A theme file')
    .setInputFiles({ name: 'x.json', mimeType: 'application/json', buffer: Buffer.from('{"title":1}') })
  await expect(notice(page)).toContainText('This is not a theme file')
  await page
    .getByLabel('A theme file')
    .setInputFiles({ name: 'house.json', mimeType: 'application/json', buffer: file })
  await expect(page.getByTestId('themes').getByRole('button', { name: 'House style' })).toHaveAttribute(
    'aria-pressed',
    'true',
  )
  await page.getByRole('button', { name: 'Remove' }).click()
  await expect(page.getByTestId('themes').getByRole('button', { name: 'House style' })).toHaveCount(0)
  await expect(page.getByTestId('themes').getByRole('button', { name: 'Shoreline' })).toHaveAttribute(
    'aria-pressed',
    'true',
  )
})

test('the proof shows the sheet as others see it, and all of that beside it as it is', async ({ page }) => {
  await open(page, await ofDemo(page))
  await expect(edge(page)).toBeVisible()
  await page.getByRole('button', { name: 'Proof' }).click()
  await page.getByRole('menuitem', { name: 'Grey printer' }).click()
  await expect(page.locator('.sheet-proof > svg').first()).toHaveCSS('filter', 'url("#sight-grey")')
  const { x, y } = (await edge(page).boundingBox()) ?? { x: 0, y: 0 }
  const shot = await page.screenshot({ clip: { x, y: y + 4, width: 3, height: 8 } })
  const [red, green, blue] = (await sharp(shot).stats()).channels.map(({ mean }) => Math.round(mean))
  expect(Math.abs((red ?? 0) - (green ?? 255)) + Math.abs((green ?? 0) - (blue ?? 255))).toBeLessThan(4)
  await page.getByRole('button', { name: 'Proof' }).click()
  await page.getByRole('menuitem', { name: 'All side by side' }).click()
  await expect(page.locator('[data-sight] canvas')).toHaveCount(5)
  await expect(page.getByText('Without the cones for green')).toBeVisible()
  await page.keyboard.press('Escape')
  await page.getByRole('button', { name: 'Proof' }).click()
  await page.getByRole('menuitem', { name: 'As it is' }).click()
  await expect(page.locator('.sheet-proof')).toHaveCount(0)
})

test('house colours that are drawn as given and hardly stand out are found, and mended', async ({ page }) => {
  await open(page, await ofDemo(page))
  await openThemes(page)
  await page.getByRole('button', { name: 'Make one of your colours' }).click()
  await page.getByLabel('Colour 1').fill('#ffd400')
  await page.getByLabel('Draw them exactly as given').check()
  await page.getByRole('button', { name: 'Keep and use it' }).click()
  await page.keyboard.press('Escape')
  const finding = page.locator('[data-rule="look/contrast"]')
  await expect(finding).toContainText(
    '#ffd400 of “House style” is 1.4 to 1 on the sheet of “Whole company”; 3 to 1 is the least.',
  )
  const first = card(page, 'Hedda Lauring').locator('path[fill="#ffd400"]')
  await expect(first).toHaveCount(1)
  await finding.getByRole('button', { name: 'Mend its colours' }).click()
  await expect(finding).toHaveCount(0)
  await expect(first).toHaveCount(0)
  await saved(page)
  // Keeping a theme and taking it are one step.
  await sheet(page).focus()
  await page.keyboard.press('Control+z')
  await expect(finding).toBeVisible()
  await page.keyboard.press('Control+z')
  await expect(finding).toHaveCount(0)
  await openThemes(page)
  await expect(page.getByTestId('themes').getByRole('button', { name: 'House style' })).toHaveCount(0)
  await expect(page.getByTestId('themes').getByRole('button', { name: 'Shoreline' })).toHaveAttribute(
    'aria-pressed',
    'true',
  )
})
