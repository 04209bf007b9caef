import AxeBuilder from '@axe-core/playwright'
import { rmSync, writeFileSync } from 'node:fs'
import { createServer } from 'node:http'
import type { AddressInfo } from 'node:net'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { pathToFileURL } from 'node:url'
import type { Browser, Page } from '@playwright/test'
import {
  address,
  card,
  COMPANY,
  expect,
  fetched,
  line,
  notice,
  ofDemo,
  ofList,
  open,
  press,
  saved,
  sheet,
  test,
} from './pages'

const comments = (page: Page) => page.getByTestId('comments')
const thread = (page: Page, words: string) => comments(page).locator('[data-thread]', { hasText: words })
const form = (page: Page) => page.getByTestId('say')
const sign = (page: Page) => page.locator('[data-comment]')

/** Says something about what is selected, by the keyboard alone. */
async function say(page: Page, words: string): Promise<void> {
  await sheet(page).focus()
  await page.keyboard.press('"')
  await expect(form(page).getByLabel('What you say')).toBeFocused()
  await page.keyboard.type(words)
  await page.keyboard.press('Control+Enter')
  await expect(thread(page, words)).toBeVisible()
}

async function second(browser: Browser, id: string) {
  const context = await browser.newContext({ viewport: { width: 1280, height: 800 } })
  const page = await context.newPage()
  await open(page, id)
  return { context, page }
}

/** A page to read with comments, and somebody who reads it. */
async function reader(page: Page, browser: Browser) {
  await page.getByRole('button', { name: 'Hand out' }).click()
  const section = page.getByRole('region', { name: 'Pages to read' })
  await section.getByLabel('with comments').check()
  await section.getByRole('button', { name: 'Make a page' }).click()
  const path = await section.getByLabel('Address').inputValue()
  await page.keyboard.press('Escape')
  const context = await browser.newContext({ viewport: { width: 1200, height: 760 } })
  const theirs = await context.newPage()
  await theirs.goto(path)
  return { path, context, theirs }
}

test('a comment on a fact is seen, answered and resolved by another browser at once, and stays with the fact', async ({
  page,
  browser,
}) => {
  const id = await ofList(page, COMPANY)
  await open(page, id)
  const { context, page: other } = await second(browser, id)
  await press(page, 'Dora Vik')
  await say(page, 'Does she drive at night?\n<img src=x onerror=alert(1)>')
  await expect(sign(page)).toHaveCount(1)
  // Without a reload it is there: on the sheet, and in the margin of the view with what it is about.
  await expect(sign(other)).toHaveCount(1)
  await expect(thread(other, 'Does she drive')).toContainText('<img src=x onerror=alert(1)>')
  await expect(comments(other)).toContainText('1 open')
  await sign(other).click()
  await expect(other.locator('[data-selected]')).toHaveCount(1)
  await expect(thread(other, 'Does she drive')).toBeFocused()
  await thread(other, 'Does she drive').getByRole('button', { name: 'Answer' }).click()
  await other.keyboard.type('Until May.')
  await form(other).getByRole('button', { name: 'Answer', exact: true }).click()
  await expect(thread(page, 'Until May.')).toBeVisible()
  // What it is about moves, and is called otherwise: the thread goes along.
  await line(page, 'Dora Vik').fill('Dora Vik — Night driver')
  await page.keyboard.press('Tab')
  await saved(page)
  const before = await sign(page).boundingBox()
  await press(page, 'Cleo Moe')
  await page.keyboard.press('n')
  await page.keyboard.press('Escape')
  await expect.poll(async () => (await sign(page).boundingBox())?.x).not.toBe(before?.x)
  await press(page, 'Dora Vik')
  await expect(thread(page, 'Until May.')).toBeVisible()
  await thread(other, 'Does she drive').getByRole('button', { name: 'Resolve' }).click()
  await expect(sign(page)).toHaveCount(0)
  await comments(page).getByRole('button', { name: '1 resolved' }).click()
  await expect(thread(page, 'Until May.')).toContainText(/Resolved by Guest \d+, today/)
  await page.reload()
  await press(page, 'Dora Vik')
  await comments(page).getByRole('button', { name: '1 resolved' }).click()
  await thread(page, 'Until May.').getByRole('button', { name: 'Open again' }).click()
  await expect(sign(other)).toHaveCount(1)
  await context.close()
})

test('two that are one are joined in a register or by name, with what was said of each', async ({ page }) => {
  await open(page, await ofList(page, COMPANY))
  await press(page, 'Finn Bo')
  await say(page, 'He left in spring.')
  await page.getByRole('tab', { name: /Positions/ }).click()
  const row = (name: string) => page.locator('.ag-row', { hasText: name }).locator('.ag-cell[col-id="name"]')
  const joins = page.getByRole('button', { name: 'Join two into one' })
  // A row that is pressed just while the register is drawn anew is not chosen.
  await expect(async () => {
    await row('Dan Lie').click()
    await row('Finn Bo').click({ modifiers: ['Control'] })
    await expect(joins).toBeVisible({ timeout: 2000 })
  }).toPass()
  await joins.click()
  await expect(page.getByRole('tab', { name: 'Positions 6' })).toBeVisible()
  await press(page, 'Dan Lie')
  await expect(thread(page, 'He left in spring.')).toBeVisible()
  await expect(sign(page)).toHaveCount(1)
  await page.keyboard.press('Control+z')
  await expect(page.getByRole('tab', { name: 'Positions 7' })).toBeVisible()
  await press(page, 'Dan Lie')
  await expect(thread(page, 'He left in spring.')).toHaveCount(0)
  await press(page, 'Dan Lie')
  await page.keyboard.press('Control+k')
  await page.keyboard.type('join two')
  await expect(page.getByRole('option', { name: 'Join two into one' })).toBeVisible()
  await page.keyboard.press('Enter')
  const asking = page.getByRole('dialog', { name: 'Join what into “Planner”?' })
  await expect(asking.getByRole('combobox')).toHaveValue('')
  await expect(asking.getByRole('combobox')).toBeFocused()
  await page.keyboard.type('accountant')
  await expect(asking.getByRole('option')).toHaveCount(1)
  await page.keyboard.press('Enter')
  await expect(page.getByRole('tab', { name: 'Positions 6' })).toBeVisible()
  await saved(page)
  await page.reload()
  await press(page, 'Dan Lie')
  await expect(thread(page, 'He left in spring.')).toBeVisible()
})

test('what is said of a place or of the view is taken away and brought back; the name under it is chosen once', async ({
  page,
}) => {
  await open(page, await ofList(page, COMPANY))
  await comments(page).getByRole('button', { name: 'Say something' }).click()
  await form(page)
    .getByRole('button', { name: /^As Guest/ })
    .click()
  await form(page).getByLabel('Your name').fill('Tove Lind')
  await form(page).getByRole('button', { name: 'at a place' }).click()
  await sheet(page).click({ position: { x: 80, y: 60 } })
  await form(page).getByLabel('What you say').fill('Room for one more here')
  await form(page).getByRole('button', { name: 'Say it' }).click()
  await expect(thread(page, 'Room for one more')).toContainText('a place')
  await expect(thread(page, 'Room for one more')).toContainText('Tove Lind')
  const [box, frame] = [await sign(page).boundingBox(), await sheet(page).boundingBox()]
  expect(Math.abs((box?.x ?? 0) + (box?.width ?? 0) / 2 - (frame?.x ?? 0) - 80)).toBeLessThan(6)
  expect(Math.abs((box?.y ?? 0) + (box?.height ?? 0) / 2 - (frame?.y ?? 0) - 60)).toBeLessThan(6)
  // A place that was pointed at and not spoken of is forgotten with the form.
  await comments(page).getByRole('button', { name: 'Say something' }).click()
  await form(page).getByRole('button', { name: 'at a place' }).click()
  await sheet(page).click({ position: { x: 60, y: 40 } })
  await expect(form(page).getByRole('button', { name: 'about that place' })).toBeVisible()
  await press(page, 'Cleo Moe')
  await page.keyboard.press('Escape')
  await comments(page).getByRole('button', { name: 'Say something' }).click()
  await expect(form(page).getByRole('button', { name: 'at a place' })).toBeVisible()
  await form(page).getByRole('button', { name: 'Cancel' }).click()
  await say(page, 'All in all it is fine')
  await expect(thread(page, 'All in all')).toContainText('Tove Lind')
  await thread(page, 'All in all').hover()
  await thread(page, 'All in all').getByRole('button', { name: 'Take away' }).click()
  await expect(thread(page, 'All in all')).toHaveCount(0)
  await comments(page).getByRole('button', { name: 'Bring back' }).click()
  await expect(thread(page, 'All in all')).toBeVisible()
  // The margin says nothing against what the guidelines ask.
  const { violations } = await new AxeBuilder({ page }).include('[data-testid=margin]').analyze()
  expect(violations.map(({ id, nodes }) => `${id}: ${nodes[0]?.html}`)).toEqual([])
})

test('words that could not be sent stay, over a reload too, and are said once', async ({ page }) => {
  const id = await ofList(page, COMPANY)
  await open(page, id)
  let failing = true
  await page.route('**/comments', (route) =>
    failing && route.request().method() === 'POST'
      ? route.fulfill({
          status: 503,
          contentType: 'application/json',
          body: '{"error":{"message":"The database does not answer."}}',
        })
      : route.continue(),
  )
  await expect(comments(page)).toBeVisible()
  await sheet(page).focus()
  await page.keyboard.press('"')
  await page.keyboard.type('This must not be lost')
  await page.keyboard.press('Control+Enter')
  await expect(form(page).getByRole('alert')).toContainText('The database does not answer.')
  await expect(form(page).getByLabel('What you say')).toHaveValue('This must not be lost')
  await page.reload()
  await expect(form(page).getByLabel('What you say')).toHaveValue('This must not be lost')
  failing = false
  const button = form(page).getByRole('button', { name: 'Say it' })
  await button.dblclick()
  await expect(thread(page, 'This must not be lost')).toHaveCount(1)
  const told = (await (await fetched(page, `${address()}/api/workspaces/${id}/comments`)).json()) as { threads: [] }
  expect(told.threads).toHaveLength(1)
  await expect(form(page)).toHaveCount(0)
})

test('somebody called by name gets a letter, which the mail catcher shows', async ({ page }) => {
  const id = await ofDemo(page)
  await open(page, id)
  await expect(comments(page)).toBeVisible()
  await sheet(page).focus()
  await page.keyboard.press('"')
  await page.keyboard.type('Is this right, @lun')
  await form(page).getByRole('button', { name: 'Lune Aske' }).click()
  await expect(form(page).getByLabel('What you say')).toHaveValue('Is this right, @Lune Aske ')
  await expect(form(page)).toContainText('A letter goes to Lune Aske.')
  await form(page).getByRole('button', { name: 'Say it' }).click()
  await expect(thread(page, 'Is this right')).toBeVisible()
  await expect(async () => {
    await page.goto(`${address()}/standins/mail`)
    await expect(page.getByRole('listitem').first()).toContainText('> Is this right, @Lune Aske', { timeout: 500 })
  }).toPass()
  await expect(page.getByRole('listitem').first()).toContainText('to lune.aske@marramsound.example')
})

test('a reader comments on a part of the picture, is answered, and sees it resolved; switched off, nothing is said', async ({
  page,
  browser,
}) => {
  await open(page, await ofDemo(page))
  const { path, context, theirs } = await reader(page, browser)
  await theirs.locator('svg [data-part]', { hasText: 'Lune Aske' }).click()
  await expect(theirs.getByRole('button', { name: 'About Lune Aske' })).toBeVisible()
  await theirs.getByLabel('What you say').fill('Still acting? <script>alert(1)</script>')
  await theirs.getByRole('button', { name: 'Say it' }).click()
  await expect(theirs.getByRole('alert')).toContainText('A name and some words are needed.')
  await theirs.getByLabel('Your name').fill('Joss Teal')
  await theirs.getByRole('button', { name: 'Say it' }).dblclick()
  await expect(theirs.getByRole('listitem').filter({ hasText: 'Still acting? <script>' })).toHaveCount(1)
  await expect(theirs.getByLabel('What you say')).toHaveValue('')
  // The page hears of it, shows what it is about, and answers.
  await expect(thread(page, 'Still acting?')).toContainText('Joss Teal')
  await expect(thread(page, 'Still acting?')).toContainText('readers see this')
  await thread(page, 'Still acting?').getByRole('button', { name: 'Berth supervisor, north' }).click()
  await expect(page.locator('[data-selected]')).toHaveCount(1)
  await thread(page, 'Still acting?').getByRole('button', { name: 'Answer' }).click()
  await page.keyboard.type('Until January.')
  await page.keyboard.press('Control+Enter')
  await expect(thread(page, 'Until January.')).toBeVisible()
  await thread(page, 'Until January.').getByRole('button', { name: 'Resolve' }).click()
  await theirs.reload()
  const item = theirs.getByRole('listitem').filter({ hasText: 'Until January.' })
  await expect(item).toContainText('Resolved by Guest')
  await expect(theirs.getByLabel('Your name')).toHaveValue('Joss Teal')
  await item.getByRole('button', { name: 'Answer' }).click()
  await theirs.keyboard.type('Thanks.')
  await theirs.getByRole('button', { name: 'Say it' }).click()
  await expect(item).toContainText('Thanks.')
  // What is found by its words can be spoken of, without a pointer.
  await theirs.getByLabel('Find in this picture').fill('Ruben')
  await expect(theirs.getByRole('button', { name: 'About Ruben Oake' })).toBeVisible()
  const { violations } = await new AxeBuilder({ page: theirs }).exclude('svg').analyze()
  expect(violations.map(({ id, nodes }) => `${id}: ${nodes[0]?.html}`)).toEqual([])
  // A place of the picture: chosen by a click beside its parts, and shown in the margin of the page.
  await theirs.getByRole('button', { name: 'Fit' }).click()
  const picture = await theirs.locator('#stage svg').boundingBox()
  const aside = {
    x: (picture?.x ?? 0) + (picture?.width ?? 0) - 20,
    y: (picture?.y ?? 0) + (picture?.height ?? 0) - 20,
  }
  await theirs.mouse.click(aside.x, aside.y)
  await expect(theirs.getByRole('button', { name: 'About this place' })).toBeVisible()
  const ring = await theirs.locator('[data-place]').boundingBox()
  expect(Math.abs((ring?.x ?? 0) + (ring?.width ?? 0) / 2 - aside.x)).toBeLessThan(2)
  // Where that is, as the browser itself reckons it, from where the picture begins.
  const [x, y] = await theirs.evaluate(({ x: left, y: top }) => {
    const matrix = document.querySelector<SVGSVGElement>('#stage svg')?.getScreenCTM()?.inverse()
    const at = new DOMPoint(left, top).matrixTransform(matrix)
    const origin = (document.getElementById('comments')?.dataset['origin'] ?? '').split(' ').map(Number)
    return [at.x - (origin[0] ?? 0), at.y - (origin[1] ?? 0)]
  }, aside)
  await theirs.getByLabel('What you say').fill('Room here')
  await theirs.getByRole('button', { name: 'Say it' }).click()
  await expect(theirs.locator('[data-place]')).toBeHidden()
  const workspace = new URL(page.url()).pathname.split('/')[2] ?? ''
  const told = (await (await fetched(page, `${address()}/api/workspaces/${workspace}/comments`)).json()) as {
    threads: { place?: { x: number; y: number } }[]
  }
  const place = told.threads.find((one) => one.place)?.place
  expect(Math.abs((place?.x ?? NaN) - (x ?? 0))).toBeLessThan(3)
  expect(Math.abs((place?.y ?? NaN) - (y ?? 0))).toBeLessThan(3)
  await theirs.getByRole('listitem').filter({ hasText: 'Room here' }).getByRole('button', { name: 'A place' }).click()
  await expect(theirs.locator('[data-place]')).toBeInViewport()
  await page.getByRole('button', { name: 'Fit', exact: true }).click()
  await expect(page.locator('[data-comment]', { hasText: 'Room here' })).toHaveCount(1)
  // On a telephone nothing is wider, and nothing covers anything.
  await theirs.setViewportSize({ width: 360, height: 640 })
  expect(await theirs.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(360)
  const [stage, below] = [await theirs.locator('#stage').boundingBox(), await theirs.locator('#comments').boundingBox()]
  expect((stage?.y ?? 0) + (stage?.height ?? 0)).toBeLessThanOrEqual(below?.y ?? 0)
  await page.getByRole('button', { name: 'Hand out' }).click()
  await page.getByRole('button', { name: 'No more comments' }).click()
  await expect(page.getByRole('button', { name: 'Let them comment' })).toBeVisible()
  await theirs.getByLabel('What you say').fill('One more')
  await theirs.getByRole('button', { name: 'Say it' }).click()
  await expect(theirs.getByRole('alert')).toContainText('There is nothing at this address')
  await expect(theirs.getByLabel('What you say')).toHaveValue('One more')
  await theirs.goto(path)
  await expect(theirs.locator('#comments')).toHaveCount(0)
  await context.close()
})

test('what a reader says in a frame of another site arrives', async ({ page, browser }) => {
  await open(page, await ofDemo(page))
  const { path, context, theirs } = await reader(page, browser)
  const host = createServer((_, response) => {
    response.setHeader('content-type', 'text/html')
    response.end(`<iframe src="${path}" width="1100" height="700"></iframe>`)
  })
  await new Promise<void>((begun) => host.listen(0, '127.0.0.1', begun))
  await theirs.goto(`http://localhost:${(host.address() as AddressInfo).port}/`)
  const framed = theirs.frameLocator('iframe')
  await framed.getByLabel('Your name').fill('Joss Teal')
  await framed.getByLabel('What you say').fill('Seen in a frame')
  await framed.getByRole('button', { name: 'Say it' }).click()
  await expect(framed.getByRole('listitem').filter({ hasText: 'Seen in a frame' })).toBeVisible()
  await expect(thread(page, 'Seen in a frame')).toBeVisible()
  host.close()
  // A file on a disk frames it, too.
  const file = join(tmpdir(), `frame-${process.pid}.html`)
  writeFileSync(file, `<iframe src="${path}" width="1100" height="700"></iframe>`)
  await theirs.goto(pathToFileURL(file).href)
  await expect(theirs.frameLocator('iframe').getByLabel('What you say')).toBeVisible()
  rmSync(file)
  await context.close()
})

test('a proposal is made of changes that nobody else sees, is looked at, and taken over in one step', async ({
  page,
  browser,
}) => {
  const id = await ofList(page, COMPANY)
  await open(page, id)
  const { context, page: other } = await second(browser, id)
  await comments(page).getByRole('button', { name: 'Say something' }).click()
  await form(page).getByRole('button', { name: 'propose a change' }).click()
  await expect(form(page).getByRole('button', { name: 'Propose it' })).toBeDisabled()
  await line(page, 'Dora Vik').fill('Dora Vik — Night driver')
  await page.keyboard.press('Enter')
  await page.keyboard.type('Gro Lind — Cook')
  await page.keyboard.press('Escape')
  await expect(card(page, 'Gro Lind')).toBeVisible()
  await expect(page.getByTestId('standing')).toHaveText('Aside')
  // It stays over a reload, lies on top of what others do meanwhile, and is told to nobody.
  await page.reload()
  await expect(card(page, 'Gro Lind')).toBeVisible()
  await line(other, 'Finn Bo').fill('Finn Bo — Chief accountant')
  await other.keyboard.press('Escape')
  await expect(card(page, 'Chief accountant')).toBeVisible()
  await expect(card(page, 'Gro Lind')).toBeVisible()
  expect(await card(other, 'Gro Lind').count()).toBe(0)
  await page.getByRole('button', { name: 'Say why, and propose it' }).click()
  await page.keyboard.type('Night work and a cook')
  await form(page).getByRole('button', { name: 'Propose it' }).click()
  // Then the page shows the facts as they are.
  await expect(card(page, 'Gro Lind')).toHaveCount(0)
  await expect(card(page, 'Night driver')).toHaveCount(0)
  await expect(page.getByTestId('proposing')).toHaveCount(0)
  await expect(card(page, 'Chief accountant')).toBeVisible()

  const proposed = thread(other, 'Night work and a cook')
  // Somebody who has selected something else finds it among the others.
  await comments(other).getByRole('button', { name: '1 elsewhere' }).click()
  await comments(other).getByRole('button', { name: 'Night work and a cook' }).click()
  await proposed.getByRole('button', { name: 'Look at it' }).click()
  await expect(proposed.getByTestId('proposal')).toContainText('“Gro Lind”')
  await expect(proposed.getByTestId('proposal')).toContainText('It would contradict nothing.')
  await expect(other.getByTestId('headline')).toContainText('new')
  await expect(card(other, 'Gro Lind')).toBeVisible()
  await expect(line(other, 'Gro Lind')).toHaveCount(0)
  await proposed.getByRole('button', { name: 'Stop looking' }).click()
  await expect(card(other, 'Gro Lind')).toHaveCount(0)
  await proposed.getByRole('button', { name: 'Take it over' }).click()
  await expect(notice(other)).toContainText('taken over')
  await expect(card(other, 'Gro Lind')).toBeVisible()
  await expect(card(page, 'Gro Lind')).toBeVisible()
  await comments(page).getByRole('button', { name: '1 resolved' }).click()
  await expect(thread(page, 'Night work')).toContainText(/Taken over by Guest \d+, today/)
  await expect(thread(page, 'Night work').getByRole('button', { name: 'Take it over' })).toHaveCount(0)
  await saved(other)
  await sheet(other).focus()
  await other.keyboard.press('Control+z')
  await expect(card(page, 'Gro Lind')).toHaveCount(0)
  await context.close()
})

test('a proposal says what it would contradict; one that fits no longer says why; what is proposed can be dropped', async ({
  page,
}) => {
  const id = await ofList(page, COMPANY)
  await open(page, id)
  const { workspace } = (await (await fetched(page, `${address()}/api/workspaces/${id}`)).json()) as {
    workspace: {
      entities: { id: string; kind: string; name: string; fields: { title?: string } }[]
      views: { id: string }[]
    }
  }
  const driver = workspace.entities.find(({ name, kind }) => kind === 'position' && name === 'Driver')?.id ?? ''
  const view = workspace.views[0]?.id
  const propose = (words: string, steps: object[]) =>
    page.request.post(`${address()}/api/workspaces/${id}/comments`, {
      data: {
        id: `p-${words.length}`,
        view,
        fact: driver,
        author: 'Per Lie',
        words,
        proposal: { label: words, steps },
      },
    })
  const boss = { id: 'loop', kind: 'reports-to', source: driver, target: driver, fields: {} }
  expect((await propose('Let the driver lead herself', [{ do: 'add-relation', relation: boss }])).status()).toBe(201)
  await press(page, 'Dora Vik')
  const loop = thread(page, 'Let the driver')
  await loop.getByRole('button', { name: 'Look at it' }).click()
  await expect(loop.getByTestId('proposal').locator('.text-error').first()).toContainText('Driver')
  // Whatever is changed here is changed of the facts as they are: looking ends.
  await page.keyboard.press('Control+z')
  await line(page, 'Finn Bo').fill('Finn Bo — Bookkeeper')
  await page.keyboard.press('Escape')
  await expect(page.getByText('Shown as it would be')).toHaveCount(0)
  await press(page, 'Dora Vik')
  await expect(loop.getByRole('button', { name: 'Look at it' })).toBeVisible()

  await propose('She drives trucks', [{ do: 'set-entity', id: driver, path: 'name', value: 'Truck driver' }])
  await press(page, 'Dora Vik')
  await page.keyboard.press('Delete')
  await expect(card(page, 'Dora Vik')).toHaveCount(0)
  await saved(page)
  await sheet(page).click({ position: { x: 5, y: 5 } })
  const late = thread(page, 'She drives trucks')
  await expect(late).toContainText('what is gone')
  await late.getByRole('button', { name: 'Look at it' }).click()
  await expect(late).toContainText('The facts have changed since, and it fits them no longer')
  await late.getByRole('button', { name: 'Take it over' }).click()
  await expect(notice(page)).toBeVisible()

  await comments(page).getByRole('button', { name: 'Say something' }).click()
  await form(page).getByRole('button', { name: 'propose a change' }).click()
  await line(page, 'Eva Nes').fill('Eva Nes — Treasurer')
  await page.keyboard.press('Escape')
  await expect(card(page, 'Treasurer')).toBeVisible()
  await page.getByRole('button', { name: 'Drop it' }).click()
  await expect(card(page, 'Treasurer')).toHaveCount(0)
  await expect(line(page, 'Treasurer')).toHaveCount(0)
  await expect(page.getByTestId('standing')).toHaveText('Saved')
  // What was done before can still be taken back, and nothing that was dropped.
  await sheet(page).focus()
  await page.keyboard.press('Control+z')
  await expect(card(page, 'Dora Vik')).toBeVisible()
})

test('a sign leads to its thread among many; what is typed is taken back in its field and stays when it is left', async ({
  page,
}) => {
  const id = await ofList(page, COMPANY)
  await open(page, id)
  const { workspace } = (await (await fetched(page, `${address()}/api/workspaces/${id}`)).json()) as {
    workspace: { views: { id: string }[] }
  }
  for (let at = 0; at < 6; at++)
    await page.request.post(`${address()}/api/workspaces/${id}/comments`, {
      data: {
        id: `m-${at}`,
        view: workspace.views[0]?.id,
        at: { x: -30 * at, y: -20 },
        author: 'Per Lie',
        words: `Number ${at}`,
      },
    })
  await expect(comments(page)).toContainText('6 open')
  await expect(comments(page).locator('[data-thread]')).toHaveCount(3)
  await page.getByRole('button', { name: 'Fit', exact: true }).click()
  await page.locator('[data-comment=m-5]').click()
  await expect(thread(page, 'Number 5')).toBeFocused()
  await expect(thread(page, 'Number 5')).toBeInViewport()

  await press(page, 'Dora Vik')
  await page.keyboard.press('n')
  await page.keyboard.type('Gro Lind')
  await page.keyboard.press('Enter')
  await page.keyboard.press('Escape')
  await expect(card(page, 'Gro Lind')).toBeVisible()
  await sheet(page).focus()
  await page.keyboard.press('"')
  await page.keyboard.type('Half a word')
  await page.keyboard.press('Control+z')
  await expect(form(page).getByLabel('What you say')).not.toHaveValue('Half a word')
  await expect(card(page, 'Gro Lind')).toBeVisible()
  await form(page).getByLabel('What you say').fill('A whole word')
  await page.keyboard.press('Escape')
  await expect(form(page)).toHaveCount(0)
  await comments(page).getByRole('button', { name: 'Say something' }).click()
  await expect(form(page).getByLabel('What you say')).toHaveValue('A whole word')
})

test('comparing ends looking at a proposal, and looking at one ends comparing', async ({ page }) => {
  const id = await ofList(page, COMPANY)
  await open(page, id)
  await comments(page).getByRole('button', { name: 'Say something' }).click()
  await form(page).getByRole('button', { name: 'propose a change' }).click()
  await line(page, 'Eva Nes').fill('Eva Nes — Treasurer')
  await page.keyboard.press('Escape')
  await page.getByRole('button', { name: 'Say why, and propose it' }).click()
  await page.keyboard.type('A better word')
  await form(page).getByRole('button', { name: 'Propose it' }).click()
  await expect(page.getByTestId('proposing')).toHaveCount(0)
  await press(page, 'Finn Bo')
  await page.keyboard.press('n')
  await page.keyboard.type('Gro Lind')
  await page.keyboard.press('Enter')
  await page.keyboard.press('Escape')
  await saved(page)
  await page.getByRole('button', { name: 'Workspace Test company' }).click()
  await page.getByRole('menuitem', { name: 'History' }).click()
  await page.getByRole('button', { name: 'As it began' }).click()
  await page.getByRole('button', { name: 'Compare it with now on the sheet' }).click()
  await expect(page.getByTestId('headline')).toContainText('new')
  await comments(page)
    .getByRole('button', { name: /elsewhere/ })
    .click()
  await comments(page).getByRole('button', { name: 'A better word' }).click()
  const proposal = thread(page, 'A better word')
  await proposal.getByRole('button', { name: 'Look at it' }).click()
  await expect(page.getByText('Compared with revision 0.')).toHaveCount(0)
  await expect(card(page, 'Treasurer')).toBeVisible()
  await proposal.getByRole('button', { name: 'Stop looking' }).click()
  await expect(card(page, 'Treasurer')).toHaveCount(0)
  // Nothing is compared any more.
  await expect(page.getByTestId('headline')).toContainText('position')
  await proposal.getByRole('button', { name: 'Look at it' }).click()
  await expect(card(page, 'Treasurer')).toBeVisible()
  await page.getByRole('button', { name: 'Compare…' }).click()
  await expect(page.getByText('Shown as it would be')).toHaveCount(0)
})
