import { expect, ofDemo, ofList, open, pasteText, saved, test } from './pages'

test('numbers are drawn as a chart, select what they count, and compare two days', async ({ page }) => {
  await open(page, await ofDemo(page))
  await page.getByRole('tab', { name: 'Numbers' }).click()
  const panel = page.getByTestId('numbers-panel')
  await expect(panel.locator('svg')).toBeVisible()
  const finance = panel.getByRole('row', { name: /^Finance/ })
  await expect(finance).toContainText('6')
  await finance.getByRole('button').click()
  await expect(page.locator('[data-selected]')).toHaveCount(6)
  await expect(page.getByTestId('margin').locator('h2')).toHaveText('6 selected')
  await panel.getByRole('button', { name: 'Over time' }).click()
  await expect(panel.getByRole('row', { name: /^2026-11/ })).toBeVisible()
  await panel.getByRole('button', { name: 'Units', exact: true }).click()
  await page.getByRole('button', { name: 'Compare…' }).click()
  await page.getByTestId('compared').click()
  await page.keyboard.type('2025-02-01')
  await page.keyboard.press('Enter')
  await expect(
    panel
      .getByRole('row', { name: /^(Ports|Fleet|Finance|Digital)/ })
      .filter({ hasText: /\([+−]\d/ })
      .first(),
  ).toBeVisible()
})

test('a bar of the chart selects what it counts', async ({ page }) => {
  await open(
    page,
    await ofList(
      page,
      'Ada — Head\n  Ben — Lead\n    Cy — Aide\n    Di — Aide\n  Eva — Lead\n    Flo — Aide\n    Gro — Aide',
    ),
  )
  await page.getByRole('tab', { name: 'Numbers' }).click()
  await page.getByRole('button', { name: 'Spans', exact: true }).click()
  const bar = page.getByTestId('chart').locator('svg path[fill="#12565e"]').first()
  const box = await bar.boundingBox()
  if (!box) throw new Error('no bar')
  await page.mouse.click(box.x + box.width / 2, box.y + box.height / 2)
  // All three managers have two reports each.
  await expect(page.getByTestId('margin').locator('h2')).toHaveText('3 selected')
})

test('the directory is brought in, and a second time nothing is left to do', async ({ page }) => {
  await open(page, await ofDemo(page))
  const bring = async () => {
    await page.getByRole('button', { name: 'Bring in', exact: true }).click()
    await page.getByRole('menuitem', { name: 'From the directory' }).click()
  }
  const desk = page.getByRole('dialog', { name: 'Bring in from the directory' })
  await bring()
  await expect(desk.getByTestId('import-outcome')).toContainText(/\d+ new, \d+ changed/)
  await desk.getByRole('button', { name: 'Bring it in' }).click()
  await saved(page)
  await bring()
  await expect(desk.getByTestId('import-outcome')).toContainText('The facts are as the table says already.')
  await expect(desk.getByRole('button', { name: 'Bring it in' })).toBeDisabled()
})

test('an LDIF file is brought in by the same desk; what is no file of staff is refused in words', async ({ page }) => {
  await open(page, await ofList(page, 'Ada — Head'))
  await page.getByRole('button', { name: 'Bring in', exact: true }).click()
  await page.getByRole('menuitem', { name: 'A table or file' }).click()
  const desk = page.getByRole('dialog', { name: 'Bring in a table' })
  const file = (name: string, text: string) =>
    desk.locator('input[type=file]').setInputFiles({ name, mimeType: 'text/plain', buffer: Buffer.from(text) })
  await file('staff.ldif', 'nonsense')
  await expect(desk.getByRole('alert')).toContainText('Line 1 is not “attribute: value”')
  await file('staff.pdf', 'x')
  await expect(desk.getByRole('alert')).toContainText('Files ending in “.pdf” are not read here.')
  await file('staff.xlsx', 'x')
  await expect(desk.getByRole('alert')).toContainText('no XLSX workbook')
  await file(
    'staff.ldif',
    'dn: uid=b,o=x\nobjectClass: person\nuid: b\ncn: Bo Vik\ntitle: Chair\n\ndn: uid=c,o=x\nobjectClass: person\nuid: c\ncn: Cy Lie\ntitle: Clerk\nmanager: uid=b,o=x\n',
  )
  await expect(desk.getByTestId('import-outcome')).toContainText('2 new')
  await desk.getByRole('button', { name: 'Bring it in' }).click()
  await expect(page.getByTestId('headline')).toContainText('3 positions')
})

test('10 000 rows are planned with progress, can be stopped, and are brought in within seconds', async ({ page }) => {
  await open(page, await ofList(page, 'Ada — Head'))
  const rows = Array.from(
    { length: 10_000 },
    (_, i) => `${i}\tPerson ${i}\tPost ${i}\t${i === 0 ? '' : Math.floor((i - 1) / 7)}`,
  )
  await page.getByRole('button', { name: 'Bring in', exact: true }).click()
  await page.getByRole('menuitem', { name: 'A table or file' }).click()
  const desk = page.getByRole('dialog', { name: 'Bring in a table' })
  await pasteText(page, `Id\tName\tTitle\tManager id\n${rows.join('\n')}\n`)
  await expect(desk.getByLabel('What “Title” is')).toBeVisible()
  await desk.getByRole('button', { name: 'Stop' }).click()
  await expect(desk).toContainText('Stopped. Nothing was changed.')
  await desk.getByLabel('What “Title” is').selectOption('')
  await expect(desk.getByTestId('import-outcome')).toContainText('10,000 new')
  await desk.getByRole('button', { name: 'Bring it in' }).click()
  await expect(page.getByTestId('headline')).toContainText('10,001 positions')
  await saved(page)
})
