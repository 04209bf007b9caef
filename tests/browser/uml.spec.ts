import { readFileSync } from 'node:fs'
import type { Page } from '@playwright/test'
import { Model } from '../../src/core/model'
import {
  address,
  bringIn,
  card,
  create,
  expect,
  line,
  middleOf,
  newView,
  notice,
  ofDemo,
  ofModel,
  pasteText,
  press,
  saved,
  sheet,
  test,
} from './pages'

const SMALL = `Document  (abstract)
  # reference : String {id}
  + print() : String {abstract}
Ticket
  is a Document
  - seats : Integer = 1
Leg
  + rebook(to : Leg)`

/** An empty workspace with classes pasted into its outline. */
async function openClasses(page: Page, text = SMALL): Promise<void> {
  await page.goto(`${address()}/w/${await ofModel(page, Model.of({ name: 'Software' }))}`)
  await newView(page, 'Software')
  await page.getByRole('button', { name: 'Write the first line' }).click()
  await pasteText(page, text)
  await expect(card(page, 'Document')).toBeVisible()
}

const headline = (page: Page) => page.getByTestId('headline')

test('classes are begun from a pasted outline, drawn, found to lack an operation, and mended; they stay after a reload', async ({
  page,
}) => {
  await openClasses(page)
  await expect(headline(page)).toHaveText('3 classes')
  const finding = page.getByText('An operation is missing')
  await expect(finding.first()).toBeVisible()
  await page.getByRole('button', { name: 'Write it here' }).first().click()
  await expect(line(page, 'print() : String').last()).toBeVisible()
  await expect(finding).toHaveCount(0)
  await saved(page)
  await page.reload()
  await expect(headline(page)).toHaveText('3 classes')
  await expect(card(page, 'Ticket')).toContainText('print() : String')
})

test('a line that becomes a tie while it is typed stays as it is typed, spaces and all', async ({ page }) => {
  const list = 'Staff member\n  name : String\nPort'
  await page.goto(`${address()}/w/${await create(page, { list, as: 'classes', name: 'Staff' })}`)
  const typed = 'has * Staff member as stands in for'
  await line(page, 'name : String').click()
  await page.keyboard.press('End')
  await page.keyboard.press('Enter')
  await page.keyboard.type(typed, { delay: 20 })
  await expect(line(page, typed)).toBeFocused()
  // On another level, too, what a new line says gives way to what is typed.
  await page.keyboard.press('Enter')
  await page.keyboard.press('Shift+Tab')
  await page.keyboard.type('Berth', { delay: 20 })
  await page.keyboard.press('Escape')
  const lines = page.locator('input[data-line]')
  await expect
    .poll(() => lines.evaluateAll((all) => all.map((one) => (one as HTMLInputElement).value)))
    .toEqual(['Staff member', 'name : String', typed, 'Berth', 'Port'])
})

test('what is begun in a new view is as large as it is, however small the view before was looked at', async ({
  page,
}) => {
  await page.goto(`${address()}/w/${await ofDemo(page)}`)
  await page.getByRole('navigation').getByRole('button', { name: 'Port network', exact: true }).click()
  await expect(card(page, 'fw-quay-1')).toBeVisible()
  await page.getByRole('button', { name: 'Fit', exact: true }).click()
  const zoom = page.getByTestId('zoom')
  await expect.poll(async () => parseInt((await zoom.textContent()) ?? '', 10)).toBeLessThan(60)
  await newView(page, 'Software')
  await page.getByRole('button', { name: 'Write the first line' }).click()
  await page.keyboard.type('Gangway')
  await page.keyboard.press('Enter')
  await expect(card(page, 'Gangway')).toBeVisible()
  await expect(zoom).toHaveText('100 %')
})

test('a member is edited in place, and refused with the place of the fault', async ({ page }) => {
  await openClasses(page)
  const member = sheet(page).locator('text', { hasText: 'seats : Integer' }).first()
  const { x, y } = await middleOf(member)
  await page.mouse.dblclick(x, y)
  await page.keyboard.press('Control+a')
  await page.keyboard.type('- seats : Integer [9..1]')
  await page.keyboard.press('Enter')
  await expect(notice(page)).toContainText('At letter 20')
  await expect(line(page, '- seats : Integer = 1')).toBeVisible()
  await page.keyboard.press('Escape')
  const again = await middleOf(member)
  await page.mouse.dblclick(again.x, again.y)
  await page.keyboard.press('Control+a')
  await page.keyboard.type('- seats : Integer [1..9]')
  await page.keyboard.press('Enter')
  await expect(line(page, '- seats : Integer [1..9]')).toBeVisible()
  await page.keyboard.press('Control+z')
  await expect(line(page, '- seats : Integer = 1')).toBeVisible()
})

test('an association is drawn by hand, owned, and its end changed in the register', async ({ page }) => {
  await openClasses(page)
  await page.getByRole('button', { name: 'Fit', exact: true }).click()
  await press(page, 'Ticket')
  const box = await card(page, 'Ticket').boundingBox()
  const goal = await middleOf(card(page, 'Leg'))
  if (!box) throw new Error('no card')
  await page.mouse.move(box.x + box.width / 2, box.y + box.height - 1)
  await page.mouse.down()
  await page.mouse.move(goal.x + 12, goal.y + 6, { steps: 5 })
  await page.mouse.move(goal.x, goal.y, { steps: 3 })
  await expect(page.getByText('“Ticket” has “Leg”')).toBeVisible()
  await page.mouse.up()
  await expect(line(page, 'has Leg')).toBeVisible()
  // Of what else it may be, what the standard allows between the two is offered, and nothing more.
  const offered = page.getByRole('toolbar', { name: /What can be done/ })
  await expect(offered).toContainText('Is a')
  await expect(offered).not.toContainText('Realises')
  await offered.getByRole('button', { name: 'Uses' }).click()
  await expect(line(page, 'uses Leg')).toBeVisible()
  await page.keyboard.press('h')
  await expect(line(page, 'has Leg')).toBeVisible()
  await page.keyboard.press('o')
  await expect(line(page, 'owns Leg')).toBeVisible()
  await page.getByRole('tab', { name: /Ties/ }).click()
  const cell = page.locator('.ag-row', { hasText: 'Leg' }).locator('.ag-cell[col-id="targetMultiplicity"]')
  await cell.click()
  await page.keyboard.press('Enter')
  await page.keyboard.type('1..*')
  await page.keyboard.press('Enter')
  await page.getByRole('tab', { name: 'Outline' }).click()
  await expect(line(page, 'owns 1..* Leg')).toBeVisible()
})

test('what two classes share is drawn out of them', async ({ page }) => {
  await openClasses(
    page,
    'Document\nCar\n  + plate : String\n  + length : Real\nLorry\n  + plate : String\n  + load : Real',
  )
  await page.getByRole('button', { name: 'Fit', exact: true }).click()
  await press(page, 'Car')
  await page.keyboard.down('Shift')
  await press(page, 'Lorry')
  await page.keyboard.up('Shift')
  await page.keyboard.press('u')
  await page.keyboard.type('Vehicle')
  await page.keyboard.press('Enter')
  await expect(headline(page)).toHaveText('4 classes')
  await expect(card(page, 'Vehicle')).toContainText('+ plate : String')
  await expect(line(page, 'is a Vehicle')).toHaveCount(2)
})

test('tables of a database come in as classes, with what was not understood, and go in one step', async ({ page }) => {
  await openClasses(page, 'Document\n  + text : String')
  const sql = `CREATE TABLE port (id INT PRIMARY KEY AUTO_INCREMENT, name VARCHAR(80) NOT NULL, odd GEOHASH STRANGE);
    CREATE TABLE berth (id INT PRIMARY KEY AUTO_INCREMENT, depth DECIMAL(5, 2), port_id INT NOT NULL,
      FOREIGN KEY (port_id) REFERENCES port (id) ON DELETE CASCADE);`
  await bringIn(page, 'An SQL file', 'empty.sql', Buffer.from('DROP TABLE x;'))
  await expect(notice(page)).toContainText('there is no CREATE TABLE')
  await bringIn(page, 'An SQL file', 'ports.sql', Buffer.from(sql))
  const dialog = page.getByRole('dialog')
  await expect(dialog).toContainText('2 tables: 2 classes.')
  await expect(dialog).toContainText('Line 1: “odd GEOHASH STRANGE” in table “port” was not understood.')
  await dialog.locator('button.btn-primary').click()
  await expect(headline(page)).toHaveText('3 classes')
  await expect(line(page, 'owns * Berth  each 1')).toBeVisible()
  await expect(card(page, 'Berth')).toContainText('- depth : Real [0..1]')
  await page.keyboard.press('Control+z')
  await expect(headline(page)).toHaveText('1 class')
})

test('a database is read, what it says differently is found, and taken over from either side', async ({ page }) => {
  await page.goto(`${address()}/w/${await ofDemo(page)}#view=ticket-classes`)
  await page.getByTestId('day').click()
  await page.keyboard.type('2026-12-22')
  await page.keyboard.press('Enter')
  await page.getByRole('button', { name: 'Bring in', exact: true }).click()
  await page.getByRole('menuitem', { name: 'From a database' }).click()
  const dialog = page.getByRole('dialog')
  await dialog.getByRole('button', { name: /made-up one/ }).click()
  await expect(dialog.getByLabel('Database')).toHaveValue('marram_booking')
  const password = await dialog.getByLabel('Password').inputValue()
  await dialog.getByLabel('Password').fill('wrong')
  await dialog.getByRole('button', { name: 'Read its tables' }).click()
  await expect(dialog.getByRole('alert')).toContainText(
    'could not be read: it is not there, does not answer in time, or is not open to this user',
  )
  await dialog.getByLabel('Password').fill(password)
  await dialog.getByRole('button', { name: 'Read its tables' }).click()
  await expect(page.getByRole('dialog')).toContainText('15 tables of “marram_booking”: 0 new, 2 changed, 0 gone.')
  await page.getByRole('dialog').locator('button.btn-primary').click()
  const missing = page.getByTestId('findings').getByText('it may be missing, but column “valid_until”')
  await expect(missing).toBeVisible()
  await page.getByRole('button', { name: 'It is always there' }).click()
  await expect(missing).toHaveCount(0)
  await expect(line(page, '- validUntil : DateTime')).toHaveValue('- validUntil : DateTime')
  await page.getByRole('button', { name: '“passenger” is to have no column “phone”' }).click()
  const phone = page.getByTestId('findings').getByText('has a column “phone”')
  await expect(phone).toHaveCount(0)
  await page.keyboard.press('Control+z')
  await expect(phone).toBeVisible()
  await page.getByRole('button', { name: '“Passenger” has “phone”' }).click()
  await expect(phone).toHaveCount(0)
  await expect(sheet(page).getByText('- phone : String [0..1]').first()).toBeAttached()
  await saved(page)
  // Where the database is, and who asked it, is nowhere among the facts.
  const file = await (
    await page.request.get(`${page.url().replace(/#.*/, '').replace('/w/', '/api/workspaces/')}/file`)
  ).text()
  expect(file).toContain('phone')
  expect(file).not.toContain(password)
})

test('a model goes out as XMI, is changed there, and comes in again as the same facts', async ({ page }) => {
  await openClasses(page)
  await page.getByRole('button', { name: 'Save as a file' }).click()
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('menuitem', { name: /XMI 2.5.1/ }).click(),
  ])
  const xmi = readFileSync(await download.path(), 'utf8')
  expect(xmi).toContain('name="Ticket"')
  await bringIn(page, 'An XMI file', 'broken.xmi', Buffer.from('<xmi:XMI'))
  await expect(notice(page)).toContainText('This is not XML')
  await bringIn(page, 'An XMI file', 'same.xmi', Buffer.from(xmi))
  await expect(page.getByRole('dialog')).toContainText('Nothing differs from the facts.')
  await page.keyboard.press('Escape')
  const changed = xmi.replace('name="Ticket"', 'name="Boarding pass"').replace('<body>1</body>', '<body>2</body>')
  await bringIn(page, 'An XMI file', 'changed.xmi', Buffer.from(changed))
  await expect(page.getByRole('dialog')).toContainText('0 new, 2 changed.')
  await page.getByRole('dialog').locator('button.btn-primary').click()
  await expect(card(page, 'Boarding pass')).toContainText('- seats : Integer = 2')
  await expect(headline(page)).toHaveText('3 classes')
  await page.keyboard.press('Control+z')
  await expect(card(page, 'Ticket')).toContainText('- seats : Integer = 1')
  await saved(page)
})

test('a class that is called otherwise in the margin is so wherever it is named', async ({ page }) => {
  await openClasses(page)
  await page.getByRole('button', { name: 'Fit', exact: true }).click()
  await press(page, 'Leg')
  const name = page.getByTestId('facts').getByRole('textbox', { name: 'Name' })
  await name.fill('Stage')
  await name.press('Enter')
  await expect(card(page, 'Stage')).toContainText('+ rebook(to : Stage)')
  await page.keyboard.press('Escape')
  await page.keyboard.press('Control+z')
  await expect(card(page, 'Leg')).toContainText('+ rebook(to : Leg)')
})
