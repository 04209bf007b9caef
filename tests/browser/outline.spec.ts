import {
  COMPANY,
  address,
  expect,
  card,
  create,
  line,
  newView,
  notice,
  ofList,
  open,
  outlineText,
  pasteText,
  saved,
  sheet,
  test,
} from './pages'
import type { Page } from '@playwright/test'

test('a line that is typed is on the sheet at once, and stays after a reload', async ({ page }) => {
  await open(page, await ofList(page, COMPANY))
  await line(page, 'Dora').click()
  await page.keyboard.press('Enter')
  await page.keyboard.type('Gus Moen — Mechanic')
  await expect(card(page, 'Gus Moen')).toContainText('Mechanic')
  expect(await outlineText(page)).toBe(
    COMPANY.replace('    Dora Vik — Driver', '    Dora Vik — Driver\n    Gus Moen — Mechanic'),
  )
  await saved(page)
  await page.reload()
  await expect(card(page, 'Gus Moen')).toBeVisible()
})

test('Tab and Shift Tab change the level, Alt with arrows the order, and undo takes each back', async ({ page }) => {
  await open(page, await ofList(page, COMPANY))
  await line(page, 'Eva').click()
  await page.keyboard.press('Tab')
  await expect.poll(() => outlineText(page)).toContain('    Eva Nes — Finance lead\n      Finn Bo')
  await expect(page.locator('input:focus')).toHaveValue('Eva Nes — Finance lead')
  await page.keyboard.press('Shift+Tab')
  await expect.poll(() => outlineText(page)).toBe(COMPANY)
  await page.keyboard.press('Alt+ArrowUp')
  await expect.poll(() => outlineText(page)).toContain('(assistant)\n  Eva Nes')
  await page.keyboard.press('Control+z')
  await expect.poll(() => outlineText(page)).toBe(COMPANY)
  await page.keyboard.press('Control+z')
  await page.keyboard.press('Control+Shift+z')
  await expect.poll(() => outlineText(page)).toBe(COMPANY)
})

test('a line that comes back into sight is typed on from what it says by then, not from what it said', async ({
  page,
  context,
}) => {
  const classes = ['Port', ...Array.from({ length: 90 }, (_, at) => `Deck${at}`)]
  const there = `${address()}/w/${await create(page, { list: classes.join('\n'), as: 'classes', name: 'Ports' })}`
  await page.goto(there)
  await line(page, 'Port').click()
  await line(page, 'Deck1').first().hover()
  await page.mouse.wheel(0, 5000)
  await expect(line(page, 'Port')).toHaveCount(0)
  const other = await context.newPage()
  await other.goto(there)
  await line(other, 'Port').click()
  await other.keyboard.press('End')
  await other.keyboard.type(' of call')
  await expect(card(page, 'Port of call')).toBeVisible()
  await page.mouse.wheel(0, -9000)
  await line(page, 'Port').click()
  await page.keyboard.press('End')
  await page.keyboard.type('ing')
  await expect(card(other, 'Port of calling')).toBeVisible()
})

test('typing one name is one step to take back', async ({ page }) => {
  await open(page, await ofList(page, COMPANY))
  await line(page, 'Dan Lie').click()
  await page.keyboard.press('End')
  await page.keyboard.type(' and more', { delay: 20 })
  await expect(card(page, 'Planner and')).toBeVisible()
  await page.keyboard.press('Escape')
  await page.keyboard.press('Control+z')
  await expect.poll(() => outlineText(page)).toBe(COMPANY)
})

test('a bulleted list that is pasted adds people; deleting the text deletes the shape', async ({ page }) => {
  await open(page, await ofList(page, COMPANY))
  await line(page, 'Finn').click()
  await pasteText(page, '• Hal Ek — Clerk\n   – Ida Ly — Trainee\n• Jon Ås — Buyer')
  await expect(card(page, 'Ida Ly')).toBeVisible()
  await expect.poll(() => outlineText(page)).toContain('    Hal Ek — Clerk\n      Ida Ly — Trainee\n    Jon Ås — Buyer')
  await line(page, 'Jon').click()
  await page.keyboard.press('Control+a')
  await page.keyboard.press('Backspace')
  await page.keyboard.press('Backspace')
  await expect(card(page, 'Jon Ås')).toHaveCount(0)
  await expect.poll(() => outlineText(page)).not.toContain('Jon')
})

// As documents, pages and chats put their lists on the clipboard.
const word = (level: number, sign: string, text: string) =>
  `<p class=MsoListParagraph style='mso-list:l0 level${level} lfo1'><span style='mso-list:Ignore'>${sign}<span>&nbsp; </span></span>${text}</p>`
const COPIED = {
  'a document': `<html><head><style>p {}</style></head><body>${word(1, '·', 'Hal Ek &#8212; Clerk')}${word(2, 'o', 'Ida\n Ly — Trainee')}${word(1, '·', 'A. Jon Ås — Buyer')}</body></html>`,
  'a page':
    '<ul><li>Hal Ek — Clerk<ul><li><b>Ida</b> Ly — Trainee</li></ul></li><li><p>A. Jon Ås — Buyer</p></li></ul>',
  'a shared document':
    '<b id="x"><ul><li dir="ltr"><p>Hal Ek — Clerk</p></li><ul><li><p>Ida Ly — Trainee</p></li></ul><li><p>A. Jon Ås — Buyer</p></li></ul></b>',
}

for (const [from, html] of Object.entries(COPIED))
  test(`a list copied from ${from} keeps its levels`, async ({ page }) => {
    await open(page, await ofList(page, COMPANY))
    await line(page, 'Finn').click()
    await copied(page, html)
    await expect(card(page, 'Ida Ly')).toBeVisible()
    await expect
      .poll(() => outlineText(page))
      .toContain('    Hal Ek — Clerk\n      Ida Ly — Trainee\n    A. Jon Ås — Buyer')
    await page.goto(String(process.env['SKIVEL_ADDRESS']))
    const field = page.getByRole('textbox').first()
    await field.press('Control+a')
    await copied(page, html)
    await expect(field).toHaveValue('Hal Ek — Clerk\n  Ida Ly — Trainee\nA. Jon Ås — Buyer')
    await field.press('Control+z')
    await expect(field).not.toHaveValue(/Hal Ek/)
  })

test('the Tab key indents where lists are typed, and leads on after Escape', async ({ page }) => {
  await page.goto(String(process.env['SKIVEL_ADDRESS']))
  const field = page.getByRole('textbox').first()
  await field.focus()
  await page.keyboard.press('Tab')
  await expect(field).toBeFocused()
  await page.keyboard.press('Escape')
  await page.keyboard.press('Tab')
  await expect(field).not.toBeFocused()
})

test('a paste of ten megabytes is refused in words and changes nothing', async ({ page }) => {
  await open(page, await ofList(page, COMPANY))
  await line(page, 'Finn').click()
  await page.evaluate(() => {
    const data = new DataTransfer()
    data.setData('text/plain', 'Somebody — Something\n'.repeat(500_000))
    document.activeElement?.dispatchEvent(
      new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true }),
    )
  })
  await expect(notice(page)).toContainText('too many for one paste')
  expect(await outlineText(page)).toBe(COMPANY)
})

test('markup in a name is drawn as the letters it is', async ({ page }) => {
  await open(page, await ofList(page, COMPANY))
  await line(page, 'Finn').click()
  await page.keyboard.press('Control+a')
  await page.keyboard.type('<img src=x onerror=alert(1)> — <b>Head</b>')
  await expect(sheet(page).locator('g[data-item] text').filter({ hasText: '<img' })).toBeVisible()
  expect(await sheet(page).locator('img, b').count()).toBe(0)
})

test('an empty workspace says what to do, and begins with the first line', async ({ page }) => {
  const id = await ofList(page, '')
  await page.goto(`${process.env['SKIVEL_ADDRESS']}/w/${id}`)
  await expect(sheet(page)).toContainText('Nothing is stated yet')
  await page.getByTestId('outline-empty').click()
  await page.keyboard.type('Ada Holm — Head')
  await page.keyboard.press('Enter')
  await expect(card(page, 'Ada Holm')).toBeVisible()
  await page.keyboard.press('Enter')
  await page.keyboard.type('Ben Aas — Clerk')
  await page.keyboard.press('Tab')
  await expect.poll(() => outlineText(page)).toBe('Ada Holm — Head\n  Ben Aas — Clerk')
})

test('whoever is named while a line is typed is one fact, and none remains of what stood there on the way', async ({
  page,
}) => {
  await open(page, await ofList(page, 'Ada Holm — Head'))
  await newView(page, 'Time')
  await page.getByRole('button', { name: 'Write the first line' }).click()
  await page.getByTestId('outline-empty').fill('Buy gloves')
  await page.keyboard.press('Enter')
  await line(page, 'Buy gloves').click()
  await page.keyboard.press('End')
  await page.keyboard.type('  1d  @ Marta', { delay: 60 })
  // A pause in the middle of a name.
  await expect(sheet(page).getByText('Marta', { exact: true })).toBeVisible()
  await page.keyboard.type(' Kuhn', { delay: 60 })
  await expect(sheet(page).getByText('Marta Kuhn', { exact: true })).toBeVisible()
  await page.keyboard.press('Escape')
  await saved(page)
  await page.getByRole('navigation').getByRole('button', { name: 'Everyone', exact: true }).click()
  await page.getByRole('tab', { name: /^People/ }).click()
  const names = page.locator('.ag-row [col-id="name"]')
  await expect(names).toHaveText(['Ada Holm', 'Marta Kuhn'])
  await page.keyboard.press('Control+z')
  await expect(names).toHaveText(['Ada Holm'])
})

test('a line that is added and left without a word is gone', async ({ page }) => {
  await open(page, await ofList(page, COMPANY))
  await line(page, 'Dora').click()
  await page.keyboard.press('Enter')
  await expect.poll(() => outlineText(page)).not.toBe(COMPANY)
  await page.keyboard.press('Escape')
  await expect.poll(() => outlineText(page)).toBe(COMPANY)
  await line(page, 'Dora').click()
  await page.keyboard.press('Enter')
  await line(page, 'Eva').click()
  await expect.poll(() => outlineText(page)).toBe(COMPANY)
})

/** Pastes what was copied with its markup. */
const copied = (page: Page, html: string) =>
  page.evaluate((markup) => {
    const data = new DataTransfer()
    data.setData('text/html', markup)
    data.setData('text/plain', 'no levels here')
    document.activeElement?.dispatchEvent(
      new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true }),
    )
  }, html)
