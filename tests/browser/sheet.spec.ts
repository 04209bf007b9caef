import sharp from 'sharp'
import {
  address,
  card,
  COMPANY,
  dragTo,
  expect,
  fetched,
  line,
  middleOf,
  notice,
  ofDemo,
  ofList,
  open,
  outlineText,
  press,
  saved,
  sheet,
  test,
} from './pages'

test('a box dropped on another manager takes its reports along; undo brings it back', async ({ page }) => {
  await open(page, await ofList(page, COMPANY))
  await dragTo(page, 'Cleo Moe', 'Eva Nes')
  await expect(page.locator('[data-verdict=yes]')).toContainText('Hand Cleo Moe over to Eva Nes')
  await page.mouse.up()
  await expect
    .poll(() => outlineText(page))
    .toContain('  Eva Nes — Finance lead\n    Finn Bo — Accountant\n    Cleo Moe — Operations lead\n      Dan Lie')
  await saved(page)
  await page.keyboard.press('Control+z')
  await expect.poll(() => outlineText(page)).toBe(COMPANY)
})

test('a drop that would make a circle says so while hovering, and does nothing', async ({ page }) => {
  await open(page, await ofList(page, COMPANY))
  await dragTo(page, 'Cleo Moe', 'Dan Lie')
  await expect(page.locator('[data-verdict=no]')).toContainText('That would be a circle.')
  await page.mouse.up()
  await expect(notice(page)).toContainText('circle')
  expect(await outlineText(page)).toBe(COMPANY)
})

test('a drop on a position that ends sooner is refused by the rule that it would break', async ({ page }) => {
  await open(page, await ofDemo(page))
  await dragTo(page, 'Ondine Leigh', 'Osei Brandt')
  await expect(page.locator('[data-verdict=no]')).toContainText(
    '“Port services lead” ends on 31 Jan 2027, but “Recruiter” still reports to it',
  )
  await page.mouse.up()
  await expect(page.getByTestId('undo-depth')).toHaveText('0 0')
})

test('a report is added by key, named in place, and walked to with arrows', async ({ page }) => {
  await open(page, await ofList(page, COMPANY))
  await press(page, 'Eva Nes')
  await page.keyboard.press('n')
  await page.keyboard.type('Gro Lind')
  await page.keyboard.press('Enter')
  await page.keyboard.type('Buyer')
  await page.keyboard.press('Enter')
  await expect(card(page, 'Gro Lind')).toContainText('Buyer')
  await page.keyboard.press('ArrowUp')
  await expect(page.getByTestId('margin').locator('h2')).toHaveText('Accountant')
  await page.keyboard.press('ArrowUp')
  await expect(page.getByTestId('margin').locator('h2')).toHaveText('Finance lead')
})

test('a double click types into name or title where it stands; Escape leaves it', async ({ page }) => {
  await open(page, await ofList(page, COMPANY))
  const { x, y } = await middleOf(card(page, 'Dora Vik'))
  await page.mouse.dblclick(x, y - 9)
  await page.keyboard.type('Dora Vang')
  await page.keyboard.press('Tab')
  await page.keyboard.type('Chief driver')
  await page.keyboard.press('Enter')
  await expect(card(page, 'Dora Vang')).toContainText('Chief driver')
  await page.keyboard.press('F2')
  await page.keyboard.type('Nobody')
  await page.keyboard.press('Escape')
  await expect(card(page, 'Dora Vang')).toBeVisible()
})

test('handing over by key asks to whom', async ({ page }) => {
  await open(page, await ofList(page, COMPANY))
  await press(page, 'Dan Lie')
  await page.keyboard.press('h')
  await page.getByPlaceholder('A name or a title').fill('finance')
  await page.keyboard.press('Enter')
  await expect.poll(() => outlineText(page)).toContain('    Finn Bo — Accountant\n    Dan Lie — Planner')
})

test('a branch that is handed over by key is shown as facts first', async ({ page }) => {
  await open(page, await ofList(page, COMPANY))
  await press(page, 'Cleo Moe')
  await page.keyboard.press('h')
  await page.getByPlaceholder('A name or a title').fill('finance')
  await page.keyboard.press('Enter')
  const question = page.getByRole('dialog', { name: /^Hand Cleo Moe over to Eva Nes/ })
  await expect(question).toContainText('2 positions below come along: Dan Lie, Dora Vik.')
  expect(await outlineText(page)).toBe(COMPANY)
  await question.getByRole('button', { name: 'Hand' }).click()
  await expect.poll(() => outlineText(page)).toContain('    Cleo Moe — Operations lead\n      Dan Lie — Planner')
})

test('with Alt held only the box itself is dropped; its reports stay', async ({ page }) => {
  await open(page, await ofList(page, COMPANY))
  await page.keyboard.down('Alt')
  await dragTo(page, 'Cleo Moe', 'Eva Nes')
  await expect(page.locator('[data-verdict=yes]')).toContainText('Dan Lie reports to “Head”.')
  await page.mouse.up()
  await page.keyboard.up('Alt')
  await expect.poll(() => outlineText(page)).toContain('    Cleo Moe — Operations lead\n  Dan Lie — Planner')
})

test('a branch folds to its count and unfolds, by key', async ({ page }) => {
  await open(page, await ofList(page, COMPANY))
  await press(page, 'Cleo Moe')
  await page.keyboard.press('c')
  await expect(card(page, 'Dan Lie')).toHaveCount(0)
  await expect(card(page, 'Cleo Moe')).toContainText('2 below')
  await page.reload()
  await expect(card(page, 'Cleo Moe')).toContainText('2 below')
  await press(page, 'Cleo Moe')
  await page.keyboard.press('c')
  await expect(card(page, 'Dan Lie')).toBeVisible()
})

test('the same facts as units and as a directory with a photo', async ({ page }) => {
  await open(page, await ofDemo(page))
  await page.getByRole('button', { name: 'Picture: Tree' }).click()
  await page.getByRole('menuitem', { name: 'Units' }).click()
  await expect(card(page, 'Digital and ticketing')).toContainText('Yara Solberg')
  await page.getByRole('button', { name: 'Picture: Units' }).click()
  await page.getByRole('menuitem', { name: 'Directory' }).click()
  await expect(card(page, 'Hedda Lauring')).toContainText('HL')
  await page.getByRole('tab', { name: /People/ }).click()
  await page.locator('.ag-row', { hasText: 'Hedda Lauring' }).locator('.ag-cell').first().click()
  const photo = await sharp({ create: { width: 400, height: 300, channels: 3, background: '#4a7' } })
    .png()
    .toBuffer()
  await page
    .getByTestId('margin')
    .locator('input[type=file]')
    .setInputFiles({ name: 'hedda.png', mimeType: 'image/png', buffer: photo })
  const image = card(page, 'Hedda Lauring').locator('image')
  await expect(image).toHaveAttribute('href', /\/assets\/[0-9a-f]{40}$/)
  const response = await fetched(page, `${address()}${(await image.getAttribute('href')) ?? ''}`)
  expect(response.headers()['content-type']).toBe('image/jpeg')
  await page
    .getByTestId('margin')
    .locator('input[type=file]')
    .setInputFiles({ name: 'x.png', mimeType: 'image/png', buffer: Buffer.from('x') })
  await expect(notice(page)).toContainText('cannot be read')
  await page.keyboard.press('Control+z')
  await expect(image).toHaveCount(0)
})

test('before a manager is removed the page says as facts who goes where', async ({ page }) => {
  await open(page, await ofList(page, COMPANY))
  await press(page, 'Cleo Moe')
  await page.keyboard.press('Delete')
  const question = page.getByRole('dialog', { name: 'Remove “Operations lead”?' })
  await expect(question).toContainText('“Planner” reports to “Head”.')
  await question.getByRole('button', { name: 'Leave as it is' }).click()
  expect(await outlineText(page)).toBe(COMPANY)
  await page.keyboard.press('Delete')
  await question.getByRole('button', { name: 'Remove' }).click()
  await expect.poll(() => outlineText(page)).not.toContain('Cleo')
})

test('the sheet pans, zooms to the pointer and fits', async ({ page }) => {
  await open(page, await ofDemo(page))
  const before = await middleOf(card(page, 'Yara Solberg'))
  const ground = await sheet(page).boundingBox()
  if (!ground) throw new Error('no sheet')
  await page.mouse.move(ground.x + 100, ground.y + 60)
  await page.mouse.down()
  await page.mouse.move(ground.x + 160, ground.y + 90, { steps: 3 })
  await page.mouse.up()
  const after = await middleOf(card(page, 'Yara Solberg'))
  expect([Math.round(after.x - before.x), Math.round(after.y - before.y)]).toEqual([60, 30])
  await page.mouse.move(after.x, after.y)
  await page.mouse.wheel(0, -200)
  await expect(page.getByTestId('zoom')).not.toHaveText('80 %')
  expect(Math.abs((await middleOf(card(page, 'Yara Solberg'))).x - after.x)).toBeLessThan(3)
  await page.keyboard.press('0')
  await expect(card(page, 'Peder Falk')).toBeVisible()
})

test('selection is one across sheet, outline, registers and margin', async ({ page }) => {
  await open(page, await ofList(page, COMPANY))
  await press(page, 'Eva Nes')
  await expect(line(page, 'Eva').locator('..')).toHaveClass(/bg-wash/)
  await page.getByRole('tab', { name: /People/ }).click()
  await expect(page.locator('.ag-row-selected')).toContainText('Eva Nes')
  await page.locator('.ag-row', { hasText: 'Dan Lie' }).locator('.ag-cell').first().click()
  await expect(page.locator('[data-selected]')).toHaveCount(1)
  await expect(page.getByTestId('margin').locator('h2')).toHaveText('Dan Lie')
})
