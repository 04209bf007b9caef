import type { Page } from '@playwright/test'
import { COMPANY, card, expect, notice, ofList, open, outlineText, pasteText, saved, test } from './pages'

const cell = (page: Page, row: string, column: string) =>
  page.locator('.ag-row', { hasText: row }).locator(`.ag-cell[col-id="${column}"]`)

/** The last row may lie below the fold: the keyboard brings it into view. */
async function toLastRow(page: Page): Promise<void> {
  await cell(page, 'Dora Vik', 'name').click()
  await page.keyboard.press('ArrowDown')
  await page.keyboard.press('ArrowDown')
  await expect(page.getByTestId('margin').locator('h2')).toHaveText('Accountant')
}

test.beforeEach(async ({ page }) => {
  await open(page, await ofList(page, COMPANY))
  await page.getByRole('tab', { name: /Positions/ }).click()
  await expect(page.locator('.ag-row')).toHaveCount(7)
})

test('a cell is edited with Enter, and hands over when it names another manager', async ({ page }) => {
  await cell(page, 'Dan Lie', 'reports-to').click()
  await page.keyboard.press('Enter')
  await page.keyboard.type('Finance lead')
  await page.keyboard.press('Enter')
  await page.getByRole('tab', { name: 'Outline' }).click()
  await expect.poll(() => outlineText(page)).toContain('    Finn Bo — Accountant\n    Dan Lie — Planner')
})

test('a cell that does not fit is refused in words and keeps its value', async ({ page }) => {
  await cell(page, 'Dan Lie', 'fte').click()
  await page.keyboard.press('Enter')
  await page.keyboard.press('Control+a')
  await page.keyboard.type('half')
  await page.keyboard.press('Enter')
  await expect(notice(page)).toContainText('Fte is a number, not “half”.')
  await expect(cell(page, 'Dan Lie', 'fte')).toHaveText('1')
})

test('a table pasted from a spreadsheet fills many cells as one step, and adds rows past the end', async ({ page }) => {
  await toLastRow(page)
  await pasteText(
    page,
    'Chief accountant\tFinn Bo\tFinance lead\tFinance\nClerk\tGro Lind\tChief accountant\tFinance\nTrainee\t\tClerk\tFinance\n',
  )
  await expect(card(page, 'Gro Lind')).toBeVisible()
  await expect(page.getByRole('tab', { name: 'Positions 9' })).toBeVisible()
  await saved(page)
  await page.keyboard.press('Control+z')
  await expect(page.getByRole('tab', { name: 'Positions 7' })).toBeVisible()
})

test('a pasted table with a circle is refused with its row, and nothing is written', async ({ page }) => {
  await toLastRow(page)
  await pasteText(page, 'One\t\tTwo\nTwo\t\tOne')
  await expect(notice(page)).toContainText('Nothing was pasted.')
  await expect(notice(page)).toContainText('circle')
  await expect(page.getByRole('tab', { name: 'Positions 7' })).toBeVisible()
})

test('rows are sorted, filtered, walked with arrows, cleared with Delete and added', async ({ page }) => {
  await page.locator('.ag-header-cell[col-id="holder"]').click()
  await page.locator('.ag-header-cell[col-id="holder"]').click()
  await expect(page.locator('.ag-row[row-index="0"]')).toContainText('Finn Bo')
  await cell(page, 'Finn Bo', 'holder').click()
  await page.keyboard.press('ArrowDown')
  await expect(page.getByTestId('margin').locator('h2')).toHaveText('Finance lead')
  await page.keyboard.press('Delete')
  await expect(card(page, 'vacant')).toBeVisible()
  await page.getByRole('searchbox').fill('driver')
  await expect(page.locator('.ag-row')).toHaveCount(1)
  await page.getByRole('searchbox').fill('')
  await page.getByRole('button', { name: 'Add a row' }).click()
  await expect(page.getByRole('tab', { name: 'Positions 8' })).toBeVisible()
})

test('the margin edits the same facts, dates first', async ({ page }) => {
  await cell(page, 'Dora Vik', 'name').click()
  const facts = page.getByTestId('facts')
  await expect(facts.locator('dt').first()).toHaveText('From')
  await facts.locator('[data-field=to]').fill('31 Dec 2026')
  await facts.locator('[data-field=to]').press('Enter')
  await expect(cell(page, 'Dora Vik', 'to')).toHaveText('2026-12-31')
  await facts.locator('[data-field=holder]').fill('Nora Ås')
  await facts.locator('[data-field=holder]').press('Enter')
  await expect(card(page, 'Nora Ås')).toContainText('Driver')
})

test('a table of another program is understood column by column, and asks where nothing tells what is meant', async ({
  page,
}) => {
  await page.getByRole('button', { name: 'Bring in', exact: true }).click()
  await page.getByRole('menuitem', { name: 'A table or file' }).click()
  await pasteText(
    page,
    'Id;Name;Job title;Manager;FTE;Hire date\n1;Lind, Gro;Chair;;1,0;03/04/2021\n2;Ek, Hal;Secretary;Lind, Gro;0,5;05/06/2009',
  )
  const desk = page.getByRole('dialog', { name: 'Bring in a table' })
  await expect(desk).toContainText('last name first: Lind, Gro is Gro Lind')
  await expect(desk).toContainText('decimal comma: 1,0 is 1')
  await expect(desk.getByTestId('import-outcome')).toContainText('2 new')
  await expect(desk.getByText('Nothing in “Hire date” tells how it is meant.')).toBeVisible()
  await expect(desk.getByRole('button', { name: 'Bring it in' })).toBeDisabled()
  await desk.getByRole('button', { name: 'month first: 03/04/2021 is 4 Mar 2021' }).click()
  await expect(desk.getByText('tells how it is meant')).toHaveCount(0)
  await desk.getByRole('button', { name: 'Bring it in' }).click()
  await expect(card(page, 'Hal Ek')).toContainText('Secretary')
  // It says when she took the post, not when there came to be one.
  await page.getByRole('tab', { name: /^Appointments/ }).click()
  await expect(page.getByRole('row', { name: /Gro Lind/ })).toContainText('2021-03-04')
  await saved(page)
})

test('a table is brought in: columns guessed, faults row by row, findings, one change, and again without a change', async ({
  page,
}) => {
  const table =
    'Employee ID\tFull name\tJob title\tManager ID\n1\tGro Lind\tChair\t\n2\tHal Ek\tSecretary\t1\n3\tIda Ly\tAide\t9\n'
  const bring = async (text: string) => {
    await page.getByRole('button', { name: 'Bring in', exact: true }).click()
    await page.getByRole('menuitem', { name: 'A table or file' }).click()
    await pasteText(page, text)
  }
  await bring(table)
  const desk = page.getByRole('dialog', { name: 'Bring in a table' })
  await expect(desk.getByLabel('What “Full name” is')).toHaveValue('name')
  await expect(desk.getByTestId('import-outcome')).toContainText(
    'Row 4, Manager: There is no “9” in the table or among the facts.',
  )
  await expect(desk.getByRole('button', { name: 'Bring it in' })).toBeDisabled()
  await desk.getByLabel('Leave them out and bring in the rest').check()
  await expect(desk.getByTestId('import-outcome')).toContainText('2 new, 0 changed, 0 no longer in the table.')
  await desk.getByRole('button', { name: 'Bring it in' }).click()
  await expect(page.getByRole('tab', { name: 'Positions 9' })).toBeVisible()
  await saved(page)
  await bring(table.replace('\n3\tIda Ly\tAide\t9', ''))
  await expect(desk.getByTestId('import-outcome')).toContainText('The facts are as the table says already.')
  await page.keyboard.press('Escape')
  await page.keyboard.press('Control+z')
  await expect(page.getByRole('tab', { name: 'Positions 7' })).toBeVisible()
})
