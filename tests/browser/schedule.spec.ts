import { readFileSync } from 'node:fs'
import type { Page } from '@playwright/test'
import ICAL from 'ical.js'
import { Model } from '../../src/core/model'
import {
  address,
  expect,
  line,
  middleOf,
  newView,
  notice,
  ofDemo,
  ofModel,
  openHome,
  outlineText,
  pasteText,
  saved,
  sheet,
  test,
} from './pages'

const PLAN = `Yard
  Dig  3d
  Pour  4d  after 1.1
  Dry  2d  after 1.2
milestone: Open  after 1.3`

/** A plan that begins on a Monday far from any holiday, pasted into an empty workspace. */
async function openPlan(page: Page): Promise<void> {
  await page.goto(`${address()}/w/${await ofModel(page, Model.of({ name: 'Yard' }))}`)
  await page.getByTestId('day').click()
  await page.keyboard.type('2026-11-02')
  await page.keyboard.press('Enter')
  await newView(page, 'Time')
  await page.getByRole('button', { name: 'Write the first line' }).click()
  await pasteText(page, PLAN)
  await expect(bar(page, 0)).toBeAttached()
  await axis(page, 'days')
  await sheet(page).focus()
  await page.keyboard.press('Escape')
}

/** Bars carry the identity of their task; the row of the outline says which it is. */
const bar = (page: Page, row: number) =>
  sheet(page).locator('g[data-item]:not([data-item^="row "]):not([data-item*=" "])').nth(row)
const row = (page: Page, name: string) => sheet(page).locator('g[data-item^="row "]', { hasText: name })

async function barOf(page: Page, name: string) {
  const id = (await row(page, name).getAttribute('data-item'))?.slice(4)
  return sheet(page).locator(`g[data-item="${id}"]`)
}

async function axis(page: Page, unit: string): Promise<void> {
  await page.getByRole('button', { name: 'Look of the picture' }).click()
  await page.getByLabel('Axis').selectOption(unit)
  await page.keyboard.press('Escape')
}

async function finishOf(page: Page, name: string): Promise<string> {
  await page.getByRole('tab', { name: /^Tasks/ }).click()
  const cell = page.locator('.ag-row', { hasText: name }).locator('[col-id="finished"]')
  return (await cell.innerText()).trim()
}

test('a plan is begun from a pasted list, drawn as bars, and stays after a reload', async ({ page }) => {
  await openPlan(page)
  await expect(page.getByTestId('headline')).toHaveText('3 tasks, ends 12 Nov 2026')
  expect(await outlineText(page)).toBe(PLAN)
  await line(page, 'Pour').click()
  await page.keyboard.press('End')
  await page.keyboard.press('Control+a')
  await page.keyboard.type('Pour  6d  after 1.1')
  await page.keyboard.press('Escape')
  await expect(page.getByTestId('headline')).toHaveText('3 tasks, ends 16 Nov 2026')
  await saved(page)
  await page.reload()
  await expect(page.getByTestId('headline')).toHaveText(/ends 16 Nov 2026/)
})

test('what is reckoned follows in the register and in the margin, and rows are sorted by it', async ({ page }) => {
  await openPlan(page)
  await page.getByRole('tab', { name: /^Tasks/ }).click()
  const cell = (name: string, column: string) =>
    page.locator('.ag-row', { hasText: name }).locator(`[col-id="${column}"]`)
  await expect(cell('Pour', 'finished')).toHaveText('2026-11-10')
  await cell('Pour', 'duration').dblclick()
  await page.keyboard.press('Control+a')
  await page.keyboard.type('6d')
  await page.keyboard.press('Enter')
  await expect(cell('Pour', 'finished')).toHaveText('2026-11-12')
  await expect(cell('Yard', 'duration')).toHaveText('11d')
  await cell('Dry', 'finished').click()
  await expect(page.getByTestId('facts').locator('[data-field="finished"]')).toHaveValue('2026-11-16')
  const finishes = async () => {
    const rows = await page.locator('.ag-row[row-index]').all()
    const told = await Promise.all(
      rows.map(async (one) => [
        Number(await one.getAttribute('row-index')),
        await one.locator('[col-id="finished"]').innerText(),
      ]),
    )
    return told.toSorted(([a], [b]) => Number(a) - Number(b)).map(([, text]) => text)
  }
  const stated = await finishes()
  const latestFirst = stated.toSorted().toReversed()
  expect(stated).not.toEqual(latestFirst)
  await page.getByRole('columnheader', { name: 'Finish' }).click()
  await page.getByRole('columnheader', { name: 'Finish' }).click()
  await expect.poll(finishes).toEqual(latestFirst)
})

test('a bar that is slid pushes what follows, says so before, and undo brings all of it back', async ({ page }) => {
  await openPlan(page)
  const { x, y } = await middleOf(await barOf(page, 'Dig'))
  await page.mouse.move(x, y)
  await page.mouse.down()
  await page.mouse.move(x + 10, y, { steps: 3 })
  await page.mouse.move(x + 48, y, { steps: 6 })
  const words = page.locator('[data-verdict=yes]')
  await expect(words).toContainText('“Dig” starts 4 Nov 2026')
  await expect(words).toContainText('Pour: 10 Nov 2026 → 12 Nov 2026')
  await expect(words).toContainText('The plan ends 16 Nov 2026 instead of 12 Nov 2026.')
  await page.mouse.up()
  await expect(page.getByTestId('headline')).toHaveText(/ends 16 Nov 2026/)
  await page.keyboard.press('Control+z')
  await expect(page.getByTestId('headline')).toHaveText(/ends 12 Nov 2026/)
})

test('a link is drawn from end to end, and one that would close a circle is refused', async ({ page }) => {
  await openPlan(page)
  const pullFrom = async (name: string, end: 'right' | 'left', to: string) => {
    const [a, b] = [await (await barOf(page, name)).boundingBox(), await (await barOf(page, to)).boundingBox()]
    if (!a || !b) throw new Error('no bars')
    await page.mouse.move(end === 'right' ? a.x + a.width + 6 : a.x - 6, a.y + a.height / 2)
    await page.mouse.down()
    await page.mouse.move(b.x + 20, b.y + 20, { steps: 4 })
    await page.mouse.move(b.x + 4, b.y + b.height / 2, { steps: 4 })
  }
  await pullFrom('Dig', 'left', 'Dry')
  await expect(page.locator('[data-verdict=yes]')).toContainText('“Dry” starts after the start of “Dig”')
  await page.mouse.up()
  await expect.poll(() => outlineText(page)).toContain('Dry  2d  after 1.2, 1.1SS')
  await pullFrom('Dry', 'right', 'Dig')
  await expect(page.locator('[data-verdict=no]')).toContainText('circle')
  await page.mouse.up()
  expect(await outlineText(page)).not.toContain('Dig  3d  after')
})

test('a bar is stretched by its end, and its progress told by its lower edge', async ({ page }) => {
  await openPlan(page)
  const box = await (await barOf(page, 'Pour')).boundingBox()
  if (!box) throw new Error('no bar')
  await page.mouse.move(box.x + box.width - 3, box.y + 6)
  await page.mouse.down()
  await page.mouse.move(box.x + box.width + 20, box.y + 6, { steps: 5 })
  await expect(page.locator('[data-verdict=yes]')).toContainText('“Pour” takes 5d')
  await page.mouse.up()
  await expect.poll(() => outlineText(page)).toContain('Pour  5d')
})

test('the axis goes from days to years, and a baseline shows what has slipped since', async ({ page }) => {
  await openPlan(page)
  const wide = (await (await barOf(page, 'Pour')).boundingBox())?.width ?? 0
  await axis(page, 'months')
  await expect.poll(async () => (await (await barOf(page, 'Pour')).boundingBox())?.width ?? 0).toBeLessThan(wide / 5)
  await expect(sheet(page).locator('text', { hasText: 'Nov' }).first()).toBeVisible()
  await axis(page, 'days')
  await page.keyboard.press('Control+k')
  await page.keyboard.type('Take a baseline')
  await page.keyboard.press('Enter')
  await line(page, 'Dig').click()
  await page.keyboard.press('Control+a')
  await page.keyboard.type('Dig  5d')
  await page.keyboard.press('Escape')
  await expect(page.getByTestId('headline')).toHaveText('3 tasks, ends 16 Nov 2026, 2d late')
})

test('Enter makes a line whose words give way to what is typed', async ({ page }) => {
  await openPlan(page)
  await line(page, 'Dig').click()
  await page.keyboard.press('Enter')
  await expect(line(page, 'New task')).toBeFocused()
  await page.keyboard.type('Measure  2d')
  await page.keyboard.press('Enter')
  await page.keyboard.type('Mark  1d')
  await page.keyboard.press('Escape')
  await expect.poll(() => outlineText(page)).toMatch(/Measure {2}2d\n\s*Mark {2}1d/)
  expect(await outlineText(page)).not.toContain('New task')
})

test('a timeline is written as an outline, and a point is pulled along it', async ({ page }) => {
  await page.goto(`${address()}/w/${await ofModel(page, Model.of({ name: 'Town' }))}`)
  await newView(page, 'Time')
  await page.getByRole('button', { name: 'Picture: Bars' }).click()
  await page.getByRole('menuitem', { name: 'Timeline' }).click()
  await page.getByRole('button', { name: 'Write the first line' }).click()
  await pasteText(page, '1880  Railway\n  May 1902  Trams\n1880..1935  Steam\n1950  Airport')
  const airport = sheet(page).locator('g[data-item]', { hasText: 'Airport' })
  await expect(airport).toBeVisible()
  await expect(page.getByTestId('headline')).toHaveText('3 events, 1 era')
  await page.getByRole('button', { name: 'Fit', exact: true }).click()
  const { x, y } = await middleOf(airport.locator('text', { hasText: 'Airport' }))
  await page.mouse.move(x, y)
  await page.mouse.down()
  await page.mouse.move(x - 60, y, { steps: 6 })
  await expect(page.locator('[data-verdict=yes]')).toContainText(/“Airport” in 19[34]\d/)
  await page.mouse.up()
  await expect.poll(() => outlineText(page)).toMatch(/19[34]\d {2}Airport/)
  await page.keyboard.press('Control+z')
  await expect.poll(() => outlineText(page)).toContain('1950  Airport')
})

test('the demo’s plan is saved as iCalendar, which another reader understands', async ({ page }) => {
  await page.goto(`${address()}/w/${await ofDemo(page)}`)
  await page.getByRole('navigation').getByRole('button', { name: 'Dry dock and new ticketing', exact: true }).click()
  await expect(row(page, 'Order steel plates')).toBeVisible()
  await expect.poll(() => finishOf(page, 'Order steel plates')).toBe('2026-10-15')
  await page.getByRole('button', { name: 'Save as a file' }).click()
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('menuitem', { name: /iCalendar/ }).click(),
  ])
  const calendar = new ICAL.Component(ICAL.parse(readFileSync(await download.path(), 'utf8')) as unknown[])
  const events = calendar.getAllSubcomponents('vevent').map((one) => new ICAL.Event(one))
  const plates = events.find(({ summary }) => summary === 'Order steel plates')
  expect(`${plates?.startDate.toString()} to ${plates?.endDate.toString()}`).toBe('2026-10-05 to 2026-10-16')
  expect(events.length).toBeGreaterThan(50)
})

/** The demo's view of that name, as a whole. */
async function openView(page: Page, title: string): Promise<void> {
  await page.goto(`${address()}/w/${await ofDemo(page)}`)
  await page.getByRole('navigation').getByRole('button', { name: title, exact: true }).click()
  await expect(page.getByRole('heading', { name: title })).toBeVisible()
}
const event = (page: Page, words: string) => sheet(page).locator('g[data-item]', { hasText: words }).first()

test('a link is taken away at its arrow', async ({ page }) => {
  await openPlan(page)
  const box = await (await barOf(page, 'Pour')).boundingBox()
  if (!box) throw new Error('no bar')
  await page.mouse.click(box.x - 3, box.y + box.height / 2)
  await page.keyboard.press('Delete')
  await expect.poll(() => outlineText(page)).not.toContain('after 1.1')
  await expect(page.getByTestId('headline')).toHaveText('3 tasks, ends 9 Nov 2026')
  await page.keyboard.press('Control+z')
  await expect.poll(() => outlineText(page)).toBe(PLAN)
})

test('the load of each person stands beneath the bars, and follows the plan', async ({ page }) => {
  await openPlan(page)
  await expect(sheet(page).getByText('Load by week')).toHaveCount(0)
  await line(page, 'Pour').click()
  await page.keyboard.press('Control+a')
  await page.keyboard.type('Pour  4d  @ Ada  after 1.1')
  await page.keyboard.press('Escape')
  const load = sheet(page).locator('g[data-item^="load "]')
  await expect(load).toHaveText('Ada40 %')
  const { x, y } = await middleOf(load)
  await page.mouse.click(x, y)
  await expect(page.getByRole('complementary').getByRole('heading', { name: 'Ada' })).toBeVisible()
  await page.getByRole('button', { name: 'Look of the picture' }).click()
  await page.getByRole('checkbox', { name: 'Load' }).uncheck()
  await page.keyboard.press('Escape')
  await expect(load).toHaveCount(0)
})

test('the same plan is drawn as a network and as months', async ({ page }) => {
  await openPlan(page)
  const picture = async (from: string, to: string) => {
    await page.getByRole('button', { name: `Picture: ${from}` }).click()
    await page.getByRole('menuitem', { name: to }).click()
  }
  await picture('Bars', 'Network')
  await expect(event(page, 'Pour')).toContainText('4d')
  await picture('Network', 'Months')
  await expect(sheet(page)).toContainText('November 2026')
  await expect(event(page, 'Open')).toBeVisible()
  await picture('Months', 'Bars')
  await expect(row(page, 'Pour')).toBeVisible()
})

test('an era is stretched by its end, and an event is put below the line; both are undone', async ({ page }) => {
  await openView(page, '1887 to 2028')
  await page.getByRole('button', { name: 'Fit', exact: true }).click()
  const box = await event(page, 'Motor ferries').locator('rect').first().boundingBox()
  if (!box) throw new Error('no era')
  await page.mouse.move(box.x + box.width - 2, box.y + box.height / 2)
  await page.mouse.down()
  await page.mouse.move(box.x + box.width + 30, box.y + box.height / 2, { steps: 6 })
  await expect(page.locator('[data-verdict=yes]')).toContainText(/“Motor ferries” from 1936 to 196\d/)
  await page.mouse.up()
  await expect.poll(() => outlineText(page)).toMatch(/1936\.\.196\d {2}Motor ferries/)
  await page.keyboard.press('Control+z')
  await expect.poll(() => outlineText(page)).toContain('1936..1957  Motor ferries')

  const timetable = event(page, 'First summer timetable').locator('text', { hasText: 'First summer' })
  const { x, y } = await middleOf(timetable)
  await page.mouse.move(x, y)
  await page.mouse.down()
  await page.mouse.move(x, y + 110, { steps: 6 })
  await expect(page.locator('[data-verdict=yes]')).toContainText('Put “First summer timetable” below the line')
  await page.mouse.up()
  await expect.poll(async () => (await middleOf(timetable)).y).toBeGreaterThan(y + 60)
  await page.keyboard.press('Control+z')
  await expect.poll(async () => Math.abs((await middleOf(timetable)).y - y)).toBeLessThan(3)
})

test('pictures stand on the timeline, and come along when the facts are saved and opened again', async ({ page }) => {
  await openView(page, '1887 to 2028')
  const images = sheet(page).locator('image')
  await page.getByRole('button', { name: 'Fit', exact: true }).click()
  await expect(images).toHaveCount(6)
  await page.getByRole('button', { name: 'Hand out' }).click()
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('link', { name: 'Save the facts' }).click(),
  ])
  await openHome(page)
  await page.locator('input[type=file]').setInputFiles(await download.path())
  await page.getByRole('navigation').getByRole('button', { name: '1887 to 2028', exact: true }).click()
  await page.getByRole('button', { name: 'Fit', exact: true }).click()
  await expect(images).toHaveCount(6)
  const source = await images.first().getAttribute('href')
  const answer = await page.evaluate(async (at) => {
    const { status, headers } = await fetch(at)
    return [status, headers.get('content-type')]
  }, source ?? '')
  expect(answer).toEqual([200, 'image/jpeg'])
})

test('a calendar is brought in as tasks with its dates, and brought in again it changes only what moved', async ({
  page,
}) => {
  await openPlan(page)
  const entry = (day: string) =>
    `BEGIN:VEVENT\r\nUID:harbour-1\r\nDTSTART;VALUE=DATE:${day}\r\nDTEND;VALUE=DATE:20261119\r\nSUMMARY:Harbour closed\r\nEND:VEVENT\r\n`
  const bringIn = async (text: string) => {
    await page.getByRole('button', { name: 'Bring in', exact: true }).click()
    const [chooser] = await Promise.all([
      page.waitForEvent('filechooser'),
      page.getByRole('menuitem', { name: 'An iCalendar file' }).click(),
    ])
    await chooser.setFiles({ name: 'harbour.ics', mimeType: 'text/calendar', buffer: Buffer.from(text) })
  }
  const agree = () => page.getByRole('dialog').locator('button.btn-primary').click()
  const calendar = (day: string) =>
    `BEGIN:VCALENDAR\r\nVERSION:2.0\r\nPRODID:-//Marram//EN\r\n${entry(day)}END:VCALENDAR\r\n`
  await bringIn(calendar('20261116'))
  await expect(page.getByRole('dialog')).toContainText('1 new, 0 changed')
  await agree()
  await expect.poll(() => outlineText(page)).toContain('Harbour closed')
  await bringIn(calendar('20261117'))
  await expect(page.getByRole('dialog')).toContainText('0 new, 1 changed')
  await agree()
  await expect.poll(() => finishOf(page, 'Harbour closed')).toBe('2026-11-18')
  await bringIn('no calendar')
  await expect(notice(page)).toContainText('This is no calendar')
})

test('what a task comes after is text and chips: one leads there, its cross takes it off, typing sets both', async ({
  page,
}) => {
  await openPlan(page)
  await page.getByRole('tab', { name: /^Tasks/ }).click()
  const after = (name: string) => page.locator('.ag-row', { hasText: name }).locator('[col-id="after"]')
  await after('Dry').dblclick()
  await page.keyboard.press('Control+a')
  await page.keyboard.type('1.2, 1.1SS+2d')
  await page.keyboard.press('Enter')
  const chips = after('Dry').getByRole('button', { name: /^1\./ })
  await expect(chips).toHaveText(['1.2', '1.1SS+2d'])
  await chips.nth(1).click()
  await expect(page.getByRole('complementary').getByRole('heading', { name: 'Dig' })).toBeVisible()
  await chips.nth(0).hover()
  await after('Dry').getByRole('button', { name: 'Take off 1.2 Pour' }).click()
  await expect(chips).toHaveText(['1.1SS+2d'])
  await page.keyboard.press('Control+z')
  await expect(chips.filter({ hasText: '1.2' })).toBeVisible()
  await chips.filter({ hasText: '1.2' }).click()
  // The margin names what its chips lead to.
  await expect(page.getByTestId('facts').getByRole('button', { name: '1.1 Dig', exact: true })).toBeVisible()
})
