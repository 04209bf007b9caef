import { createServer } from 'node:http'
import type { AddressInfo } from 'node:net'
import { chromium } from '@playwright/test'
import { chromiumOptions } from '../../scripts/lib/chromium'
import { writeFileSync } from 'node:fs'
import exceljs from 'exceljs'
import { address, card, expect, fetched, notice, ofDemo, ofList, test } from './pages'

/** A page of somebody else's, under a name that leads to this machine: it tries to read, write and delete. */
test('a page under a foreign name that leads to this machine reads, writes and deletes nothing', async ({ page }) => {
  const id = await ofList(page, 'Ada Holm — Head')
  const { port } = new URL(address())
  const attacker = createServer((_, response) => {
    response.writeHead(200, { 'content-type': 'text/html' })
    response.end('<!doctype html><title>Elsewhere</title><body>Elsewhere')
  })
  await new Promise<void>((resolve) => attacker.listen(0, '127.0.0.1', resolve))
  const elsewhere = (attacker.address() as AddressInfo).port
  const browser = await chromium.launch({
    ...chromiumOptions,
    args: [...(chromiumOptions.args ?? []), '--host-resolver-rules=MAP attacker.example 127.0.0.1'],
  })
  try {
    const hostile = await browser.newPage()
    // By its own name on the port of ours: to the browser one site, with everything that one site may do.
    const answer = await hostile.goto(`http://attacker.example:${port}/`)
    expect(answer?.status()).toBe(421)
    const tried = await hostile.evaluate(async (workspace) => {
      const attempt = async (path: string, init?: RequestInit) => {
        try {
          const response = await fetch(path, init)
          return `${response.status} ${(await response.text()).includes('Ada Holm')}`
        } catch {
          return 'no answer'
        }
      }
      return [
        await attempt(`/api/workspaces/${workspace}`),
        await attempt(`/api/workspaces/${workspace}/file`),
        await attempt(`/api/workspaces/${workspace}`, { method: 'DELETE' }),
        await attempt('/api/workspaces', {
          method: 'POST',
          headers: { 'content-type': 'application/json' },
          body: '{"list":"Planted"}',
        }),
      ]
    }, id)
    expect(tried.filter((one) => one !== '421 false' && one !== 'no answer')).toEqual([])
    // From another port, with a picture and a frame of ours.
    await hostile.goto(`http://attacker.example:${elsewhere}/`)
    const embedded = await hostile.evaluate(
      async ([ours, workspace]) => {
        const loads = (tag: 'img' | 'script', path: string) =>
          new Promise<string>((resolve) => {
            const element = document.createElement(tag)
            element.onload = () => resolve(`${tag} loads`)
            element.onerror = () => resolve(`${tag} is refused`)
            element.src = `${ours}${path}`
            document.body.append(element)
          })
        const read = await fetch(`${ours}/api/workspaces/${workspace}`).then(
          () => 'read',
          () => 'not read',
        )
        return [await loads('img', '/mark.svg'), await loads('script', `/api/workspaces/${workspace}`), read]
      },
      [address(), id],
    )
    expect(embedded).toEqual(['img is refused', 'script is refused', 'not read'])
  } finally {
    await browser.close()
    attacker.close()
  }
  expect((await fetched(page, `${address()}/api/workspaces/${id}`)).status()).toBe(200)
  const { workspaces } = (await (await fetched(page, `${address()}/api/workspaces`)).json()) as {
    workspaces: { name: string }[]
  }
  expect(workspaces.some(({ name }) => name.includes('Planted'))).toBe(false)
})

test('far dates blank no page: neither the date line nor a plan', async ({ page }) => {
  const id = await ofList(page, 'Ada Holm — Head')
  await page.goto(`${address()}/w/${id}`)
  const showing = page.getByTestId('day')
  for (const [typed, shown] of [
    ['0001-01-02', '2 Jan 0001'],
    ['9999-12-31', '31 Dec 9999'],
    ['0001-01-01', '1 Jan 0001'],
  ] as const) {
    await showing.click()
    await page.getByLabel('Day, Showing').fill(typed)
    await page.keyboard.press('Enter')
    await expect(showing).toContainText(shown)
    await page.locator('[data-dateline]').focus()
    await page.keyboard.press('Shift+ArrowLeft')
    await page.keyboard.press('Shift+ArrowRight')
    await expect(page.getByTestId('sheet')).toBeVisible()
  }
})

test('files that cannot be read say why, and nothing is changed', async ({ page }, info) => {
  const id = await ofDemo(page)
  await page.goto(`${address()}/w/${id}`)
  await page.getByRole('navigation').getByRole('button', { name: 'Sailing cancelled', exact: true }).click()
  const open = async (label: string, name: string, content: string) => {
    const path = info.outputPath(name)
    writeFileSync(path, content)
    await page.getByRole('button', { name: 'Bring in' }).click()
    const chooser = page.waitForEvent('filechooser')
    await page.getByRole('menuitem', { name: label }).click()
    await (await chooser).setFiles(path)
  }
  const bpmn = (head: string, inside: string) =>
    `<?xml version="1.0"?>${head}<definitions xmlns="http://www.omg.org/spec/BPMN/20100524/MODEL"><process id="p">${inside}</process></definitions>`
  await open(
    'BPMN 2.0 file',
    'outside.bpmn',
    bpmn('<!DOCTYPE a [<!ENTITY x SYSTEM "file:///etc/hostname">]>', '<task id="a" name="&x;"/>'),
  )
  await expect(notice(page)).toContainText('BPMN 2.0: This XML is not read')
  await open('BPMN 2.0 file', 'deep.bpmn', bpmn('', `${'<a>'.repeat(4000)}${'</a>'.repeat(4000)}`))
  await expect(notice(page)).toContainText('This XML is not read: Maximum nested')
})

test('a workbook with one far cell is read as the cells that are there', async ({ page }, info) => {
  const id = await ofList(page, 'Ada Holm — Head')
  await page.goto(`${address()}/w/${id}`)
  await expect(card(page, 'Ada Holm')).toBeVisible()
  const book = new exceljs.Workbook()
  const sheet = book.addWorksheet('x')
  sheet.addRow(['Id', 'Name', 'Title'])
  sheet.addRow(['1', 'Ben Aas', 'Clerk'])
  sheet.getCell('XFD1048576').value = 'far'
  const path = info.outputPath('far.xlsx')
  await book.xlsx.writeFile(path)
  await page.getByRole('button', { name: 'Bring in' }).click()
  await page.getByRole('menuitem', { name: 'A table or file' }).click()
  const desk = page.getByRole('dialog', { name: 'Bring in a table' })
  await desk.locator('input[type=file]').setInputFiles(path)
  await expect(desk).toContainText('Ben Aas')
  await page.keyboard.press('Escape')
  await expect(card(page, 'Ada Holm')).toBeVisible()
})

test('a part of the page that fails says so in its place, and the others go on', async ({ page, browser }) => {
  const id = await ofDemo(page)
  // A page of its own: what fails is reported there, and that is right.
  const context = await browser.newContext({ viewport: { width: 1280, height: 800 } })
  try {
    const failing = await context.newPage()
    // The thread's answers are spoilt on their way: notes lose a part, and while asked to, pictures fail.
    await failing.addInitScript(() => {
      const read = Object.getOwnPropertyDescriptor(MessageEvent.prototype, 'data')?.get
      const spoilt = new WeakSet<object>()
      Object.defineProperty(MessageEvent.prototype, 'data', {
        get(this: MessageEvent) {
          const data: unknown = read?.call(this)
          if (typeof data !== 'object' || data === null || !('value' in data) || spoilt.has(data)) return data
          const { value } = data as { value: unknown }
          const ways = window as unknown as { notesBreak?: boolean; picturesBreak?: boolean }
          const reading = (typeof value === 'object' ? value : undefined) as
            { notes?: object; scene?: object } | undefined
          if (ways.notesBreak && reading?.notes) {
            Object.assign(reading.notes, { measures: { of: 'nothing' } })
            spoilt.add(data)
          }
          if (ways.picturesBreak && reading?.scene)
            Object.assign(data, {
              type: 'HANDLER',
              name: 'throw',
              value: { isError: true, value: { message: 'Spoilt' } },
            })
          return data
        },
      })
    })
    const say = (what: object) => failing.evaluate((flags) => void Object.assign(window, flags), what)
    const view = (name: string) =>
      failing.getByRole('navigation', { name: 'Contents' }).getByRole('button', { name, exact: true }).click()
    const alert = failing.getByRole('alert')
    const drawn = failing.locator('g[data-item]').first()
    await failing.goto(`${address()}/w/${id}`)
    await expect(failing.getByTestId('findings').first()).toBeVisible()
    await say({ notesBreak: true })
    await view('Leads only')
    await expect(alert).toContainText('The margin failed.')
    await expect(drawn).toBeVisible()
    await say({ notesBreak: false, picturesBreak: true })
    await view('Units and their size')
    await expect(alert.filter({ hasText: 'This picture could not be drawn.' })).toContainText(
      'Spoilt. The facts are safe',
    )
    await expect(failing.getByRole('region', { name: 'Registers' })).toBeVisible()
    await say({ picturesBreak: false })
    await view('Whole company')
    await expect(drawn).toBeVisible()
    await failing.getByRole('button', { name: 'Try again' }).click()
    await expect(failing.getByTestId('findings').first()).toBeVisible()
    await expect(alert).toHaveCount(0)
  } finally {
    await context.close()
  }
})
