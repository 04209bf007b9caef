import AxeBuilder from '@axe-core/playwright'
import { readFileSync } from 'node:fs'
import type { Page } from '@playwright/test'
import sharp from 'sharp'
import { writeWorkspace } from '../../src/core/file'
import { marramPictures, marramSoundFerries } from '../../src/demo'
import {
  address,
  card,
  create,
  expect,
  fetched,
  notice,
  ofDemo,
  ofList,
  COMPANY,
  open,
  saved,
  sheet,
  test,
} from './pages'

const look = (page: Page) => page.getByRole('button', { name: 'Look of the picture' })
const at = async (page: Page, id: string, view: string) => {
  await page.goto(`${address()}/w/${id}#view=${view}`)
  await expect(page.locator('[data-item]').first()).toBeVisible()
}
const texts = (page: Page, words: string | RegExp) => sheet(page).locator('text').filter({ hasText: words })
const faults = async (page: Page, within: string): Promise<string[]> => {
  const { violations } = await new AxeBuilder({ page }).include(within).analyze()
  return violations.map(({ id, nodes }) => `${id}: ${nodes.map(({ html }) => html.slice(0, 140)).join(' | ')}`)
}
const moreFields = (page: Page) =>
  page
    .getByTestId('margin')
    .getByRole('button', { name: /more fields/ })
    .click()
const edges = (page: Page, name: string) =>
  card(page, name)
    .locator('rect, path')
    .evaluateAll((marks) =>
      marks.map(
        (mark) => `${mark.getAttribute('stroke')} ${mark.getAttribute('stroke-width')} ${mark.getAttribute('fill')}`,
      ),
    )

test('what is selected stands out by keys, in this view or everywhere, with a legend; undone and kept', async ({
  page,
}) => {
  const id = await ofDemo(page)
  await open(page, id)
  await card(page, 'Yara Solberg').click()
  const before = await edges(page, 'Yara Solberg')
  // By a press on the word as by its key: the keys that follow go to the sheet.
  await page
    .getByRole('toolbar')
    .getByRole('button', { name: /^Emphasis/ })
    .click()
  await expect(page.getByRole('toolbar', { name: 'Emphasis of what is selected' })).toBeVisible()
  expect(await faults(page, '[role=toolbar]')).toEqual([])
  await page.keyboard.press('3')
  await expect.poll(() => edges(page, 'Yara Solberg')).not.toEqual(before)
  await expect(texts(page, 'Digital and ticketing lead')).toHaveCount(2)
  await card(page, 'Emil Castan').click({ modifiers: ['Shift'] })
  await page.keyboard.press('s')
  await expect(
    texts(page, /^(Digital and ticketing lead, Finance lead|Finance lead, Digital and ticketing lead)$/),
  ).toBeVisible()
  await page.keyboard.press('Escape')
  await expect(page.getByRole('toolbar', { name: 'Emphasis of what is selected' })).toHaveCount(0)

  await look(page).click()
  await page.getByLabel('Strong').fill('To be filled first')
  await page.getByLabel('Strong').press('Enter')
  await expect(texts(page, 'To be filled first')).toBeVisible()
  await page.keyboard.press('Escape')

  await card(page, 'Selma Varga').click()
  await page.keyboard.press('*')
  await page.keyboard.press('w')
  await page.getByRole('button', { name: 'crossed out' }).click()
  await expect(card(page, 'Selma Varga').locator('text').first()).toHaveAttribute('text-decoration', 'line-through')
  await saved(page)
  await page.reload()
  await expect(card(page, 'Selma Varga').locator('text').first()).toHaveAttribute('text-decoration', 'line-through')
  await expect(texts(page, 'To be filled first')).toBeVisible()
  await page
    .getByRole('navigation', { name: 'Contents' })
    .getByRole('button', { name: 'Leads only', exact: true })
    .click()
  await expect(card(page, 'Selma Varga').locator('text').first()).toHaveAttribute('text-decoration', 'line-through')
  await expect(texts(page, 'To be filled first')).toHaveCount(0)
})

test('rules of emphasis: typed, refused in words, in the legend, lettered, taken away, undone', async ({ page }) => {
  await open(page, await ofDemo(page))
  await look(page).click()
  await page.getByLabel('Add a rule').fill('make it red')
  await page.getByLabel('Add a rule').press('Enter')
  await expect(page.getByRole('alert')).toContainText('“make it red” is no rule. Write “colour by unit”')
  await page.getByLabel('Add a rule').fill('colour by grade')
  await page.getByLabel('Add a rule').press('Enter')
  await expect(texts(page, /^Grade$/)).toBeVisible()
  await expect(texts(page, /^G4$/)).toBeVisible()
  await page.getByLabel('Letters beside the colours').check()
  await expect(card(page, 'Yara Solberg').locator('text')).toHaveCount(3)
  await page.getByLabel('Add a rule').fill('crossed out where grade is G9')
  await page.getByLabel('Add a rule').press('Enter')
  // Enter goes on to the next one.
  await expect(page.getByLabel('Add a rule')).toBeFocused()
  await page.keyboard.type('quiet where outside Osei Brandt')
  await page.keyboard.press('Enter')
  expect(await faults(page, '[aria-label="Look of the picture"][role=dialog]')).toEqual([])
  await expect(texts(page, 'Outside Osei Brandt')).toBeVisible()
  await expect(card(page, 'Yara Solberg').locator('text')).toHaveCount(2)
  await page.getByLabel('Take the rule away: colour by grade').click()
  await expect(texts(page, /^Grade$/)).toHaveCount(0)
  await page.keyboard.press('Escape')
  await sheet(page).focus()
  await page.keyboard.press('Control+z')
  await expect(texts(page, /^Grade$/)).toBeVisible()
})

test('heading, source, day, mark and grounds stand around and behind the picture', async ({ page }) => {
  const id = await ofDemo(page)
  await at(page, id, 'cancelled')
  await look(page).click()
  await page.getByLabel('Heading').check()
  await page.getByLabel('Facts as of').check()
  await page.getByLabel('Source').fill('Duty log of the ports')
  await page.getByLabel('Source').press('Enter')
  await expect(texts(page, /Source: Duty log of the ports · Facts as of \d+ \w+ \d{4}/)).toHaveCount(1)
  await expect(texts(page, /^Sailing cancelled$/)).toHaveCount(1)
  await page.getByLabel('House mark').check()
  const png = await sharp({ create: { width: 120, height: 40, channels: 3, background: '#004d7f' } })
    .png()
    .toBuffer()
  await page.getByLabel('Choose the mark …').setInputFiles({ name: 'mark.png', mimeType: 'image/png', buffer: png })
  await expect(sheet(page).locator('image[href*="assets"]')).toHaveCount(1)
  await page.getByLabel('Ground').selectOption('map')
  await expect(texts(page, /^Map: Natural Earth/)).toHaveCount(1)
  await page.getByLabel('Region').fill('somewhere')
  await page.getByLabel('Region').press('Enter')
  await expect(page.getByRole('alert')).toContainText('Two corners in degrees')
  const land = () => sheet(page).locator('g > path').first().getAttribute('d')
  const around = await land()
  await page.getByLabel('Region').fill('50 0, 60 20')
  await page.getByLabel('Region').press('Enter')
  await expect.poll(land).not.toBe(around)
  await page.getByLabel('Ground').selectOption('picture')
  await page
    .getByLabel('Choose …', { exact: true })
    .setInputFiles({ name: 'behind.png', mimeType: 'image/png', buffer: png })
  await expect(sheet(page).locator('image[href*="assets"]')).toHaveCount(2)
  await page.getByLabel('Ground').selectOption('dotted')
  await expect(sheet(page).locator('image[href*="assets"]')).toHaveCount(1)
  await saved(page)
  const svg = await (await page.request.get(`${address()}/api/workspaces/${id}/views/cancelled.svg`)).text()
  expect(svg).toContain('Source: Duty log of the ports')
  expect(svg).toContain('data:image/jpeg')
})

test('notes for readers are numbered on the sheet, tied to a fact, a place or nothing', async ({ page }) => {
  const id = await ofDemo(page)
  await open(page, id)
  const notes = page.getByTestId('reader-notes')
  await card(page, 'Yara Solberg').click()
  await notes.getByRole('button', { name: 'Add a note' }).click()
  await page.keyboard.type('Leads the replacement of the ticketing.')
  await page.keyboard.press('Enter')
  await expect(card(page, 'Yara Solberg').locator('text').last()).toHaveText('1')
  await expect(texts(page, 'Leads the replacement')).toHaveCount(1)
  await page.keyboard.press('Escape')
  await sheet(page).focus()
  await page.keyboard.press('Escape')
  await notes.getByRole('button', { name: 'Add a note' }).click()
  await page.keyboard.type('As decided in October.')
  await page.keyboard.press('Enter')
  await expect(texts(page, 'As decided in October.')).toHaveCount(1)
  const numbers = sheet(page).locator('svg').first().locator('text').filter({ hasText: /^2$/ })
  await expect(numbers).toHaveCount(1)
  await notes.getByRole('button', { name: 'at a place' }).last().click()
  await sheet(page).click({ position: { x: 120, y: 60 } })
  await expect(numbers).toHaveCount(2)
  expect(await faults(page, '[data-testid=reader-notes]')).toEqual([])
  await notes.getByRole('button', { name: 'Note 2 earlier' }).click()
  await expect(notes.getByRole('textbox', { name: 'Note 1' })).toHaveValue('As decided in October.')
  await notes.getByRole('button', { name: 'Take note 1 away' }).click()
  await expect(notes.getByRole('textbox', { name: 'Note 1' })).toHaveValue('Leads the replacement of the ticketing.')
  await saved(page)
  await page.reload()
  await expect(card(page, 'Yara Solberg').locator('text').last()).toHaveText('1')
})

test('a fact leads to an address and to another view', async ({ page, context }) => {
  const id = await ofDemo(page)
  await open(page, id)
  await card(page, 'Yara Solberg').click()
  await moreFields(page)
  const link = page.getByTestId('facts').getByLabel('Link')
  await link.fill('nowhere')
  await link.press('Enter')
  await expect(notice(page)).toContainText('“nowhere” is no link')
  await link.fill('dry dock and new ticketing')
  await link.press('Enter')
  await expect(link).toHaveValue('Dry dock and new ticketing')
  await card(page, 'Yara Solberg').click({ modifiers: ['ControlOrMeta'] })
  await expect(page).toHaveURL(/#view=dry-dock$/)
  await page.goBack()
  await card(page, 'Yara Solberg').click()
  await expect(page.getByRole('button', { name: /^Follow/ }).first()).toBeVisible()
  await page.keyboard.press('Control+Enter')
  await expect(page).toHaveURL(/#view=dry-dock$/)
  await page.goBack()
  await card(page, 'Emil Castan').click()
  await link.fill(`${address()}/about-fares`)
  await link.press('Enter')
  const opened = context.waitForEvent('page')
  await page
    .getByRole('toolbar', { name: /Emil Castan|Finance lead/ })
    .getByRole('button', { name: /Follow/ })
    .click()
  expect((await opened).url()).toBe(`${address()}/about-fares`)
  await saved(page)
  const svg = await (await page.request.get(`${address()}/api/workspaces/${id}/views/whole-company.svg`)).text()
  expect(svg).toContain(`<a href="${address()}/about-fares">`)
  expect(svg).toContain(`/w/${id}#view=dry-dock">`)
})

test('a view is offered as a starter, found by a word, begun with again; copied and brought into another workspace', async ({
  page,
  context,
}) => {
  await context.grantPermissions(['clipboard-read', 'clipboard-write'])
  const id = await ofDemo(page)
  await at(page, id, 'cancelled')
  const contents = page.getByRole('navigation', { name: 'Contents' })
  const about = async (title: string, entry: string) => {
    await contents.getByRole('listitem').filter({ hasText: title }).hover()
    await contents.getByRole('button', { name: `More about ${title}` }).click()
    await page.getByRole('menuitem', { name: entry }).click()
  }
  await about('Sailing cancelled', 'Offer as a starter')
  await expect(notice(page)).toContainText('is offered under “New view”')
  await page.getByRole('region', { name: 'Work', exact: true }).getByRole('button', { name: 'New view' }).click()
  await expect(page.getByRole('region', { name: 'Your own starters' }).getByRole('button')).toHaveCount(1)
  await page.getByLabel('Look for a view or a starter').fill('cancelled')
  await page.keyboard.press('Enter')
  await expect(contents.getByRole('button', { name: 'Sailing cancelled', exact: true })).toHaveCount(2)
  await expect(page.getByTestId('headline')).toContainText('22 steps')
  await sheet(page).focus()
  await page.keyboard.press('Control+z')
  await expect(contents.getByRole('button', { name: 'Sailing cancelled', exact: true })).toHaveCount(1)

  const saving = page.waitForEvent('download')
  await about('1887 to 2028', 'Save with its facts')
  const download = await saving
  expect(download.suggestedFilename()).toBe('1887-to-2028.skivel.json')
  const file = readFileSync(await download.path(), 'utf8')
  await about('Sailing cancelled', 'Copy with its facts')
  await expect(notice(page)).toContainText('“Sailing cancelled” is copied with')

  await open(page, await ofList(page, COMPANY))
  await sheet(page).focus()
  await page.keyboard.press('Control+v')
  await expect(page.getByTestId('headline')).toContainText('22 steps')
  await expect(notice(page)).toContainText('facts brought in')
  await page.keyboard.press('Control+z')
  await expect(contents.getByRole('button', { name: 'Sailing cancelled', exact: true })).toHaveCount(0)
  // What was shown before is shown again.
  await expect(page.getByTestId('headline')).toContainText('positions')

  const [chooser] = await Promise.all([
    page.waitForEvent('filechooser'),
    (async () => {
      await page.getByRole('button', { name: 'Bring in' }).click()
      await page.getByRole('menuitem', { name: 'Facts of another workspace' }).click()
    })(),
  ])
  await chooser.setFiles({ name: 'x.json', mimeType: 'application/json', buffer: Buffer.from('{}') })
  await expect(notice(page)).toContainText('“x.json” is no file of facts')
  const again = page.waitForEvent('filechooser')
  await page.getByRole('button', { name: 'Bring in' }).click()
  await page.getByRole('menuitem', { name: 'Facts of another workspace' }).click()
  await (await again).setFiles({ name: 'who.skivel.json', mimeType: 'application/json', buffer: Buffer.from(file) })
  await expect(contents.getByRole('button', { name: '1887 to 2028', exact: true })).toBeVisible()
  const image = sheet(page).locator('image[href*="assets"]').first()
  await expect(image).toBeVisible()
  const picture = await page.request.get(`${address()}${(await image.getAttribute('href')) ?? ''}`)
  expect([picture.status(), picture.headers()['content-type']]).toEqual([200, 'image/jpeg'])
  await saved(page)

  // Some facts alone, by Ctrl C.
  await open(page, id)
  await card(page, 'Yara Solberg').click()
  await page.keyboard.press('Control+c')
  await expect(notice(page)).toContainText('copied. Paste them on the sheet of another workspace.')
})

/** Drops a small picture where a card stands. */
async function dropPicture(page: Page, name: string): Promise<void> {
  const bytes = await sharp({ create: { width: 60, height: 40, channels: 3, background: '#7f4d00' } })
    .png()
    .toBuffer()
  const dataTransfer = await page.evaluateHandle(
    (list) => {
      const transfer = new DataTransfer()
      transfer.items.add(new File([new Uint8Array(list)], 'quay.png', { type: 'image/png' }))
      return transfer
    },
    [...bytes],
  )
  const box = await card(page, name).boundingBox()
  const at = { clientX: (box?.x ?? 0) + 20, clientY: (box?.y ?? 0) + 10 }
  await sheet(page).dispatchEvent('drop', { dataTransfer, ...at })
}

test('a picture that is dropped where photos are drawn is the photo of whoever holds the position', async ({
  page,
}) => {
  const file = writeWorkspace(marramSoundFerries(), marramPictures())
  const views = file.views.map((view) =>
    view.id === 'whole-company' ? { ...view, options: { ...view.options, photo: true } } : view,
  )
  const id = await create(page, { file: { ...file, views } })
  await open(page, id)
  await dropPicture(page, 'Yara Solberg')
  await expect(card(page, 'Yara Solberg').locator('image')).toHaveCount(1)
  await saved(page)
  const { entities } = (await (await fetched(page, `${address()}/api/workspaces/${id}/file`)).json()) as {
    entities: { name: string; fields: Record<string, unknown> }[]
  }
  const shown = entities.filter(({ fields }) => fields['badge'] !== undefined)
  expect(shown).toEqual([])
  expect(entities.find(({ name }) => name === 'Yara Solberg')?.fields['photo']).toBeDefined()
})

test('an icon is found by a word and stands on its box; a small picture is dropped on it', async ({ page }) => {
  const id = await ofDemo(page)
  await open(page, id)
  await card(page, 'Yara Solberg').click()
  await moreFields(page)
  await page.getByTestId('facts').getByRole('button', { name: 'Icon' }).click()
  await page.getByLabel('Look for an icon').fill('ship')
  await expect(page.getByRole('button', { name: 'ship', exact: true })).toBeVisible()
  expect(await faults(page, '[aria-label=Icons]')).toEqual([])
  await page.keyboard.press('Enter')
  await expect(card(page, 'Yara Solberg').locator('circle')).toHaveCount(1)
  await expect(page.getByTestId('facts').getByRole('button', { name: 'Icon', exact: true })).toContainText(/\w+/)
  await saved(page)
  const svg = await (await page.request.get(`${address()}/api/workspaces/${id}/views/whole-company.svg`)).text()
  expect(svg).toMatch(/<g transform="scale\(0\.58\d* 0\.58\d*\)"><path d="/)
  await page.reload()
  await expect(card(page, 'Yara Solberg').locator('circle')).toHaveCount(1)
  await card(page, 'Yara Solberg').click()
  await page.getByRole('button', { name: 'No icon' }).click()
  await expect(card(page, 'Yara Solberg').locator('circle')).toHaveCount(0)
  await dropPicture(page, 'Yara Solberg')
  await expect(card(page, 'Yara Solberg').locator('image')).toHaveCount(1)
})

test('words of a part are strong, slanted and on lines of their own, by keys; a theme has its sizes', async ({
  page,
}) => {
  const id = await ofDemo(page)
  await at(page, id, 'figure-when-cancelled')
  const learn = texts(page, 'Learn')
  await learn.dblclick()
  const field = page.locator('[data-in-place]')
  await expect(field).toHaveValue('Learn')
  await expect(page.getByText('strong, Ctrl I slanted')).toBeVisible()
  await field.fill('Learn from it')
  await field.press('Shift+Enter')
  await field.pressSequentially('together')
  await expect(field).toHaveValue('Learn from it \\ together')
  await field.evaluate((one: HTMLInputElement) => one.setSelectionRange(16, 24))
  await field.press('Control+i')
  await expect(field).toHaveValue('Learn from it \\ *together*')
  await field.press('Enter')
  await expect(texts(page, /^together$/)).toHaveAttribute('font-style', 'italic')
  await expect(texts(page, '*')).toHaveCount(0)
  // What stands under it: strong.
  await texts(page, /^Report within/).dblclick()
  await field.evaluate((one: HTMLInputElement) => one.setSelectionRange(0, 6))
  await field.press('Control+b')
  await field.press('Enter')
  await expect(texts(page, /^Report ?$/)).toHaveAttribute('font-weight', '700')
  await saved(page)
  const lines = page.getByTestId('outline').locator('input')
  const said = () => lines.evaluateAll((all) => all.map((one) => (one as HTMLInputElement).value))
  expect(await said()).toContain('**Report** within a week')
  await expect(page.getByTestId('margin').getByRole('heading', { level: 2 })).toHaveText('Report within a week')
  const svg = await (await page.request.get(`${address()}/api/workspaces/${id}/views/figure-when-cancelled.svg`)).text()
  expect(svg).toContain('font-style="italic"')
  await page.keyboard.press('Escape')
  await page.keyboard.press('Control+z')
  await expect(texts(page, /Report within/)).toHaveCount(1)

  // A theme with steeper sizes.
  const size = async (words: RegExp) => Number(await texts(page, words).first().getAttribute('font-size'))
  const sizes = async () => (await size(/^Decide/)) / (await size(/^Weather/))
  const usual = await sizes()
  await look(page).click()
  await page.getByRole('button', { name: 'Theme', exact: true }).click()
  await page.getByTestId('themes').getByRole('button', { name: 'Regatta' }).click()
  await expect.poll(sizes).toBeGreaterThan(usual + 0.2)
  await page.getByRole('button', { name: 'Make one of your colours' }).click()
  await page.getByRole('button', { name: 'Even' }).click()
  await page.getByRole('button', { name: 'Keep and use it' }).click()
  await expect.poll(sizes).toBeLessThan(usual - 0.1)
  await page.keyboard.press('Escape')
  await saved(page)
})

test('shapes vary as their notation allows, undone and kept', async ({ page }) => {
  const id = await ofDemo(page)
  await at(page, id, 'cancelled')
  const crosses = sheet(page).locator('[data-item] path[stroke-width="2.5"]')
  const before = await crosses.count()
  await look(page).click()
  await page.getByLabel('Crosses in gateways').uncheck()
  await expect.poll(() => crosses.count()).toBeLessThan(before)
  await page.keyboard.press('Escape')
  await page.keyboard.press('Control+z')
  await expect(crosses).toHaveCount(before)
  await saved(page)
})
