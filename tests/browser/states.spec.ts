import type { Page } from '@playwright/test'
import { Model } from '../../src/core/model'
import { address, card, expect, line, newView, notice, ofModel, pasteText, press, saved, sheet, test } from './pages'

const LIFE = `(initial)
  -> Draft
Draft
  on submit [complete] -> Submitted
  on submit [not complete] -> Draft
Submitted
  on park -> Parked
  on decide -> final
Parked`

/** An empty workspace with states pasted into its outline. */
async function openStates(page: Page): Promise<void> {
  await page.goto(`${address()}/w/${await ofModel(page, Model.of({ name: 'Lives' }))}`)
  await newView(page, 'Software')
  await page.getByRole('button', { name: 'Picture: Classes' }).click()
  await page.getByRole('menuitem', { name: /^States/ }).click()
  await page.getByRole('button', { name: 'Write the first line' }).click()
  await pasteText(page, LIFE)
  await expect(card(page, 'Draft')).toBeVisible()
}

test('a state machine is begun from a pasted outline, played into its trap, and mended; it stays after a reload', async ({
  page,
}) => {
  const trapped = page.getByRole('complementary').getByText('“Parked” is entered and never left')
  await openStates(page)
  await expect(page.getByTestId('headline')).toHaveText('3 states, 5 transitions')
  await press(page, 'Parked')
  await expect(trapped).toBeVisible()
  await page.getByRole('button', { name: 'Play it' }).first().click()
  const player = page.getByRole('toolbar', { name: 'The way to the fault, moment by moment' })
  await player.getByRole('button', { name: 'Hold', exact: true }).click()
  await expect(player).toContainText('It begins.')
  for (const words of [
    'now in “Draft”',
    '“submit” happens, as complete: now in “Submitted”',
    '“park” happens: now in “Parked”',
  ]) {
    await player.getByRole('button', { name: 'On', exact: true }).click()
    await expect(player).toContainText(words)
  }
  await player.getByRole('button', { name: 'Stop', exact: true }).click()
  await page.getByRole('button', { name: 'It is the end' }).first().click()
  await expect(trapped).toHaveCount(0)
  await saved(page)
  await page.reload()
  await expect(line(page, 'Parked  (final)')).toBeVisible()
})

test('a line is drawn from a state to another one, and what is written at it is refused where it goes wrong', async ({
  page,
}) => {
  const trapped = page.getByRole('complementary').getByText('“Parked” is entered and never left')
  await openStates(page)
  await press(page, 'Parked')
  const [from, to] = [await card(page, 'Parked').boundingBox(), await card(page, 'Draft').boundingBox()]
  if (!from || !to) throw new Error('no boxes')
  await page.mouse.move(from.x + from.width / 2, from.y + from.height)
  await page.mouse.down()
  await page.mouse.move(to.x + 20, to.y + 12, { steps: 6 })
  await page.mouse.up()
  const field = sheet(page).getByRole('textbox')
  await field.fill('resume [')
  await field.press('Enter')
  await expect(notice(page)).toContainText('“[” is opened and not closed')
  await field.fill('resume / tell')
  await field.press('Enter')
  await expect(line(page, 'on resume / tell -> Draft')).toBeVisible()
  await expect(trapped).toHaveCount(0)
})
