import { readFileSync } from 'node:fs'
import type { Page } from '@playwright/test'
import { Model } from '../../src/core/model'
import {
  address,
  bringIn,
  card,
  dragTo,
  expect,
  line,
  middleOf,
  newView,
  notice,
  ofDemo,
  ofModel,
  outlineText,
  pasteText,
  press,
  saved,
  sheet,
  test,
} from './pages'

const CLAIM = `start: Claim arrives @ Front desk
Record the claim
Is it complete?
  yes
    Check the claim @ Assessor
  no
    Ask for what is missing
end: Claim settled @ Front desk`

/** Opens the demo at a view of its processes. */
async function openView(page: Page, title: string): Promise<void> {
  await page.goto(`${address()}/w/${await ofDemo(page)}`)
  await page.getByRole('navigation').getByRole('button', { name: title, exact: true }).click()
  await expect(page.locator('[data-item]').first()).toBeVisible()
}

/** An empty workspace with a process pasted into its outline. */
async function openProcess(page: Page, text: string): Promise<void> {
  await page.goto(`${address()}/w/${await ofModel(page, Model.of({ name: 'Claims' }))}`)
  await newView(page, 'Work')
  await page.getByRole('button', { name: 'Write the first line' }).click()
  await pasteText(page, text)
  await expect(card(page, 'Record the claim')).toBeVisible()
}

test('a process is begun from an outline, drawn in its lanes, and stays after a reload', async ({ page }) => {
  await openProcess(page, CLAIM)
  await expect(card(page, 'Check the claim')).toBeVisible()
  await expect(page.getByTestId('headline')).toContainText('3 steps')
  await expect(sheet(page).locator('text', { hasText: 'Assessor' })).toBeVisible()
  const before = await outlineText(page)
  expect(before).toContain('  yes\n    Check the claim @ Assessor')
  await line(page, 'Record the claim').click()
  await page.keyboard.press('Enter')
  await page.keyboard.type('Thank the sender')
  await expect(card(page, 'Thank the sender')).toBeVisible()
  await saved(page)
  await page.reload()
  await expect(card(page, 'Thank the sender')).toBeVisible()
  expect(await outlineText(page)).toBe(before.replace('Record the claim', 'Record the claim\nThank the sender'))
})

test('a new view begins a process of its own, or shows another one', async ({ page }) => {
  await openView(page, 'Sailing cancelled')
  await newView(page, 'Work')
  await expect(page.getByText('Nothing to draw on this day.')).toBeVisible()
  await page.getByRole('button', { name: 'Show another process…' }).click()
  await page.getByRole('option', { name: /New fare published/ }).click()
  await expect(card(page, 'Draft the fare')).toBeVisible()
})

test('a step dropped into another lane is done there', async ({ page }) => {
  await openProcess(page, CLAIM)
  await dragTo(page, 'Record the claim', 'Check the claim')
  await page.keyboard.press('Escape')
  await page.mouse.up()
  const start = await middleOf(card(page, 'Record the claim'))
  const lane = await middleOf(sheet(page).locator('text', { hasText: 'Assessor' }))
  await page.mouse.move(start.x, start.y)
  await page.mouse.down()
  await page.mouse.move(start.x + 20, start.y + 30, { steps: 3 })
  await page.mouse.move(start.x, lane.y, { steps: 4 })
  await expect(page.locator('[data-verdict=yes]')).toContainText('Put “Record the claim” into “Assessor”')
  await page.mouse.up()
  await expect.poll(() => outlineText(page)).toContain('Record the claim @ Assessor')
  await page.keyboard.press('Control+z')
  await expect.poll(() => outlineText(page)).not.toContain('Record the claim @ Assessor')
})

test('a decision has two labelled ways on, one as before and one to a new step', async ({ page }) => {
  await openProcess(page, CLAIM)
  await press(page, 'Record the claim')
  await page.keyboard.press('p')
  await page.keyboard.type('Is it urgent?')
  await page.keyboard.press('Enter')
  await expect(card(page, 'Is it urgent?')).toBeVisible()
  const text = await outlineText(page)
  expect(text).toContain('Is it urgent?\n  yes')
  expect(text).toContain('  no')
  await expect(page.getByRole('region', { name: 'Findings' })).not.toContainText('has no label')
  await page.keyboard.press('Control+z')
  await page.keyboard.press('Control+z')
  await expect.poll(() => outlineText(page)).not.toContain('urgent')
})

test('lanes are put in another order, made wider and turned with the mouse', async ({ page }) => {
  await openProcess(page, CLAIM)
  const head = (name: string) => sheet(page).locator('text', { hasText: name }).first()
  const [first, second] = [await middleOf(head('Front desk')), await middleOf(head('Assessor'))]
  expect(first.y).toBeLessThan(second.y)
  await page.mouse.move(first.x, first.y)
  await page.mouse.down()
  await page.mouse.move(second.x, second.y, { steps: 5 })
  await expect(page.locator('[data-verdict=yes]')).toContainText('Put lane “Front desk” where “Assessor” is')
  await page.mouse.up()
  // While it is drawn anew, a head may be missing for a moment.
  await expect(async () =>
    expect((await middleOf(head('Front desk'))).y - (await middleOf(head('Assessor'))).y).toBeGreaterThan(40),
  ).toPass({ timeout: 15_000 })
  await page.getByRole('button', { name: 'Look of the picture' }).click()
  await page.getByLabel('Runs').selectOption('down')
  await page.keyboard.press('Escape')
  await expect(async () =>
    expect((await middleOf(head('Front desk'))).x - (await middleOf(head('Assessor'))).x).toBeGreaterThan(100),
  ).toPass({ timeout: 15_000 })
})

test('a deadlock is explained by playing the way to it', async ({ page }) => {
  await openView(page, 'Sailing cancelled')
  const finding = page.getByTestId('findings').locator('li', { hasText: 'Can never finish' }).first()
  await finding.getByRole('button', { name: 'Play it' }).click()
  const moment = page.getByTestId('moment')
  await expect(moment).toHaveText('1 of 23: “Sailing in doubt”')
  await expect(page.locator('[data-played]').first()).toBeAttached()
  await page.getByRole('button', { name: 'Hold', exact: true }).click()
  const on = page.getByRole('button', { name: 'On', exact: true })
  while (await on.isEnabled()) await on.click()
  await expect(moment).toContainText('23 of 23')
  await page.getByRole('button', { name: 'Stop', exact: true }).click()
  await expect(page.locator('[data-played]')).toHaveCount(0)
})

test('a process goes out as BPMN and comes in again as it was drawn, then arranged', async ({ page }) => {
  await openView(page, 'New fare published')
  await page.getByRole('button', { name: 'Save as a file' }).click()
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('menuitem', { name: /BPMN 2.0/ }).click(),
  ])
  const xml = readFileSync(await download.path())
  expect(xml.toString()).toContain('bpmndi:BPMNShape')
  await page.goto(`${address()}/w/${await ofModel(page, Model.of({ name: 'Elsewhere' }))}`)
  await newView(page, 'Work')
  await bringIn(page, 'A BPMN 2.0 file', 'broken.bpmn', Buffer.from('<definitions><process'))
  await expect(notice(page)).toContainText('BPMN 2.0')
  await bringIn(page, 'A BPMN 2.0 file', 'fare.bpmn', xml)
  await page.getByRole('dialog').locator('button.btn-primary').click()
  await expect(card(page, 'Draft the fare')).toBeVisible()
  const asDrawn = await middleOf(card(page, 'Draft the fare'))
  await page.keyboard.press('Control+k')
  await page.keyboard.type('Arrange')
  await page.keyboard.press('Enter')
  await expect(page.getByTestId('notice')).toHaveCount(0)
  await expect(card(page, 'Draft the fare')).toBeVisible()
  expect(asDrawn.x).toBeGreaterThan(0)
  await saved(page)
})

test('a process copied as text and pasted into an empty workspace is the same process', async ({ page }) => {
  await openView(page, 'Sailing cancelled')
  const shown = await page.getByTestId('headline').textContent()
  await page.getByRole('button', { name: 'Copy as text' }).click()
  await expect(notice(page)).toContainText('lines copied')
  const text = await page.evaluate(() => navigator.clipboard.readText())
  expect(text).toContain('data Booking list: store')
  await page.goto(`${address()}/w/${await ofModel(page, Model.of({ name: 'Copy' }))}`)
  await newView(page, 'Work')
  await page.getByRole('button', { name: 'Write the first line' }).click()
  await page.keyboard.press('Control+v')
  await expect(card(page, 'Assess the sailing')).toBeVisible()
  await page.getByRole('button', { name: 'Fit', exact: true }).click()
  await expect(page.getByTestId('headline')).toHaveText(shown ?? '')
  for (const name of ['Booking list', 'Notice']) await expect(card(page, name)).toBeVisible()
  await expect(sheet(page).locator('text', { hasText: 'Look after passengers' }).first()).toBeVisible()
  await page.getByRole('button', { name: 'Copy as text' }).click()
  await expect.poll(() => page.evaluate(() => navigator.clipboard.readText())).toBe(text)
})

test('a line that cannot be read stays as typed with the reason beside it, until it can or is taken back', async ({
  page,
}) => {
  await openProcess(page, CLAIM)
  const yes = page.locator('input[data-line]').nth(3)
  await yes.click()
  await page.keyboard.press('End')
  await page.keyboard.type(': Approve it')
  const reason = page.getByText('“Approve it” is a step: it goes on a line of its own')
  await expect(reason).toBeVisible()
  // Elsewhere everything goes on, and nothing that was typed is lost.
  await line(page, 'Record the claim').click()
  await page.keyboard.press('End')
  await page.keyboard.type('s')
  await expect(card(page, 'Record the claims')).toBeVisible()
  await expect(yes).toHaveValue('yes: Approve it')
  await expect(reason).toBeVisible()
  await page.getByRole('tab', { name: /Steps/ }).click()
  await page.getByRole('tab', { name: 'Outline' }).click()
  await expect(yes).toHaveValue('yes: Approve it')
  await page.getByRole('button', { name: 'As it was' }).click()
  await expect(yes).toHaveValue('yes')
  await expect(reason).toHaveCount(0)
})
