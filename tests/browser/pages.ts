import AxeBuilder from '@axe-core/playwright'
import { expect, test as base, type APIResponse, type Locator, type Page } from '@playwright/test'
import { writeWorkspace } from '../../src/core/file'
import type { Model } from '../../src/core/model'
import { marramPictures, marramSoundFerries } from '../../src/demo'

export const address = (): string => process.env['SKIVEL_ADDRESS'] ?? ''

export const COMPANY = `Ada Holm — Head
  Ben Aas — Assistant (assistant)
  Cleo Moe — Operations lead
    Dan Lie — Planner
    Dora Vik — Driver
  Eva Nes — Finance lead
    Finn Bo — Accountant`

/** A test that fails when the page reports an error by itself. */
export const test = base.extend<{ noErrors: void }>({
  noErrors: [
    async ({ page }, use) => {
      const errors: string[] = []
      page.on('pageerror', (error) => errors.push(error.message))
      page.on('console', (message) => {
        if (message.type() === 'error' && !/Failed to load resource|net::ERR/.test(message.text()))
          errors.push(message.text())
      })
      await use()
      expect(errors).toEqual([])
    },
    { auto: true },
  ],
})
export { expect }

export async function create(page: Page, body: object): Promise<string> {
  const response = await page.request.post(`${address()}/api/workspaces`, { data: body })
  expect(response.status()).toBe(201)
  return ((await response.json()) as { id: string }).id
}
export const ofList = (page: Page, list: string): Promise<string> => create(page, { list, name: 'Test company' })
export const ofModel = (page: Page, model: Model): Promise<string> => create(page, { file: writeWorkspace(model) })
export const ofDemo = (page: Page): Promise<string> =>
  create(page, { file: writeWorkspace(marramSoundFerries(), marramPictures()) })

/** Asks the server beside the page. A kept connection may be closed just when it is used again: then it is asked once more. */
export const fetched = (page: Page, path: string): Promise<APIResponse> => page.request.get(path, { maxRetries: 2 })

/** Opens the first page and waits until it answers: it is drawn before its program runs. */
export async function openHome(page: Page): Promise<void> {
  await page.goto(address())
  await page.locator('astro-island:not([ssr])').first().waitFor({ state: 'attached' })
}

/** Opens a workspace and waits until its picture is there. */
export async function open(page: Page, id: string): Promise<void> {
  await page.goto(`${address()}/w/${id}`)
  await expect(page.getByTestId('headline')).toContainText('position')
  await expect(page.locator('[data-item]').first()).toBeVisible()
}

/** Has all that other threads answer to the pages to come arrive later by so many ms: their pictures are behind what is typed. */
export async function withLateThreads(page: Page, late: number): Promise<void> {
  await page.addInitScript((ms) => {
    window.Worker = class extends Worker {
      override addEventListener(
        kind: string,
        then: EventListenerOrEventListenerObject,
        options?: boolean | AddEventListenerOptions,
      ) {
        const later = (event: Event) =>
          setTimeout(() => (typeof then === 'function' ? then(event) : then.handleEvent(event)), ms)
        super.addEventListener(kind, later, options)
      }
    }
  }, late)
}

/** Makes a view in a chapter, of one of the choices. */
export async function newView(page: Page, chapter: string, choice = 'Empty'): Promise<void> {
  await page.getByRole('region', { name: chapter, exact: true }).getByRole('button', { name: 'New view' }).click()
  await page
    .getByRole('dialog')
    .getByRole('button', { name: new RegExp(`^${choice}\\b`) })
    .click()
}

export const sheet = (page: Page): Locator => page.getByTestId('sheet')
/** The card on the sheet that carries a text. */
export const card = (page: Page, text: string): Locator =>
  sheet(page).locator('g[data-item]', { hasText: text }).first()

export async function middleOf(locator: Locator): Promise<{ x: number; y: number }> {
  const box = await locator.boundingBox()
  if (!box) throw new Error('it is not on the page')
  return { x: box.x + box.width / 2, y: box.y + box.height / 2 }
}

/** Cards are hit by where they are, so the mouse goes there as a hand would. */
export async function press(page: Page, text: string): Promise<void> {
  const { x, y } = await middleOf(card(page, text))
  await page.mouse.click(x, y)
}

export async function dragTo(page: Page, from: string, to: string): Promise<void> {
  const start = await middleOf(card(page, from))
  const end = await middleOf(card(page, to))
  await page.mouse.move(start.x, start.y)
  await page.mouse.down()
  await page.mouse.move((start.x + end.x) / 2, (start.y + end.y) / 2, { steps: 4 })
  await page.mouse.move(end.x, end.y, { steps: 4 })
}

/** The outline as text, two spaces a level. */
export const outlineText = (page: Page): Promise<string> =>
  page.getByTestId('outline').evaluate((outline) =>
    [...outline.querySelectorAll<HTMLInputElement>('input[data-line]')]
      .map((field) => ({ field, top: field.getBoundingClientRect().top }))
      .sort((a, b) => a.top - b.top)
      .map(
        ({ field }) =>
          '  '.repeat(Number(/level (\d+)/.exec(field.getAttribute('aria-label') ?? '')?.[1]) - 1) + field.value,
      )
      .join('\n'),
  )

export const line = (page: Page, text: string): Locator => page.locator(`input[data-line][value*="${text}"]`)

export const saved = (page: Page) => expect(page.getByTestId('standing')).toHaveText('Saved')
export const notice = (page: Page): Locator => page.getByTestId('notice')

/** Puts a text on the clipboard and pastes it as the keyboard would. */
export async function pasteText(page: Page, text: string): Promise<void> {
  await page.evaluate((one) => navigator.clipboard.writeText(one), text)
  await page.keyboard.press('Control+v')
}

/** Chooses a file from the menu of what is brought in, as its bytes. */
export async function bringIn(page: Page, what: string, name: string, buffer: Buffer): Promise<void> {
  await page.getByRole('button', { name: 'Bring in', exact: true }).click()
  const [chooser] = await Promise.all([
    page.waitForEvent('filechooser'),
    page.getByRole('menuitem', { name: what }).click(),
  ])
  await chooser.setFiles({ name, mimeType: 'application/octet-stream', buffer })
}

/** What axe finds against WCAG 2.2, levels A and AA, one line a rule. */
export async function faults(page: Page): Promise<string[]> {
  const { violations } = await new AxeBuilder({ page })
    .withTags(['wcag2a', 'wcag2aa', 'wcag21aa', 'wcag22aa'])
    .analyze()
  return violations.map(({ id, nodes }) => `${id}: ${nodes.map(({ html }) => html.slice(0, 160)).join(' | ')}`)
}
