import type { Page } from '@playwright/test'
import { address, card, expect, faults, ofDemo, open, openHome, test } from './pages'

/** What stands out of the page to its right, where nobody can get at it. WCAG 2.2, 1.4.10: no scrolling in two directions. */
const out = (page: Page) =>
  page.evaluate(() => {
    const root = document.querySelector('dialog[open]') ?? document.body
    const beyond = [...root.querySelectorAll('button, a, input, select, h1, h2, h3')].filter((element) => {
      const box = element.getBoundingClientRect()
      const isSeen = box.width > 1 && box.height > 1 && element.checkVisibility()
      // What scrolls by itself, as a register and the sheet do, has its own way to what stands further on.
      const scrolls = element.closest('.ag-root, [data-testid=sheet], .overflow-x-auto, [role=tablist]')
      return isSeen && !scrolls && (box.right > innerWidth + 1 || box.left < -1)
    })
    return [
      ...(document.documentElement.scrollWidth > innerWidth
        ? [`the page is ${document.documentElement.scrollWidth} px wide`]
        : []),
      ...beyond.map((element) => `${element.tagName} ${element.textContent?.slice(0, 30) ?? ''}`),
    ]
  })

test.describe('a telephone', () => {
  test.use({ viewport: { width: 360, height: 740 } })

  test('reads and begins on home', async ({ page }) => {
    await openHome(page)
    await page.getByRole('textbox', { name: /A list of people/ }).fill('Ada Holm — Head\n  Ben Aas — Clerk')
    await expect(page.getByTestId('preview')).toContainText('Ada Holm')
    expect(await out(page)).toEqual([])
    await page.getByRole('button', { name: 'Begin with this' }).click()
    await expect(card(page, 'Ada Holm')).toBeVisible()
    expect(await out(page)).toEqual([])
  })

  test('goes through the views, and has every part within reach, one over the picture at a time', async ({ page }) => {
    const id = await ofDemo(page)
    await open(page, id)
    const parts = page.getByRole('navigation', { name: 'Parts of the page' })
    const contents = page.getByRole('navigation', { name: 'Contents' })
    await expect(contents).toBeHidden()
    await parts.getByRole('button', { name: 'Contents' }).click()
    await contents.getByRole('button', { name: 'Port services', exact: true }).click()
    await expect(contents).toBeHidden()
    await expect(page.getByRole('heading', { level: 1 })).toHaveText('Port services')
    await parts.getByRole('button', { name: /^Margin/ }).click()
    await expect(page.getByTestId('margin')).toBeVisible()
    expect(await out(page)).toEqual([])
    expect(await faults(page)).toEqual([])
    await parts.getByRole('button', { name: 'Contents' }).click()
    await expect(page.getByTestId('margin')).toBeHidden()
    await page.getByRole('button', { name: 'Fold the contents' }).click({ position: { x: 350, y: 300 } })
    await expect(contents).toBeHidden()
    const registers = parts.getByRole('button', { name: 'Registers' })
    await expect(registers).toHaveAttribute('aria-expanded', 'true')
    await registers.click()
    await expect(registers).toHaveAttribute('aria-expanded', 'false')
    // What a narrow page folds is no wish: a broad one has everything.
    await page.setViewportSize({ width: 1280, height: 800 })
    await expect(contents).toBeVisible()
    await expect(page.getByTestId('margin')).toBeVisible()
    await expect(parts).toBeHidden()
  })

  test('has all of its dialogs within the page', async ({ page }) => {
    const id = await ofDemo(page)
    await open(page, id)
    await card(page, 'Hedda Lauring').waitFor()
    for (const command of ['Hand out', 'Theme', 'Proof side by side', 'Keys', 'History']) {
      if (command === 'Hand out') await page.getByRole('button', { name: command }).click()
      else {
        await page.getByRole('button', { name: /Go to or do/ }).click()
        await page.keyboard.type(command)
        await page.keyboard.press('Enter')
      }
      const dialog = page.locator('dialog[open]')
      await expect(dialog.getByRole('heading').first()).not.toHaveText('Go to or do')
      await page.waitForTimeout(500)
      expect(await out(page), command).toEqual([])
      await page.keyboard.press('Escape')
      await expect(dialog).toHaveCount(0)
    }
  })
})

test.describe('a page that is enlarged to 200 %', () => {
  test.use({ viewport: { width: 640, height: 400 } })

  test('gives the picture most of the page, and keeps everything within reach', async ({ page }) => {
    const id = await ofDemo(page)
    await open(page, id)
    const sheet = await page.getByTestId('sheet').boundingBox()
    expect(sheet?.width).toBe(640)
    expect(sheet?.height).toBeGreaterThan(150)
    expect(await out(page)).toEqual([])
    await page.getByRole('button', { name: 'Registers' }).click()
    await expect(page.getByRole('tab', { name: /Outline/ })).toBeVisible()
    expect(await out(page)).toEqual([])
    await page.goto(address())
    expect(await out(page)).toEqual([])
  })
})
