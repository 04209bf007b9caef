import AxeBuilder from '@axe-core/playwright'
import sharp from 'sharp'
import type { Page } from '@playwright/test'
import {
  address,
  card,
  COMPANY,
  dragTo,
  expect,
  line,
  middleOf,
  notice,
  ofDemo,
  ofList,
  open,
  outlineText,
  pasteText,
  press,
  saved,
  sheet,
  test,
} from './pages'

const BULLETS = `• Hear of it
    ◦ Weather desk, masters
• Decide
• Tell people
• Look after them
• Learn`

const arrangement = (page: Page, name: string) =>
  page.getByRole('region', { name: 'Arrangements' }).getByRole('button', { name: new RegExp(`^${name}`) })
const texts = (page: Page) => sheet(page).locator('g[data-item] text').allTextContents()

/** A company’s workspace with bullets pasted on its sheet. */
async function openPasted(page: Page): Promise<void> {
  await open(page, await ofList(page, COMPANY))
  await sheet(page).focus()
  await pasteText(page, BULLETS)
  await expect(card(page, 'Look after them')).toBeVisible()
}

test('bullets pasted on any sheet become a figure, which becomes text again and stays after a reload', async ({
  page,
}) => {
  await openPasted(page)
  await expect(notice(page)).toContainText('What was pasted is a figure')
  expect(await outlineText(page)).toBe(
    'Hear of it\n  Weather desk, masters\nDecide\nTell people\nLook after them\nLearn',
  )
  await page.getByRole('button', { name: 'Copy as text' }).click()
  expect(await page.evaluate(() => navigator.clipboard.readText())).toContain(
    'Hear of it\n  Weather desk, masters\nDecide',
  )
  await saved(page)
  await page.reload()
  await expect(card(page, 'Learn')).toBeVisible()
})

test('lines are looked at in another arrangement, taken in it, found by a word, and switched back', async ({
  page,
}) => {
  await openPasted(page)
  const began = Date.now()
  await expect(page.locator('[data-arrangement] svg')).toHaveCount(40)
  expect(Date.now() - began, 'all previews').toBeLessThan(6000)
  const before = await sheet(page).locator('[data-item] path').count()
  // A hover shows it, and changes nothing.
  await page.getByRole('searchbox', { name: 'Search arrangements' }).fill('funnel')
  await arrangement(page, 'Funnel').hover()
  await expect.poll(() => sheet(page).locator('[data-item] path').count()).toBeGreaterThan(before)
  await expect(page.getByRole('button', { name: /^Cards ▾/ })).toBeVisible()
  await page.mouse.move(640, 20)
  await expect.poll(() => sheet(page).locator('[data-item] path').count()).toBe(before)
  // By keyboard: the search leads to what was found, arrows walk, Enter takes.
  await page.getByRole('searchbox', { name: 'Search arrangements' }).fill('cycle')
  await page.keyboard.press('Enter')
  await expect(arrangement(page, 'Ring')).toBeFocused()
  await page.keyboard.press('ArrowRight')
  await page.keyboard.press('ArrowLeft')
  await page.keyboard.press('Enter')
  await expect(page.getByRole('button', { name: /^Ring ▾/ })).toBeVisible()
  await page.getByRole('searchbox', { name: 'Search arrangements' }).fill('no such thing')
  await expect(page.getByText('No arrangement is known by these words.')).toBeVisible()
  await sheet(page).focus()
  await page.keyboard.press('Control+z')
  await expect(page.getByRole('button', { name: /^Cards ▾/ })).toBeVisible()
})

test('parts are reordered by dragging, added and typed into on the sheet, and set a level down', async ({ page }) => {
  await openPasted(page)
  await dragTo(page, 'Learn', 'Decide')
  await page.mouse.up()
  await expect
    .poll(() => outlineText(page))
    .toBe('Hear of it\n  Weather desk, masters\nLearn\nDecide\nTell people\nLook after them')
  await page.keyboard.press('n')
  await page.keyboard.type('Write it down')
  await page.keyboard.press('Enter')
  await expect.poll(() => outlineText(page)).toContain('Learn\nWrite it down\nDecide')
  await page.keyboard.press('Alt+ArrowRight')
  await expect.poll(() => outlineText(page)).toContain('Learn\n  Write it down\nDecide')
  await saved(page)
})

test('a figure turns into a process, and its words are kept', async ({ page }) => {
  await openPasted(page)
  await line(page, 'Learn').click()
  await page.getByRole('button', { name: 'Make something else of these lines' }).click()
  await page.getByRole('menuitem', { name: 'Steps' }).click()
  await expect(card(page, 'Tell people')).toBeVisible()
  await expect(page.getByTestId('headline')).toContainText('step')
  await expect.poll(async () => (await texts(page)).join(' ')).toContain('Look after')
})

test('sets are gathered from the facts, one more is added, and who is in several is told', async ({ page }) => {
  await page.goto(`${address()}/w/${await ofDemo(page)}#view=figure-who-on-board`)
  await expect(card(page, 'Liv Harstad')).toBeVisible()
  await expect(page.getByTestId('headline')).toContainText('areas are off by')
  await line(page, 'Crowd handling').click()
  await page.keyboard.press('Control+a')
  await page.keyboard.type('Ports  = people with Crowd handling')
  await expect(card(page, 'Ports')).toBeVisible()
  await page.keyboard.press('Enter')
  await page.keyboard.type('Booking  = systems used by Sailing cancelled')
  await expect(card(page, 'Berth')).toBeVisible()
  await expect(page.getByTestId('headline')).toContainText('4 parts')
})

test('a picture is dropped on a part, shown cropped to fit, and another part of it shown by pulling', async ({
  page,
}) => {
  await openPasted(page)
  await page.getByRole('searchbox', { name: 'Search arrangements' }).fill('framed')
  await arrangement(page, 'Framed pictures').click()
  await expect(page.getByRole('button', { name: /^Framed pictures ▾/ })).toBeVisible()
  const png = await sharp({ create: { width: 900, height: 300, channels: 3, background: '#336699' } })
    .png()
    .toBuffer()
  const { x, y } = await middleOf(card(page, 'Decide'))
  await sheet(page).evaluate(
    (element, { at, bytes }) => {
      const data = new DataTransfer()
      data.items.add(new File([new Uint8Array(bytes)], 'quay.png', { type: 'image/png' }))
      element.dispatchEvent(
        new DragEvent('drop', { dataTransfer: data, clientX: at.x, clientY: at.y, bubbles: true, cancelable: true }),
      )
    },
    { at: { x, y }, bytes: [...png] },
  )
  const image = sheet(page).locator('g[data-item] svg image')
  /** The share of the picture that lies to the left of what is seen. */
  const hidden = () =>
    image.evaluate((one) => Math.round((100 * -Number(one.getAttribute('x'))) / Number(one.getAttribute('width'))))
  const first = await hidden()
  expect(first).toBeGreaterThan(5)
  await press(page, 'Decide')
  const dot = sheet(page).locator('circle[fill="#fff"]')
  await expect(dot).toBeVisible()
  const from = await middleOf(dot)
  await page.mouse.move(from.x, from.y)
  await page.mouse.down()
  await page.mouse.move(from.x - 20, from.y, { steps: 3 })
  await page.mouse.move(from.x - 60, from.y, { steps: 3 })
  await page.mouse.up()
  await expect.poll(hidden).toBeLessThan(first - 3)
  const then = await hidden()
  await saved(page)
  await page.reload()
  await expect.poll(hidden).toBe(then)
})

test('a concept is linked to another by dragging, its phrase typed at once, and a map is written as an outline', async ({
  page,
}) => {
  await page.goto(`${address()}/w/${await ofDemo(page)}#view=figure-what-weather-does`)
  await expect(card(page, 'Weather')).toBeVisible()
  await expect(page.getByTestId('headline')).toContainText('links')
  await page.locator('input[data-line][value="Weather"]').click()
  const from = await sheet(page).locator('[data-selected]').first().boundingBox()
  const to = await middleOf(card(page, 'Sea'))
  if (!from) throw new Error('nothing is selected')
  await page.mouse.move(from.x + from.width / 2, from.y + from.height - 2)
  await page.mouse.down()
  await page.mouse.move(to.x - 20, to.y, { steps: 4 })
  await page.mouse.move(to.x, to.y, { steps: 4 })
  await page.mouse.up()
  await expect(sheet(page).getByRole('textbox', { name: 'Phrase' })).toBeFocused()
  await page.keyboard.type('are seen by')
  await page.keyboard.press('Enter')
  await expect.poll(() => outlineText(page)).toContain('are seen by: Sea')
  await sheet(page).focus()
  await page.keyboard.press('Control+z')
  await page.keyboard.press('Control+z')
  await expect.poll(() => outlineText(page)).not.toContain('are seen by')
  await saved(page)
})

test('a view has a paper: its edge is shown, arrangements fill it, and a size of one’s own is read or refused in words', async ({
  page,
}) => {
  await openPasted(page)
  await expect(page.getByTestId('paper')).toContainText('A4 across · smallest text')
  await page.getByRole('button', { name: 'Look of the picture' }).click()
  await page.getByLabel('Paper').selectOption('A5')
  await expect(page.getByTestId('paper')).toContainText('A5 across')
  await page.getByLabel('Across').uncheck()
  await expect(page.getByTestId('paper')).toContainText('A5 upright')
  await page.getByLabel('Paper').selectOption('a size of its own')
  await page.getByRole('textbox', { name: 'Size' }).fill('210 metres')
  await expect(page.getByText('Two sides in mm or px')).toBeVisible()
  await page.getByRole('textbox', { name: 'Size' }).fill('210 × 99 mm')
  await expect(page.getByTestId('paper')).toContainText('210 × 99 mm')
  await page.getByLabel('Paper').selectOption('none')
  await expect(page.getByTestId('paper')).toHaveCount(0)
  await page.keyboard.press('Escape')
  const { violations } = await new AxeBuilder({ page }).analyze()
  expect(violations.map(({ id, nodes }) => [id, nodes.map(({ html }) => html.slice(0, 120))])).toEqual([])
})
