import { asDay } from '../../src/core/model'
import { facts, person, position, reports, tie } from '../facts'
import { card, expect, ofDemo, ofModel, open, test } from './pages'

test('the arrows go from tick to tick, and the picture, the numbers and the findings follow', async ({ page }) => {
  const model = facts(
    position('head', { name: 'Head' }),
    position('later', { name: 'Later post', from: asDay('2027-03-01') }),
    reports('later', 'head', { from: asDay('2027-03-01') }),
    person('p', { name: 'Ada Holm' }),
    tie('holds', 'p', 'head', { to: asDay('2027-01-31') }),
  )
  await open(page, await ofModel(page, model))
  await page.getByTestId('day').click()
  await page.keyboard.type('2026-11-24')
  await page.keyboard.press('Enter')
  await expect(page.getByTestId('day')).toHaveText('Tue 24 Nov 2026')
  await expect(card(page, 'Ada Holm')).toBeVisible()
  await page.keyboard.press('d')
  await page.keyboard.press('ArrowRight')
  await expect(page.getByTestId('day')).toHaveText('Sun 31 Jan 2027')
  await page.keyboard.press('ArrowRight')
  await expect(page.getByTestId('day')).toHaveText('Mon 1 Mar 2027')
  await expect(card(page, 'Later post')).toBeVisible()
  await expect(card(page, 'vacant since 1 Feb')).toBeVisible()
  await expect(page.getByTestId('headline')).toHaveText('2 positions, 0 fte, 2 vacant')
  await page.keyboard.press('Shift+ArrowLeft')
  await expect(card(page, 'Later post')).toHaveCount(0)
})

test('a day is picked on the strip with the mouse, and nonsense in its field is refused', async ({ page }) => {
  await open(page, await ofDemo(page))
  const strip = await page.locator('[data-dateline]').boundingBox()
  if (!strip) throw new Error('no date line')
  await page.mouse.click(strip.x + strip.width - 60, strip.y + 26)
  await expect(page.getByTestId('day')).toContainText('2027')
  await expect(card(page, 'Head of terminals')).toBeVisible()
  await page.getByTestId('day').click()
  await page.keyboard.type('some day')
  await page.keyboard.press('Enter')
  await expect(page.getByTestId('notice')).toContainText('is not a day')
})

test('a finding is found from its mark, explained, and mended by its fix', async ({ page }) => {
  await open(page, await ofDemo(page))
  await page.getByTestId('day').click()
  await page.keyboard.type('2026-11-24')
  await page.keyboard.press('Enter')
  await expect(page.getByTestId('tally')).toHaveText(/6\s*errors.*11\s*warnings/)
  await page.locator('[data-finding="org/two-managers"]').click()
  const finding = page.getByTestId('findings').locator('li', { hasText: 'Two managers on one day' })
  await finding.getByRole('button', { name: 'Why' }).click()
  await expect(finding).toContainText('Source: Common practice.')
  await finding.getByRole('button', { name: 'Dotted to “Revenue accountant”' }).click()
  await expect(page.getByTestId('tally')).toHaveText(/5\s*errors.*11\s*warnings/)
  await expect(page.locator('[data-finding="org/two-managers"]')).toHaveCount(0)
})

test('a finding is accepted with a reason and a day, stays listed, and counts again', async ({ page }) => {
  await open(page, await ofDemo(page))
  await page.getByTestId('day').click()
  await page.keyboard.type('2026-11-24')
  await page.keyboard.press('Enter')
  const finding = page.getByTestId('findings').locator('li', { hasText: 'position vacant' })
  await finding.getByRole('button', { name: 'Accept…' }).click()
  await finding.getByRole('button', { name: 'Accept it' }).click()
  await expect(finding.getByRole('alert')).toContainText('Say why')
  await finding.getByLabel('Reason').fill('Being advertised')
  await finding.getByLabel('Until').fill('31 Jan 2027')
  await finding.getByRole('button', { name: 'Accept it' }).click()
  await expect(page.getByTestId('tally')).toHaveText(/10\s*warnings$/)
  await expect(page.locator('[data-finding="org/vacant-manager"]')).toHaveCount(0)
  await page.getByTestId('accepted').locator('summary').click()
  await expect(page.getByTestId('accepted')).toContainText('Being advertised, until 31 Jan 2027')
  await page.getByTestId('accepted').getByRole('button', { name: 'Count it again' }).click()
  await expect(page.getByTestId('tally')).toHaveText(/11\s*warnings$/)
})

test('the limits of the rules are the workspace’s own', async ({ page }) => {
  await open(page, await ofDemo(page))
  await page.getByRole('button', { name: 'Workspace Marram Sound Ferries' }).click()
  await page.getByRole('menuitem', { name: 'Limits of the rules' }).click()
  const limit = page.locator('[data-limit="org/wide-span"]')
  await expect(limit).toHaveValue('9')
  await limit.fill('8')
  await limit.press('Enter')
  await page.keyboard.press('Escape')
  await expect(page.getByTestId('findings')).toContainText('9 direct reports, more than the 8 set')
})

test('two days are compared: what is new, gone and moved is on the cards, and reads without colour', async ({
  page,
}) => {
  await open(page, await ofDemo(page))
  await page.getByTestId('day').click()
  await page.keyboard.type('2027-02-01')
  await page.keyboard.press('Enter')
  await page.getByRole('button', { name: 'Compare…' }).click()
  await page.getByTestId('compared').click()
  await page.keyboard.type('2026-11-24')
  await page.keyboard.press('Enter')
  await expect(page.getByTestId('headline')).toHaveText(/\+ 1 new, − 3 gone, » 9 moved/)
  await expect(card(page, 'Head of terminals')).toContainText('+')
  await page.keyboard.press('0')
  await expect(card(page, 'Refunds clerk')).toBeVisible()
  await page.getByRole('button', { name: 'One day', exact: true }).click()
  await expect(page.getByTestId('headline')).toContainText('positions')
})
