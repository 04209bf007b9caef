import { readFileSync } from 'node:fs'
import type { Page } from '@playwright/test'
import mammoth from 'mammoth'
import { PDFDocument } from 'pdf-lib'
import sharp from 'sharp'
import { readXlsx } from '../../src/core/tabular'
import { COMPANY, card, expect, fetched, notice, ofDemo, ofList, open, openHome, saved, sheet, test } from './pages'

/** What a press saves. */
async function savedBy(page: Page, name: string): Promise<{ bytes: Buffer; called: string }> {
  const [download] = await Promise.all([page.waitForEvent('download'), page.getByRole('button', { name }).click()])
  return { bytes: readFileSync(await download.path()), called: download.suggestedFilename() }
}
/** The register that is shown, saved in a format. */
async function registerAs(page: Page, format: string): Promise<Buffer> {
  await page.getByRole('button', { name: 'Save as a file' }).click()
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('menuitem', { name: format }).click(),
  ])
  return readFileSync(await download.path())
}
const choose = (page: Page, label: string, value: string) => page.getByLabel(label, { exact: true }).selectOption(value)
const handOut = (page: Page) => page.getByRole('button', { name: 'Hand out' }).click()
const size = (page: Page) => page.getByTestId('hand-out-size')
/** Drops a file on an element. */
async function dropOn(page: Page, bytes: Buffer, name: string, type: string): Promise<void> {
  const data = await page.evaluateHandle(
    ([list, called, sort]) => {
      const transfer = new DataTransfer()
      transfer.items.add(new File([new Uint8Array(list)], called, { type: sort }))
      return transfer
    },
    [[...bytes], name, type] as const,
  )
  await sheet(page).dispatchEvent('drop', { dataTransfer: data, clientX: 700, clientY: 500 })
}

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
  await page.getByLabel('SVG').check()
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
  await expect(page.getByRole('alert')).toContainText('16 to 12,000 pixels')
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
  await page.getByLabel('SVG').check()
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
  const saveAs = (format: string) => registerAs(page, format)
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
  await page.getByLabel('SVG').check()
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

test('pixels are saved as JPEG and WebP, on a paper and about so many, and the last choice is remembered', async ({
  page,
}) => {
  await open(page, await ofDemo(page))
  await handOut(page)
  await page.getByLabel('JPEG').check()
  await choose(page, 'Size', 'megapixels')
  await page.getByLabel('Megapixels').fill('0.5')
  await page.getByLabel('Quality').fill('60')
  await page.getByLabel('Border').fill('20')
  await expect(size(page)).toContainText('0.5 megapixels')
  const jpeg = await sharp((await savedBy(page, 'Save the picture')).bytes).metadata()
  expect(jpeg.format).toBe('jpeg')
  expect(((jpeg.width ?? 0) * (jpeg.height ?? 0)) / 1e6).toBeCloseTo(0.5, 1)

  await handOut(page)
  await expect(page.getByLabel('JPEG')).toBeChecked()
  await expect(page.getByLabel('Quality')).toHaveValue('60')
  await page.getByLabel('Quality').fill('none')
  await expect(page.getByRole('alert')).toHaveText('■ A quality is 1 to 100 per cent.')
  await expect(page.getByRole('button', { name: 'Save the picture' })).toBeDisabled()
  await page.getByLabel('Quality').fill('80')
  await page.getByLabel('Border').fill('450')
  await expect(page.getByRole('alert')).toHaveText(
    '■ A border of 450 leaves no room for the picture. Choose a smaller one.',
  )
  await page.getByLabel('Border').fill('0')
  await page.getByLabel('WebP').check()
  await choose(page, 'Size', 'paper')
  await choose(page, 'Paper', 'A5')
  await page.getByLabel('Dots per inch').fill('150')
  await page.getByLabel('see-through').check()
  await expect(size(page)).toHaveText('1,240 × 874 px, 1.1 megapixels')
  const webp = await sharp((await savedBy(page, 'Save the picture')).bytes).metadata()
  expect([webp.format, webp.width, webp.height, webp.hasAlpha]).toEqual(['webp', 1240, 874, true])

  await handOut(page)
  await page.getByLabel('PNG').check()
  const png = await sharp((await savedBy(page, 'Save the picture')).bytes).metadata()
  expect([png.format, png.width, Math.round(png.density ?? 0)]).toEqual(['png', 1240, 150])
})

test('an SVG brings its fonts, or has outlines for letters', async ({ page }) => {
  const id = await ofList(page, COMPANY)
  await open(page, id)
  await handOut(page)
  await page.getByLabel('SVG').check()
  await choose(page, 'Letters', 'inside')
  const inside = (await savedBy(page, 'Save the picture')).bytes.toString()
  expect(inside).toContain('src:url(data:font/woff2;base64,')
  await handOut(page)
  await choose(page, 'Letters', 'outlines')
  const outlines = (await savedBy(page, 'Save the picture')).bytes.toString()
  expect(outlines).not.toContain('<text')
  // Both are drawn by a browser that has none of our fonts at hand, and look alike.
  const seen = async (svg: string) => {
    await page.setContent(
      `<body style="margin:0"><img src="data:image/svg+xml,${encodeURIComponent(svg)}" width="700">`,
    )
    await page.locator('img').evaluate((image: HTMLImageElement) => image.decode())
    return sharp(await page.screenshot())
      .greyscale()
      .raw()
      .toBuffer()
  }
  const [a, b] = [await seen(inside), await seen(outlines)]
  const ink = a.reduce((sum, value) => sum + 255 - value, 0)
  const apart = a.reduce((sum, value, at) => sum + Math.abs(value - (b[at] ?? 0)), 0)
  expect(ink).toBeGreaterThan(100_000)
  expect(apart / ink).toBeLessThan(0.2)
})

test('a PDF on a paper, on sheets, and of a chapter; what was done last is in it', async ({ page }) => {
  await open(page, await ofDemo(page))
  // To print is to make a document.
  await page.keyboard.press('Control+p')
  await expect(page.getByLabel('PDF')).toBeChecked()
  await choose(page, 'Paper', 'A3')
  await expect(size(page)).toHaveText('1 sheet of 420 × 297 mm')
  const one = await savedBy(page, 'Save the document')
  expect(one.called).toMatch(/^whole-company-.*\.pdf$/)
  const sheets = async (bytes: Buffer) => (await PDFDocument.load(bytes)).getPages().map((one) => one.getSize())
  const [first] = await sheets(one.bytes)
  expect([first?.width.toFixed(1), first?.height.toFixed(1)]).toEqual(['1190.6', '841.9'])

  await handOut(page)
  await choose(page, 'Sheets', 'cut')
  await choose(page, 'Paper', 'A4')
  await expect(size(page)).toHaveText(/^\d+ sheets of 297 × 210 mm$/)
  const count = Number(/^\d+/.exec((await size(page).textContent()) ?? '')?.[0])
  expect((await sheets((await savedBy(page, 'Save the document')).bytes)).length).toBe(count)

  await handOut(page)
  await choose(page, 'Sheets', 'fitted')
  await choose(page, 'Of', 'chapter')
  await expect(size(page)).toContainText('first of 6 views')
  await page.getByLabel('Caption').fill('As of today')
  const chapter = await savedBy(page, 'Save the document')
  expect(await sheets(chapter.bytes)).toHaveLength(6)
  expect(chapter.called).toMatch(/^marram-sound-ferries-.*\.pdf$/)
})

test('a picture that carries its facts, dropped again, says what is newer, and opens elsewhere', async ({ page }) => {
  const id = await ofList(page, COMPANY)
  await open(page, id)
  for (const [format, type, button] of [
    ['PNG', 'image/png', 'Save the picture'],
    ['SVG', 'image/svg+xml', 'Save the picture'],
    ['PDF', 'application/pdf', 'Save the document'],
  ] as const) {
    await open(page, id)
    await handOut(page)
    await page.getByLabel(format).check()
    await page.getByLabel('those that it is drawn of go along').check()
    await expect(page.getByTestId('hand-out-facts')).toContainText(/\d+ positions.*\d+ people/)
    const { bytes, called } = await savedBy(page, button)
    await dropOn(page, bytes, called, type)
    const dialog = page.getByRole('dialog', { name: 'A picture of “Everyone”' })
    await expect(dialog).toContainText(`All that “${called}” shows is still so.`)
    await page.keyboard.press('Escape')

    // Something changes: the picture says so.
    await page.getByTestId('outline').locator('input').nth(2).fill(`Dan Lie – Planner of ${format}`)
    await page.keyboard.press('Escape')
    await saved(page)
    await dropOn(page, bytes, called, type)
    await expect(dialog).toContainText('newer than')
    await expect(page.getByTestId('newer')).toContainText('Planner of')
    await dialog.getByRole('button', { name: 'Bring it in as it was' }).click()
    await expect(notice(page)).toContainText('brought in')
    await page.keyboard.press('Control+z')

    // Elsewhere it opens as a view.
    await openHome(page)
    await page.getByLabel('A workspace file').setInputFiles({ name: called, mimeType: type, buffer: bytes })
    await expect(card(page, 'Dan Lie')).toBeVisible()
    await expect(page).not.toHaveURL(new RegExp(id))
  }
  // Without facts there are none; and what is broken is said so.
  await open(page, id)
  await dropOn(page, Buffer.from('%PDF-1.7 nothing'), 'broken.pdf', 'application/pdf')
  await expect(notice(page)).toContainText('“broken.pdf” cannot be read')
})

test('a picture is copied as PNG and as HTML with its words and its caption', async ({ page }) => {
  await open(page, await ofList(page, COMPANY))
  await handOut(page)
  await page.getByLabel('Caption').fill('Staff <in winter>')
  await page.getByLabel('In words').fill('Seven posts & one head')
  await page.getByRole('button', { name: 'Copy the picture' }).click()
  await expect(notice(page)).toContainText('The picture is copied')
  const copied = await page.evaluate(async () => {
    const [item] = await navigator.clipboard.read()
    const html = item?.types.includes('text/html') ? await (await item.getType('text/html')).text() : ''
    const png = item?.types.includes('image/png') ? (await item.getType('image/png')).size : 0
    return { html, png }
  })
  expect(copied.png).toBeGreaterThan(5000)
  expect(copied.html).toContain('alt="Seven posts &amp; one head"')
  expect(copied.html).toContain('<figcaption>Staff &lt;in winter&gt;</figcaption>')
})

test('a view is saved for text programs and as a page, the workspace as a book', async ({ page }) => {
  await open(page, await ofDemo(page))
  await handOut(page)
  await page.getByLabel('DOCX').check()
  await page.getByLabel('Picture, wide').fill('4')
  await expect(page.getByRole('alert')).toHaveText('■ A picture in a text is 20 to 400 mm.')
  await page.getByLabel('Picture, wide').fill('140')
  const docx = await savedBy(page, 'Save the document')
  expect((await mammoth.extractRawText({ buffer: docx.bytes })).value).toContain('Yara Solberg')
  await handOut(page)
  await page.getByLabel('ODT').check()
  expect((await savedBy(page, 'Save the document')).bytes.toString('latin1', 30, 38)).toBe('mimetype')
  await handOut(page)
  await page.getByLabel('HTML').check()
  await page.getByLabel('of what it shows, beneath').uncheck()
  const html = (await savedBy(page, 'Save the document')).bytes.toString()
  expect(html).toContain('<figcaption>Marram Sound Ferries and Skerry Harbour Company</figcaption>')
  expect(html).not.toContain('<td>Yara Solberg')

  await handOut(page)
  const since = page.getByLabel('Changed since')
  await since.fill('soon')
  await expect(page.getByRole('button', { name: 'As PDF' })).toBeDisabled()
  await since.fill('2026-01-01')
  const book = await savedBy(page, 'As PDF')
  expect(book.called).toMatch(/^marram-sound-ferries-.*\.pdf$/)
  const read = await PDFDocument.load(book.bytes)
  expect(read.getTitle()).toBe('Marram Sound Ferries')
  expect(read.getPageCount()).toBeGreaterThan(40)
  // The page has no connection: it says so, and nothing is lost.
  await page.context().setOffline(true)
  await page.getByRole('button', { name: 'As HTML' }).click()
  await expect(notice(page)).toContainText('The server does not answer')
  await page.context().setOffline(false)
  const again = await savedBy(page, 'As HTML')
  expect(again.bytes.toString()).toContain('Changed since 1 Jan 2026')
})

test('a register is saved as a page and as Markdown', async ({ page }) => {
  await open(page, await ofList(page, COMPANY))
  await page.getByRole('tab', { name: /Positions/ }).click()
  const saveAs = async (format: string) => (await registerAs(page, format)).toString()
  expect(await saveAs('Markdown')).toMatch(/^\| Id \| Position \| Holder \|.*\n\| --- \|/)
  expect(await saveAs('HTML')).toContain('<td>Dan Lie</td>')
})

test('letters that no font has are told, a picture that is compared is handed out as it is seen', async ({ page }) => {
  const id = await ofList(page, `${COMPANY}\nᚠᚱ — Harbour office`)
  await open(page, id)
  await handOut(page)
  await page.getByLabel('PDF').check()
  await savedBy(page, 'Save the document')
  await expect(notice(page)).toContainText('The fonts have no ᚠ ᚱ in “ᚠᚱ”: this cannot be seen there.')
  await handOut(page)
  await page.getByLabel('PNG').check()
  await savedBy(page, 'Save the picture')
  await expect(notice(page)).toContainText('The fonts have no ᚠ ᚱ: this machine’s own stand there, if it has one.')
  await page.getByRole('button', { name: 'Compare…' }).click()
  await handOut(page)
  await page.getByLabel('HTML').check()
  expect((await savedBy(page, 'Save the document')).bytes.toString()).toContain('compared with')
})
