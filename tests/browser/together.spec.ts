import { join } from 'node:path'
import { startMariaDb } from '../../scripts/lib/mariadb.mjs'
import { migrate } from '../../src/server/db/migrate'
import { openPool } from '../../src/server/db/pool'
import { startServer } from '../server/running'
import type { Page } from '@playwright/test'
import {
  address,
  card,
  COMPANY,
  expect,
  fetched,
  line,
  notice,
  ofList,
  open,
  outlineText,
  press,
  saved,
  test,
} from './pages'

test('a second browser sees a change within a second, and both may write', async ({ page, browser }) => {
  const id = await ofList(page, COMPANY)
  await open(page, id)
  const context = await browser.newContext({ viewport: { width: 1280, height: 800 } })
  const second = await context.newPage()
  await open(second, id)
  await line(page, 'Dora').click()
  await page.keyboard.press('End')
  await page.keyboard.type('s')
  const typed = Date.now()
  await expect(card(second, 'Drivers')).toBeVisible()
  expect(Date.now() - typed).toBeLessThan(1000)
  await line(second, 'Finn').click()
  await second.keyboard.press('End')
  await second.keyboard.type('s')
  await expect(card(page, 'Accountants')).toBeVisible()
  await Promise.all([saved(page), saved(second)])
  expect(await outlineText(page)).toBe(await outlineText(second))
  await context.close()
})

test('changes made while the server is away wait in the page, survive a reload, and are sent when it is back', async ({
  page,
}) => {
  const id = await ofList(page, COMPANY)
  await open(page, id)
  await page.route('**/changes', (route) =>
    route.fulfill({
      status: 503,
      contentType: 'application/json',
      body: '{"error":{"code":"unavailable","message":"The database does not answer."}}',
    }),
  )
  await press(page, 'Eva Nes')
  await page.keyboard.press('n')
  await page.keyboard.type('Gro Lind')
  await page.keyboard.press('Enter')
  await page.keyboard.press('Escape')
  const banner = page.getByTestId('banner')
  await expect(banner).toContainText('The database does not answer.')
  await expect(banner).toContainText('kept in this browser and will be sent')
  await expect(card(page, 'Gro Lind')).toBeVisible()
  await page.unroute('**/changes')
  await page.reload()
  await expect(card(page, 'Gro Lind')).toBeVisible()
  await saved(page)
  const { workspace } = (await (await fetched(page, `${address()}/api/workspaces/${id}`)).json()) as {
    workspace: { entities: { name: string }[] }
  }
  expect(workspace.entities.filter(({ name }) => name === 'Gro Lind')).toHaveLength(1)
})

test('a database that stops is said within seconds, and what was typed meanwhile is there when it is back', async ({
  page,
}) => {
  const folder = join('.skivel', 'test-browser-mortal')
  const database = await startMariaDb(folder, 'mortal')
  const pool = openPool(database.url)
  await migrate(pool, join('src', 'server', 'db', 'migrations'))
  await pool.end()
  const server = await startServer(database.url)
  const made = await page.request.post(`${server.address}/api/workspaces`, { data: { list: COMPANY } })
  const { id } = (await made.json()) as { id: string }
  await page.goto(`${server.address}/w/${id}`)
  await expect(card(page, 'Dora Vik')).toBeVisible()
  await database.stop()
  await expect(page.getByTestId('banner')).toContainText('The database does not answer.')
  await line(page, 'Dora').click()
  await page.keyboard.press('Enter')
  await page.keyboard.type('Gus Moen — Mechanic')
  await expect(page.getByTestId('banner')).toContainText('kept in this browser and will be sent')
  await expect(card(page, 'Gus Moen')).toBeVisible()
  const again = await startMariaDb(folder, 'mortal')
  await saved(page)
  await expect(page.getByTestId('banner')).toHaveCount(0)
  await page.reload()
  await expect(card(page, 'Gus Moen')).toBeVisible()
  await server.stop()
  await again.stop()
})

test('a lost connection is said and mended without a word being lost', async ({ page, context }) => {
  const id = await ofList(page, COMPANY)
  await open(page, id)
  await context.setOffline(true)
  await line(page, 'Dan Lie').click()
  await page.keyboard.press('End')
  await page.keyboard.type(' two')
  await expect(page.getByTestId('standing')).toHaveText('Waiting')
  await context.setOffline(false)
  await saved(page)
  await page.reload()
  await expect(line(page, 'Dan Lie — Planner two')).toBeVisible()
})

test('a part of the page that the line took away comes by itself when it is back', async ({ page }) => {
  const id = await ofList(page, COMPANY)
  let cut = 0
  for (const part of ['Comments', 'Signs'])
    await page.route(`**/${part}.*.js`, (route) => (cut++ < 2 ? route.abort() : route.continue()))
  await page.goto(`${address()}/w/${id}`)
  await expect(page.getByRole('region', { name: 'Comments' })).toBeVisible()
  expect(cut).toBeGreaterThan(2)
  await expect(page.getByText('failed.')).toHaveCount(0)
})

test('two changes of the same fact are shown side by side, and the person chooses', async ({ page }) => {
  const id = await ofList(page, COMPANY)
  await open(page, id)
  const { revision, workspace } = (await (await fetched(page, `${address()}/api/workspaces/${id}`)).json()) as {
    revision: number
    workspace: { entities: { id: string; name: string }[] }
  }
  const dan = workspace.entities.find(({ name }) => name === 'Planner')?.id
  // Somebody else is faster: their change reaches the server just before this page's does.
  let first = true
  await page.route('**/changes', async (route) => {
    if (first && route.request().method() === 'POST') {
      first = false
      const data = {
        id: 'other-1',
        base: revision,
        label: 'Write “Planner theirs”',
        author: 'Somebody',
        steps: [{ do: 'set-entity', id: dan, path: 'name', value: 'Planner theirs' }],
      }
      expect((await page.request.post(`${address()}/api/workspaces/${id}/changes`, { data })).status()).toBe(200)
      // The page hears of it only after its own request was answered.
      const response = await page.request.post(route.request().url(), {
        data: { ...route.request().postDataJSON(), base: revision },
      })
      return route.fulfill({ response })
    }
    return route.continue()
  })
  await line(page, 'Dan Lie').click()
  await page.keyboard.press('End')
  await page.keyboard.insertText(' mine')
  const question = page.getByRole('dialog', { name: 'Two changes of the same facts' })
  await expect(question).toContainText('Planner mine')
  await expect(question).toContainText('Write “Planner theirs”')
  await question.getByRole('button', { name: 'Make mine all the same' }).click()
  await saved(page)
  await expect(card(page, 'Planner mine')).toBeVisible()
  const after = (await (await fetched(page, `${address()}/api/workspaces/${id}`)).json()) as {
    workspace: { entities: { name: string }[] }
  }
  expect(after.workspace.entities.map(({ name }) => name)).toContain('Planner mine')
})

const namesIn = async (page: Page, id: string): Promise<string[]> => {
  const { workspace } = (await (await fetched(page, `${address()}/api/workspaces/${id}`)).json()) as {
    workspace: { entities: { name: string }[] }
  }
  return workspace.entities.map(({ name }) => name)
}
const typeAtEnd = async (page: Page, at: string, text: string) => {
  await line(page, at).click()
  await page.keyboard.press('End')
  await page.keyboard.type(text)
}
const QUESTION = 'Two changes of the same facts'

test('after a cut, both sides of one field are asked about, and neither is lost before', async ({ page, browser }) => {
  const id = await ofList(page, COMPANY)
  await open(page, id)
  const context = await browser.newContext({ viewport: { width: 1280, height: 800 } })
  const other = await context.newPage()
  await open(other, id)
  await page.context().setOffline(true)
  await typeAtEnd(page, 'Dan Lie', ' mine')
  await typeAtEnd(other, 'Dan Lie', ' theirs')
  await saved(other)
  expect(await namesIn(other, id)).toContain('Planner theirs')
  await page.context().setOffline(false)
  const question = page.getByRole('dialog', { name: QUESTION })
  await expect(question).toContainText('Planner mine')
  await expect(question).toContainText('Planner theirs')
  // Escape answers nothing, and what is typed stays where a reload finds it.
  await page.keyboard.press('Escape')
  await page.reload()
  await expect(question).toContainText('Planner mine')
  expect(await namesIn(other, id)).toContain('Planner theirs')
  await question.getByRole('button', { name: 'Drop mine' }).click()
  await saved(page)
  await expect(card(page, 'Planner theirs')).toBeVisible()
  expect(await namesIn(other, id)).toContain('Planner theirs')
  await context.close()
})

test.describe('what another has saved since somebody began to write', () => {
  /** Each a way to begin to write the title of Dan Lie’s post, and one to be done with it. */
  const WAYS: readonly (readonly [string, (page: Page) => Promise<void>, (page: Page) => Promise<void>])[] = [
    [
      'in the margin',
      async (page) => {
        await press(page, 'Dan Lie')
        const field = page.getByTestId('facts').locator('input[data-field="name"]')
        await field.click()
        await field.fill('Mine')
      },
      (page) => page.keyboard.press('Enter'),
    ],
    [
      'in the picture',
      async (page) => {
        await press(page, 'Dan Lie')
        await page.keyboard.press('F2')
        const field = page.locator('[data-in-place]')
        if ((await field.inputValue()) !== 'Planner') await page.keyboard.press('Tab')
        await expect(field).toHaveValue('Planner')
        await field.fill('Mine')
      },
      (page) => page.keyboard.press('Enter'),
    ],
    [
      'in a register',
      async (page) => {
        await page.getByRole('tab', { name: /^Positions/ }).click()
        const cell = page.locator('.ag-row', { hasText: 'Dan Lie' }).locator('.ag-cell[col-id="name"]')
        await cell.click()
        await page.keyboard.press('F2')
        await page.keyboard.press('Control+A')
        await page.keyboard.type('Mine')
      },
      (page) => page.keyboard.press('Enter'),
    ],
  ]
  for (const [where, begin, end] of WAYS)
    test(`${where} is asked about when they are done, and not lost`, async ({ page, browser }) => {
      const id = await ofList(page, COMPANY)
      await open(page, id)
      const context = await browser.newContext({ viewport: { width: 1280, height: 800 } })
      const other = await context.newPage()
      await open(other, id)
      await begin(page)
      await typeAtEnd(other, 'Dan Lie', ' theirs')
      await saved(other)
      await expect(card(page, 'Planner theirs')).toBeVisible()
      await end(page)
      const question = page.getByRole('dialog', { name: QUESTION })
      await expect(question).toContainText('theirs')
      expect(await namesIn(other, id)).toContain('Planner theirs')
      await question.getByRole('button', { name: 'Drop mine' }).click()
      await saved(page)
      await expect(card(page, 'Planner theirs')).toBeVisible()
      await context.close()
    })
  test('and was seen before anything was typed is no question', async ({ page, browser }) => {
    const id = await ofList(page, COMPANY)
    await open(page, id)
    const context = await browser.newContext({ viewport: { width: 1280, height: 800 } })
    const other = await context.newPage()
    await open(other, id)
    await press(page, 'Dan Lie')
    const field = page.getByTestId('facts').locator('input[data-field="name"]')
    await field.click()
    await typeAtEnd(other, 'Dan Lie', ' theirs')
    await saved(other)
    await expect(field).toHaveValue('Planner theirs')
    await page.keyboard.press('End')
    await page.keyboard.type(' and mine')
    await page.keyboard.press('Enter')
    await saved(page)
    expect(await namesIn(other, id)).toContain('Planner theirs and mine')
    await context.close()
  })
})

test('typing at once into one field loses no side without a question', async ({ page, browser }) => {
  const id = await ofList(page, COMPANY)
  const context = await browser.newContext({ viewport: { width: 1280, height: 800 } })
  const other = await context.newPage()
  await Promise.all([open(page, id), open(other, id)])
  await Promise.all([typeAtEnd(page, 'Dan Lie', ' mine'), typeAtEnd(other, 'Dan Lie', ' theirs')])
  const asked = (one: Page) => one.getByRole('dialog', { name: QUESTION })
  // One side is first; the other is asked.
  await expect.poll(async () => (await asked(page).count()) + (await asked(other).count())).toBe(1)
  const [late, early] = (await asked(page).count()) === 1 ? [page, other] : [other, page]
  await saved(early)
  // What the other side goes on typing while the question is open is told in it.
  await expect(asked(late)).toContainText(late === page ? 'Planner theirs' : 'Planner mine')
  await asked(late).getByRole('button', { name: 'Make mine all the same' }).click()
  await Promise.all([saved(page), saved(other)])
  const mine = late === page ? 'Planner mine' : 'Planner theirs'
  expect(await namesIn(page, id)).toContain(mine)
  await expect(card(early, mine)).toBeVisible()
  await context.close()
})

test('a question waits until nobody types: it takes no letter, and asks about all that was typed', async ({
  page,
  browser,
}) => {
  const id = await ofList(page, COMPANY)
  const context = await browser.newContext({ viewport: { width: 1280, height: 800 } })
  const other = await context.newPage()
  await Promise.all([open(page, id), open(other, id)])
  await page.context().setOffline(true)
  await typeAtEnd(page, 'Dan Lie', ' mine')
  await typeAtEnd(other, 'Dan Lie', ' theirs')
  await saved(other)
  const refused = page.waitForResponse((response) => response.status() === 409)
  await page.context().setOffline(false)
  // Letters, and the keys that would press a button.
  const question = page.getByRole('dialog', { name: QUESTION })
  let [isRefused, typed] = [false, '']
  void refused.then(() => (isRefused = true))
  for (let more = 0; more < 4; more += isRefused ? 1 : 0) {
    await page.keyboard.type('a ', { delay: 250 })
    typed += 'a '
    expect(await question.count()).toBe(0)
  }
  await expect(question).toContainText('Planner theirs')
  // A key that was on its way when it opened is no answer.
  for (const key of ['Space', 'Enter', 'Escape']) await page.keyboard.press(key)
  await expect(question).toBeVisible()
  expect(await outlineText(page)).toContain(`Planner mine${typed.trimEnd()}`)
  expect(await namesIn(other, id)).toContain('Planner theirs')
  await question.getByRole('button', { name: 'Make mine all the same' }).click()
  await saved(page)
  expect(await namesIn(page, id)).toContain(`Planner mine${typed.trimEnd()}`)
  await context.close()
})

test('undo takes back no work of somebody else', async ({ page, browser }) => {
  const id = await ofList(page, COMPANY)
  const context = await browser.newContext({ viewport: { width: 1280, height: 800 } })
  const other = await context.newPage()
  await Promise.all([open(page, id), open(other, id)])
  await typeAtEnd(page, 'Dan Lie', ' mine')
  await saved(page)
  await expect(card(other, 'Planner mine')).toBeVisible()
  await typeAtEnd(other, 'Dan Lie', ' theirs')
  await expect(card(page, 'Planner mine theirs')).toBeVisible()
  await page.keyboard.press('Escape')
  await page.keyboard.press('Control+z')
  await expect(notice(page)).toContainText('somebody else has changed the same since')
  expect(await namesIn(page, id)).toContain('Planner mine theirs')
  await context.close()
})

test('a duplicated tab is one of its own: what both have not sent is kept for both', async ({ page, context }) => {
  const id = await ofList(page, COMPANY)
  await open(page, id)
  const tab = await page.evaluate(() => sessionStorage.getItem('skivel:tab'))
  const twin = await context.newPage()
  // A browser gives the duplicate the storage of the first.
  await twin.addInitScript((name) => {
    if (!sessionStorage.getItem('skivel:copied')) {
      sessionStorage.setItem('skivel:copied', 'yes')
      sessionStorage.setItem('skivel:tab', name ?? '')
    }
  }, tab)
  await open(twin, id)
  expect(await twin.evaluate(() => sessionStorage.getItem('skivel:tab'))).not.toBe(tab)
  await context.setOffline(true)
  await typeAtEnd(page, 'Dan Lie', ' first')
  await typeAtEnd(twin, 'Finn Bo', ' second')
  for (const one of [page, twin]) await expect(one.getByTestId('standing')).toHaveText('Waiting')
  await Promise.all([page.close(), twin.close()])
  await context.setOffline(false)
  const again = await context.newPage()
  await open(again, id)
  await expect.poll(() => namesIn(again, id)).toEqual(expect.arrayContaining(['Planner first', 'Accountant second']))
})

test('a failure of the server keeps the change and tries again; what is refused can be tried again and saved', async ({
  page,
}) => {
  const id = await ofList(page, COMPANY)
  await open(page, id)
  let answer = { status: 500, code: 'internal' }
  let tries = 0
  await page.route('**/changes', (route) => {
    if (route.request().method() !== 'POST') return route.continue()
    tries++
    const error = { code: answer.code, message: 'Something went wrong in the server.' }
    return route.fulfill({ status: answer.status, contentType: 'application/json', body: JSON.stringify({ error }) })
  })
  await typeAtEnd(page, 'Dan Lie', ' kept')
  await expect(page.getByTestId('banner')).toContainText('Something went wrong in the server.')
  const question = page.getByRole('dialog', { name: 'A change could not be made' })
  await expect(question).toBeVisible()
  expect(tries).toBeGreaterThanOrEqual(3)
  const download = page.waitForEvent('download')
  await question.getByRole('button', { name: 'Save what is shown as a file' }).click()
  expect((await download).suggestedFilename()).toBe('test-company.skivel.json')
  answer = { status: 400, code: 'bad-request' }
  await question.getByRole('button', { name: 'Try again' }).click()
  await expect(question).toContainText('Something went wrong in the server.')
  await page.unroute('**/changes')
  await question.getByRole('button', { name: 'Try again' }).click()
  await saved(page)
  expect(await namesIn(page, id)).toContain('Planner kept')
})

test('an emoji that is cut in half is left out, and everything is saved', async ({ page }) => {
  const id = await ofList(page, COMPANY)
  await open(page, id)
  await line(page, 'Dan Lie').click()
  await page.keyboard.press('End')
  // As where a program cuts a text by its length before it hands it over.
  await page.evaluate(() => {
    const field = document.activeElement as HTMLInputElement
    const write = Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, 'value')?.set
    write?.call(field, `${field.value} \ud83d`)
    field.dispatchEvent(new Event('input', { bubbles: true }))
  })
  await page.keyboard.press('End')
  await page.keyboard.type('end')
  await saved(page)
  expect((await namesIn(page, id)).some((name) => /^Planner\s+end$/.test(name))).toBe(true)
})

test('the history says who did what, shows a revision and restores it', async ({ page }) => {
  await open(page, await ofList(page, COMPANY))
  await press(page, 'Eva Nes')
  await page.keyboard.press('Delete')
  await page.getByRole('button', { name: 'Remove', exact: true }).click()
  await expect(card(page, 'Eva Nes')).toHaveCount(0)
  await saved(page)
  await page.getByRole('button', { name: 'Workspace Test company' }).click()
  await page.getByRole('menuitem', { name: 'History' }).click()
  const history = page.getByRole('dialog', { name: 'History' })
  await expect(history.getByRole('list', { name: 'Changes' })).toContainText('Remove “Finance lead”')
  await history.getByRole('button', { name: 'As it began' }).click()
  await expect(history.getByTestId('since')).toContainText('− position “Finance lead”')
  await expect(history.locator('svg text', { hasText: 'Eva Nes' })).toBeVisible()
  await history.getByRole('button', { name: 'Compare it with now on the sheet' }).click()
  await expect(page.getByTestId('headline')).toHaveText('− 1 gone, » 1 moved')
  await expect(page.getByText('Compared with revision 0.')).toBeVisible()
  await page.getByRole('button', { name: 'Stop comparing' }).click()
  await expect(page.getByTestId('headline')).toContainText('6 positions')
  await page.getByRole('button', { name: 'Workspace Test company' }).click()
  await page.getByRole('menuitem', { name: 'History' }).click()
  await history.getByRole('button', { name: 'As it began' }).click()
  await history.getByRole('button', { name: 'Restore this revision' }).click()
  await expect(card(page, 'Eva Nes')).toBeVisible()
  await expect.poll(() => outlineText(page)).toBe(COMPANY)
})

test('an unknown workspace is explained', async ({ page }) => {
  await page.goto(`${address()}/w/nothing`)
  await expect(page.getByText('There is no such workspace.')).toBeVisible()
  await page.getByRole('link', { name: 'All workspaces' }).click()
  await expect(page.getByRole('heading', { name: 'State the facts. The drawing follows.' })).toBeVisible()
})
