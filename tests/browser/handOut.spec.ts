import { readFileSync } from 'node:fs'
import { COMPANY, card, expect, fetched, ofDemo, ofList, open, openHome, test } from './pages'
import { readXlsx } from '../../src/core/tabular'

test('a PNG of the asked width is saved with the names in it', async ({ page }) => {
  await open(page, await ofDemo(page))
  await page.getByRole('button', { name: 'Hand out' }).click()
  await page.getByLabel('Width', { exact: true }).fill('1834')
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: 'Save the picture' }).click(),
  ])
  expect(download.suggestedFilename()).toMatch(/^whole-company-\d{4}-\d{2}-\d{2}\.png$/)
  const bytes = readFileSync(await download.path())
  expect(bytes.subarray(1, 4).toString()).toBe('PNG')
  expect(bytes.readUInt32BE(16)).toBe(1834)
  expect(bytes.readUInt32BE(20)).toBeGreaterThan(800)
  expect(bytes.length).toBeGreaterThan(60_000)
})

test('an SVG is saved with title and caption, and what is seen is what is exported', async ({ page }) => {
  await open(page, await ofDemo(page))
  await page.getByRole('button', { name: 'Hand out' }).click()
  await page.getByLabel('Lines (SVG)').check()
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: 'Save the picture' }).click(),
  ])
  const svg = readFileSync(await download.path(), 'utf8')
  expect(svg).toContain('<title>Whole company</title>')
  expect(svg).toContain('Marram Sound Ferries and Skerry Harbour Company')
  const exported = /<g transform="translate\([\d. ]+\)">\s*((?:<(?!\/g)[^>]*>[^<]*)*?)Yara Solberg/.exec(svg)
  expect(exported).not.toBeNull()
  const plate = await card(page, 'Yara Solberg').locator('path').first().getAttribute('d')
  expect(svg).toContain(`d="${plate}"`)
})

test('a width that cannot be drawn is refused before anything is made', async ({ page }) => {
  await open(page, await ofList(page, COMPANY))
  await page.getByRole('button', { name: 'Hand out' }).click()
  await page.getByLabel('Width', { exact: true }).fill('999999')
  await expect(page.getByRole('alert')).toContainText('16 to 12 000 pixels')
  await expect(page.getByRole('button', { name: 'Save the picture' })).toBeDisabled()
})

test('the address of a picture draws it on the server, and the facts are saved as a file that opens again', async ({
  page,
}) => {
  await open(page, await ofList(page, COMPANY))
  await page.getByRole('button', { name: 'Hand out' }).click()
  await page.getByRole('button', { name: 'Copy its address' }).click()
  const copied = await page.evaluate(() => navigator.clipboard.readText())
  const picture = await fetched(page, copied)
  expect(picture.headers()['content-type']).toBe('image/png')
  expect((await picture.body()).readUInt32BE(16)).toBe(1600)
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('link', { name: 'Save the facts' }).click(),
  ])
  const path = await download.path()
  await openHome(page)
  await page
    .getByLabel('A workspace file')
    .setInputFiles({ name: 'test.skivel.json', mimeType: 'application/json', buffer: readFileSync(path) })
  await expect(card(page, 'Ada Holm')).toBeVisible()
})

test('caption and alternative text are kept with the view and carried into the picture', async ({ page }) => {
  await open(page, await ofList(page, COMPANY))
  await page.getByRole('button', { name: 'Hand out' }).click()
  await page.getByLabel('Caption').fill('Staff in winter')
  await page.getByLabel('In words').fill('Seven posts under one head')
  await page.getByLabel('Lines (SVG)').check()
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: 'Save the picture' }).click(),
  ])
  const svg = readFileSync(await download.path(), 'utf8')
  expect(svg).toContain('>Staff in winter</text>')
  expect(svg).toContain('<desc>Seven posts under one head</desc>')
})

test('a register is saved as CSV and as XLSX, and the staff as LDIF', async ({ page }) => {
  await open(page, await ofList(page, COMPANY))
  await page.getByRole('tab', { name: /Positions/ }).click()
  const saveAs = async (format: string) => {
    await page.getByRole('button', { name: 'Save as a file' }).click()
    const [download] = await Promise.all([
      page.waitForEvent('download'),
      page.getByRole('menuitem', { name: format }).click(),
    ])
    return readFileSync(await download.path())
  }
  const csv = (await saveAs('CSV')).toString('utf8')
  expect(csv).toContain('Id,Position,Holder,Reports to')
  expect(csv).toContain('Planner,Dan Lie,Operations lead')
  const table = await readXlsx(new Uint8Array(await saveAs('XLSX')).buffer)
  expect('rows' in table && table.rows.map((row) => row[1])).toContain('Planner')
  expect((await saveAs('LDIF')).toString('utf8')).toContain('cn: Dan Lie')
})

test('a picture in pages is saved page by page', async ({ page }) => {
  await open(page, await ofList(page, COMPANY))
  await page.getByRole('button', { name: 'Look of the picture' }).click()
  await page.getByLabel('Pages').selectOption('a branch each')
  await page.keyboard.press('Escape')
  await expect(page.getByTestId('headline')).toContainText('on 3 pages')
  await page.getByRole('button', { name: 'Hand out' }).click()
  const names: string[] = []
  page.on('download', (download) => names.push(download.suggestedFilename()))
  await page.getByLabel('Lines (SVG)').check()
  await page.getByRole('button', { name: 'Save the picture' }).click()
  await expect.poll(() => names.length).toBe(3)
  expect(names[1]).toMatch(/^everyone-2-\d{4}-\d{2}-\d{2}\.svg$/)
})

test('an address to subscribe to answers the plan as a calendar, survives a reload, and is withdrawn', async ({
  page,
}) => {
  await open(page, await ofDemo(page))
  await page.getByRole('button', { name: 'Hand out' }).click()
  // An org chart is no calendar.
  await expect(page.getByRole('region', { name: 'Subscribe' })).toHaveCount(0)
  await page.keyboard.press('Escape')
  await page.getByRole('button', { name: 'Dry dock and new ticketing' }).first().click()
  await expect(page.getByRole('heading', { name: 'Dry dock and new ticketing' })).toBeVisible()
  await page.getByRole('button', { name: 'Hand out' }).click()
  const subscribe = page.getByRole('region', { name: 'Subscribe' })
  await subscribe.getByRole('button', { name: 'Make an address' }).click()
  const address = await subscribe.getByLabel('Address').inputValue()
  await subscribe.getByRole('button', { name: 'Copy' }).click()
  expect(await page.evaluate(() => navigator.clipboard.readText())).toBe(address)
  const calendar = await fetched(page, address)
  expect(calendar.headers()['content-type']).toContain('text/calendar')
  expect(await calendar.text()).toContain('SUMMARY:Order steel plates')

  await page.reload()
  await page.getByRole('button', { name: 'Hand out' }).click()
  await expect(subscribe.getByRole('listitem')).toContainText('last read')
  await expect(subscribe.getByLabel('Address')).toHaveCount(0)
  await subscribe.getByRole('button', { name: 'Withdraw' }).click()
  await expect(subscribe.getByRole('listitem')).toHaveCount(0)
  expect((await fetched(page, address)).status()).toBe(404)
})
