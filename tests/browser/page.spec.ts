import type { Locator, Page } from '@playwright/test'
import { Model } from '../../src/core/model'
import { day, facts, position, reports } from '../facts'
import { address, create, expect, fetched, line, newView, ofDemo, ofModel, open, press, sheet, test } from './pages'

const sizeOf = async (one: Locator) => (await one.boundingBox()) ?? { x: 0, y: 0, width: 0, height: 0 }
const share = async (page: Page) => {
  const { width, height } = await sizeOf(sheet(page))
  return (width * height) / (1280 * 800)
}
const contents = (page: Page) => page.getByRole('navigation', { name: 'Contents' })

test('one key gives the page to the picture and takes it back, remembered by view', async ({ page }) => {
  await page.setViewportSize({ width: 1280, height: 800 })
  const id = await ofDemo(page)
  await open(page, id)
  const before = await share(page)
  await sheet(page).focus()
  await page.keyboard.press('z')
  await expect.poll(() => share(page)).toBeGreaterThan(0.75)
  await expect(contents(page)).toContainText('1.1')
  await expect(page.getByTestId('margin').getByRole('button', { name: 'Unfold the margin' })).toContainText('errors')
  await expect(page.getByRole('tab', { name: 'Outline' })).toBeVisible()
  await contents(page).getByRole('button', { name: 'Port services' }).click()
  await expect(page.getByRole('heading', { name: 'Port services' })).toBeVisible()
  await expect.poll(() => share(page)).toBeLessThan(0.5)
  await contents(page).getByRole('button', { name: 'Whole company', exact: true }).click()
  await expect.poll(() => share(page)).toBeGreaterThan(0.75)
  await page.reload()
  await expect(page.locator('[data-item]').first()).toBeVisible()
  await expect.poll(() => share(page)).toBeGreaterThan(0.75)
  await sheet(page).focus()
  await page.keyboard.press('z')
  await expect.poll(() => share(page)).toBeLessThan(before + 0.02)
})

test('each part folds by its key and by a click on its edge, and unfolds for what is asked of it', async ({ page }) => {
  await open(page, await ofDemo(page))
  const wide = (await sizeOf(contents(page))).width
  await sheet(page).focus()
  await page.keyboard.press('Shift+C')
  await expect.poll(async () => (await sizeOf(contents(page))).width).toBeLessThan(60)
  const edge = await sizeOf(page.getByRole('separator', { name: 'Edge of the contents' }))
  await page.mouse.click(edge.x + 0.5, edge.y + 300)
  await expect.poll(async () => (await sizeOf(contents(page))).width).toBe(wide)
  await page.mouse.click(edge.x + wide - 48 + 0.5, edge.y + 300)
  await expect.poll(async () => (await sizeOf(contents(page))).width).toBe(48)

  await sheet(page).focus()
  await page.keyboard.press('Shift+D')
  await expect(page.locator('[data-dateline]')).toHaveCount(0)
  await page.keyboard.press('d')
  await expect(page.locator('[data-dateline]')).toBeFocused()

  await sheet(page).focus()
  await page.keyboard.press('Shift+F')
  await expect(page.getByTestId('findings')).toHaveCount(0)
  await page.keyboard.press('f')
  await expect(page.getByTestId('findings').first()).toBeVisible()
  await expect(page.getByTestId('margin').locator(':focus')).toBeVisible()

  await sheet(page).focus()
  await page.keyboard.press('Shift+R')
  const registers = page.getByRole('region', { name: 'Registers' })
  await expect.poll(async () => (await sizeOf(registers)).height).toBeLessThan(40)
  await page.getByRole('tab', { name: 'People' }).click()
  await expect.poll(async () => (await sizeOf(registers)).height).toBeGreaterThan(150)
})

test('an edge is pulled to a size, folds where it is pulled to nothing, and is moved by keys', async ({ page }) => {
  await open(page, await ofDemo(page))
  const line = page.getByRole('separator', { name: 'Edge of the margin' })
  const margin = page.locator('#margin-panel')
  const before = (await sizeOf(margin)).width
  const pull = async (by: number) => {
    const at = await sizeOf(line)
    await page.mouse.move(at.x + 0.5, at.y + 300)
    await page.mouse.down()
    await page.mouse.move(at.x + 0.5 + by, at.y + 300, { steps: 5 })
    await page.mouse.up()
  }
  await pull(-60)
  await expect.poll(async () => (await sizeOf(margin)).width).toBe(before + 60)
  await line.focus()
  await page.keyboard.press('ArrowRight')
  await expect.poll(async () => (await sizeOf(margin)).width).toBe(before + 44)
  await pull(300)
  await expect.poll(async () => (await sizeOf(margin)).width).toBe(40)
  await line.focus()
  await page.keyboard.press('Enter')
  await expect.poll(async () => (await sizeOf(margin)).width).toBeGreaterThanOrEqual(220)
})

test('at 1024 px what can be done with a register is not cut off', async ({ page }) => {
  await page.setViewportSize({ width: 1024, height: 768 })
  await open(page, await ofDemo(page))
  const registers = await sizeOf(page.getByRole('region', { name: 'Registers' }))
  for (const name of ['Copy as text', 'Save as a file', 'Bring in']) {
    const { x, width } = await sizeOf(page.getByRole('button', { name, exact: true }))
    expect(x + width, name).toBeLessThanOrEqual(registers.x + registers.width)
  }
  await page.getByRole('tab', { name: 'Numbers' }).click()
  await expect(page.getByTestId('numbers-panel')).toBeVisible()
  // A register is named whole or stands in the list of all; the one shown is always there.
  await contents(page).getByRole('button', { name: 'Sailing cancelled', exact: true }).click()
  await page.getByRole('button', { name: 'All registers' }).click()
  await page.getByRole('menuitem', { name: 'Systems' }).click()
  await expect(page.getByRole('tab', { name: /^Systems/, selected: true })).toBeInViewport({ ratio: 1 })
  const bar = await sizeOf(page.getByRole('tablist', { name: 'Registers' }))
  for (const tab of await page.getByRole('tab').all()) {
    const { x, y, width } = await sizeOf(tab)
    if (y < bar.y + bar.height - 2) expect(x + width).toBeLessThanOrEqual(bar.x + bar.width + 1)
  }
})

test('a picture larger than the sheet has an overview that is pulled along, and folds', async ({ page }) => {
  await open(page, await ofDemo(page))
  const overview = page.getByTestId('overview')
  await expect(overview).toBeVisible()
  const first = page.locator('g[data-item]').first()
  const before = (await sizeOf(first)).x
  const { x, y, width, height } = await sizeOf(overview)
  await page.mouse.move(x + width / 2, y + height / 2)
  await page.mouse.down()
  await page.mouse.move(x + 4, y + height / 2, { steps: 4 })
  await page.mouse.up()
  await expect.poll(async () => (await sizeOf(first)).x).toBeGreaterThan(before + 50)
  await overview.getByTitle('Fold the overview').click()
  await expect(overview).toHaveCount(0)
  await page.reload()
  await page.getByRole('button', { name: 'Overview' }).click()
  await expect(overview).toBeVisible()
  await page.getByRole('button', { name: 'Fit', exact: true }).click()
  await expect(overview).toHaveCount(0)
})

/** Thirty positions report to one that ends before they do. */
const ending: Model = facts(
  position('top', { name: 'Head' }),
  position('ends', { name: 'Lead', to: day('2099-12-31') }),
  reports('ends', 'top'),
  ...Array.from({ length: 30 }, (_, i) => [position(`r${i}`, { name: `Post ${i}` }), reports(`r${i}`, 'ends')]).flat(),
)

const both = (a: Model, b: Model): Model =>
  Model.of({
    entities: [...a.entities.values(), ...b.entities.values()],
    relations: [...a.relations.values(), ...b.relations.values()],
    views: a.views.values(),
  })

test('many findings of one rule are one line, mended as one change that is shown first, or accepted together', async ({
  page,
}) => {
  await page.goto(`${address()}/w/${await ofModel(page, Model.of({ ...partsOf(ending), name: 'Many' }))}`)
  const group = page.locator('[data-group="org/manager-not-in-force"]')
  await expect(group).toContainText('30')
  await expect(group.getByText('still reports to it').first()).toHaveCount(0)
  await group.getByRole('button', { name: /^Manager not there/ }).click()
  await expect(group).toContainText('Ends before a report does')
  await group.getByRole('button', { name: 'Mend all…' }).click()
  const question = page.getByRole('dialog')
  await expect(question).toContainText('Mend 30 of “Manager not there for a report”?')
  await expect(question).toContainText('Hand over to “Head”')
  await question.getByRole('button', { name: 'Mend', exact: true }).click()
  await expect(group).toHaveCount(0)
  await page.keyboard.press('Control+z')
  await expect(group).toContainText('30')
  await group.getByRole('button', { name: 'Accept all…' }).click()
  await group.getByLabel('Reason').fill('Known until then')
  await group.getByRole('button', { name: 'Accept it' }).click()
  await expect(group).toHaveCount(0)
  await expect(page.getByTestId('accepted')).toContainText('30 accepted')
})

test('findings are filtered by chapter and by when they come about', async ({ page }) => {
  const late = facts(
    ...Array.from({ length: 8 }, (_, i) => position(`p${i}`, { name: `Late ${i}` })),
    ...Array.from({ length: 8 }, (_, i) => reports(`p${i}`, `p${i}`, { from: day('2099-01-01') })),
  )
  const id = await ofModel(page, Model.of({ ...partsOf(both(ending, late)), name: 'Many' }))
  await page.goto(`${address()}/w/${id}`)
  const self = page.locator('[data-group="org/self-report"]')
  const ends = page.locator('[data-group="org/manager-not-in-force"]')
  await expect(self).toContainText('8')
  await expect(ends).toContainText('30')
  const days = page.getByLabel('Days of the findings').first()
  await days.selectOption('later')
  await expect(ends).toHaveCount(0)
  await expect(self).toContainText('8')
  await days.selectOption('now')
  await expect(ends).toContainText('30')
  await expect(self).toHaveCount(0)
  await days.selectOption('earlier')
  await expect(page.getByText('None of them is such a finding.')).toBeVisible()
  // What leaves findings out stays there to be undone when few are left.
  const now = (await (await fetched(page, `${address()}/api/workspaces/${id}`)).json()) as { revision: number }
  const all = both(ending, late)
  const gone = [
    ...[...all.relations.values()]
      .filter(({ source }) => source !== 'p7')
      .map((tie) => ({ do: 'remove-relation', id: tie.id })),
    ...[...all.entities.keys()].filter((one) => one !== 'p7').map((one) => ({ do: 'remove-entity', id: one })),
  ]
  await page.request.post(`${address()}/api/workspaces/${id}/changes`, {
    data: { id: 'other.1', base: now.revision, label: 'Less', author: 'Another', steps: gone },
  })
  await expect(page.getByTestId('margin')).toContainText('1 fact, 1 tie')
  await days.selectOption('')
  await expect(page.getByTestId('findings')).toContainText('reports to itself')
  await open(page, await ofDemo(page))
  await contents(page).getByRole('button', { name: 'New fare published', exact: true }).click()
  await page.getByRole('button', { name: /elsewhere/ }).click()
  const elsewhere = page.getByTestId('elsewhere')
  await elsewhere.getByLabel('Chapter of the findings').selectOption('Time')
  await expect(elsewhere.getByTestId('findings')).toContainText('More work than one person has time for')
  await elsewhere.getByLabel('Chapter of the findings').selectOption('People')
  await expect(elsewhere.getByText('More work than one person has time for')).toHaveCount(0)
})

test('with nothing selected the findings of the view come first, and the others are one line', async ({ page }) => {
  await open(page, await ofDemo(page))
  const margin = page.getByTestId('margin')
  await expect(margin.getByTestId('findings').first()).toContainText('Two managers on one day')
  await expect(margin.getByTestId('findings').first()).not.toContainText('Nobody decides')
  const elsewhere = margin.getByTestId('elsewhere')
  await expect(elsewhere).toContainText('elsewhere')
  const shown = await margin.getByTestId('findings').locator('[data-rule]').count()
  await elsewhere.getByRole('button').first().click()
  expect(await margin.getByTestId('findings').locator('[data-rule]').count()).toBeGreaterThan(shown)
  await press(page, 'Osei Brandt')
  await expect(elsewhere).toHaveCount(0)
})

test('what is selected is let go where it is not drawn, and says whose findings are counted', async ({ page }) => {
  const missing: string[] = []
  page.on('response', (response) => {
    if (response.status() >= 400) missing.push(response.url())
  })
  await open(page, await ofDemo(page))
  const margin = page.getByTestId('margin')
  await press(page, 'Osei Brandt')
  await expect(margin).toContainText('1 of what is selected')
  await expect(page).toHaveTitle(/^Whole company · Marram Sound Ferries · Skivel$/)
  await margin.getByRole('button', { name: /^\d+ in this view$/ }).click()
  await expect(page.locator('[data-selected]')).toHaveCount(0)
  await press(page, 'Osei Brandt')
  await contents(page).getByRole('button', { name: 'Port network', exact: true }).click()
  await expect(margin.locator('h2')).toHaveText('Marram Sound Ferries')
  await expect(margin).toContainText(/[1-9]\d* in this view/)
  await expect(page).toHaveTitle(/^Port network · /)
  expect(missing).toEqual([])
})

test('a new view is chosen among pictures of one’s own facts and starters', async ({ page }) => {
  await open(page, await ofDemo(page))
  await contents(page)
    .getByRole('region', { name: 'People', exact: true })
    .getByRole('button', { name: 'New view' })
    .click()
  const choice = page.getByRole('dialog', { name: 'A new view: People' })
  const own = choice.getByRole('region', { name: 'Of the facts that are here' })
  await expect(own.getByRole('button')).toHaveCount(3)
  await expect(own.getByRole('button', { name: /^Tree Who reports to whom/ })).toBeVisible()
  await expect(own.locator('svg text', { hasText: 'Hedda Lauring' }).first()).toBeAttached()
  await own.getByRole('button', { name: /^Units/ }).click()
  await expect(page.getByTestId('headline')).toContainText('units')
  await expect(page.getByRole('heading', { name: 'Everyone, units', exact: true })).toBeVisible()

  await contents(page)
    .getByRole('region', { name: 'Work', exact: true })
    .getByRole('button', { name: 'New view' })
    .click()
  const starter = page.getByRole('dialog').getByRole('button', { name: /^Request and approval/ })
  await expect(starter.locator('svg text', { hasText: 'Approver' }).first()).toBeAttached()
  await starter.click()
  await expect(page.getByRole('heading', { name: 'Request and approval' })).toBeVisible()
  await expect(sheet(page).locator('g[data-item]', { hasText: 'Check the request' }).first()).toBeVisible()
  await page.keyboard.press('Control+z')
  await expect(contents(page).getByRole('button', { name: 'Request and approval', exact: true })).toHaveCount(0)
})

/** Types a line of its own beneath one of the outline. */
async function typeBeneath(page: Page, above: string, text: string): Promise<void> {
  await line(page, above).click()
  await page.keyboard.press('End')
  await page.keyboard.press('Enter')
  await page.keyboard.type(text)
  await page.keyboard.press('Escape')
}

test('a new view is called after what it shows, in one step with that, and what somebody calls it stays', async ({
  page,
}) => {
  await open(page, await ofDemo(page))
  await newView(page, 'Work')
  const title = page.getByRole('heading', { level: 1 })
  await expect(title).toHaveText('New view')
  await page.getByTestId('outline-empty').fill('Check the ramp')
  await page.getByTestId('outline-empty').press('Enter')
  await expect(title).toHaveText('Check the ramp')
  await page.keyboard.press('Enter')
  await page.keyboard.type('Open the gate')
  await page.keyboard.press('Escape')
  await expect(title).toHaveText('Check the ramp and 1 more')
  await sheet(page).focus()
  await page.keyboard.press('Control+z')
  await expect(title).toHaveText('Check the ramp')
  await expect(page.locator('input[data-line][value*="Open the gate"]')).toHaveCount(0)
  // What was taken back is no name that somebody gave.
  await typeBeneath(page, 'Check the ramp', 'Light the lamp')
  await expect(title).toHaveText('Check the ramp and 1 more')
  await contents(page).getByRole('button', { name: 'Check the ramp and 1 more', exact: true }).dblclick()
  await page.getByLabel('Title of the view').fill('Before boarding')
  await page.keyboard.press('Enter')
  await typeBeneath(page, 'Check the ramp', 'Call the crew')
  await expect(title).toHaveText('Before boarding')
})

test('a view that was begun from a list is called anew when lines are added, after a reload too', async ({ page }) => {
  const id = await create(page, { list: 'Berth\nShip\nPilot', as: 'classes', name: 'Harbour' })
  await page.goto(`${address()}/w/${id}`)
  const title = page.getByRole('heading', { level: 1 })
  await expect(title).toHaveText('Berth and 2 more')
  await typeBeneath(page, 'Pilot', 'Crane')
  await expect(title).toHaveText('Berth and 3 more')
})

test('a view is found by a word among the pictures and starters of all chapters, and taken with Enter', async ({
  page,
}) => {
  await open(page, await ofDemo(page))
  const people = contents(page).getByRole('region', { name: 'People', exact: true })
  await people.getByRole('button', { name: 'New view' }).click()
  const dialog = page.getByRole('dialog')
  const search = dialog.getByLabel('Look for a view or a starter')
  await expect(search).toBeFocused()
  await page.keyboard.type('zeppelin')
  await expect(dialog).toContainText('Nothing fits “zeppelin”.')
  await search.fill('onbording')
  const found = dialog.getByRole('region', { name: 'Enter takes the first' }).getByRole('button')
  await expect(found.first()).toContainText('Somebody new begins')
  await expect(found.first().locator('svg text', { hasText: 'Team lead' }).first()).toBeAttached()
  await search.press('Enter')
  await expect(page.getByRole('heading', { name: 'Somebody new begins' })).toBeVisible()
  await expect(sheet(page).locator('g[data-item]', { hasText: 'Welcome' }).first()).toBeVisible()

  await people.getByRole('button', { name: 'New view' }).click()
  await search.fill('bars')
  await search.press('Enter')
  await expect(page.getByRole('button', { name: 'Picture: Bars' })).toBeVisible()
  await expect(page.getByRole('heading', { level: 1 })).toHaveText(/ and \d more$/)
})

function partsOf(model: Model) {
  const view = {
    id: 'v',
    notation: 'organisation',
    picture: 'tree',
    title: 'All',
    order: 1,
    scope: {},
    options: {},
    pins: {},
    look: {},
  }
  return {
    entities: [...model.entities.values()],
    relations: [...model.relations.values()],
    views: [view as never],
  }
}

test('the address names the view: the browser leads back to the one before, and an address typed over it is followed', async ({
  page,
}) => {
  const id = await ofDemo(page)
  await open(page, id)
  const heading = (title: string) => page.getByRole('heading', { name: title, exact: true })
  for (const title of ['Port services', 'Leads only']) {
    await contents(page).getByRole('button', { name: title, exact: true }).click()
    await expect(heading(title)).toBeVisible()
  }
  await page.goBack()
  await expect(heading('Port services')).toBeVisible()
  await page.goForward()
  await expect(heading('Leads only')).toBeVisible()
  await page.evaluate(() => (window.location.hash = '#view=dry-dock'))
  await expect(heading('Dry dock and new ticketing')).toBeVisible()
  await page.evaluate(() => (window.location.hash = '#view=nowhere'))
  await expect(heading('Whole company')).toBeVisible()
})
