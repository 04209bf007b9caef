import type { Page } from '@playwright/test'
import { Model } from '../../src/core/model'
import {
  address,
  card,
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

const SMALL = `Outside  (zone, trust none)
  isp  cloud service
    ge0 to fw wan  1G
Edge  (zone, trust low)
  fw  firewall  10.0.0.1/24
    allow tcp 443 from Outside to web  called: Shop
    deny any from any to any  called: Rest
  web  server  10.0.0.5/24
    eth0 to fw lan  1G
Inside  (zone, trust high)
  Inside  (subnet 10.0.0.0/24, gateway 10.0.0.1)
  db  server  10.0.0.9/24
    port eth0`

/** An empty workspace with a network pasted into its outline. */
async function openNetwork(page: Page, text = SMALL): Promise<void> {
  await page.goto(`${address()}/w/${await ofModel(page, Model.of({ name: 'Net' }))}`)
  await newView(page, 'Networks')
  await page.getByRole('button', { name: 'Write the first line' }).click()
  await pasteText(page, text)
  await expect(card(page, 'fw')).toBeVisible()
}

/** The Fit button shows all of it, and nothing stays selected. */
async function fit(page: Page): Promise<void> {
  await page.getByRole('button', { name: 'Fit', exact: true }).click()
}

const headline = (page: Page) => page.getByTestId('headline')

test('a network is begun from a pasted outline, drawn in its zones, and stays after a reload', async ({ page }) => {
  await openNetwork(page)
  await expect(headline(page)).toHaveText('4 devices, 2 cables')
  for (const words of ['no trust', 'low', 'high'])
    await expect(sheet(page).locator('text', { hasText: words }).first()).toBeAttached()
  await expect(line(page, 'allow tcp 443 from Outside to web')).toBeVisible()
  await saved(page)
  await page.reload()
  await expect(headline(page)).toHaveText('4 devices, 2 cables')
})

test('a line that cannot be read stays as typed, with its reason, until it can', async ({ page }) => {
  await openNetwork(page)
  const web = line(page, 'web  server')
  await web.click()
  await page.keyboard.press('End')
  await page.keyboard.type('  10.0.0.256')
  await expect(page.getByText('“10.0.0.256”: “256” is no number from 0 to 255.')).toBeVisible()
  for (let i = 0; i < 3; i++) await page.keyboard.press('Backspace')
  await page.keyboard.type('6/24')
  await expect(page.getByText('is no number from 0 to 255')).toHaveCount(0)
  await expect(card(page, 'web')).toContainText('10.0.0.5 +1')
})

test('a cable is drawn from a device to another one, and taken away by undo', async ({ page }) => {
  await openNetwork(page)
  await fit(page)
  await press(page, 'db')
  const box = await card(page, 'db').boundingBox()
  const goal = await middleOf(card(page, 'fw'))
  if (!box) throw new Error('no card')
  await page.mouse.move(box.x + box.width - 1, box.y + box.height / 2)
  await page.mouse.down()
  await page.mouse.move(goal.x + 20, goal.y + 10, { steps: 5 })
  await page.mouse.move(goal.x, goal.y, { steps: 3 })
  await expect(page.getByText('Cable “db” eth0 to “fw” p1')).toBeVisible()
  await page.mouse.up()
  await expect(headline(page)).toHaveText('4 devices, 3 cables')
  await page.keyboard.press('Control+z')
  await expect(headline(page)).toHaveText('4 devices, 2 cables')
})

test('a device dropped into another zone stands there', async ({ page }) => {
  await openNetwork(page)
  await fit(page)
  const from = await middleOf(card(page, 'web'))
  const to = await middleOf(card(page, 'db'))
  await page.mouse.move(from.x, from.y)
  await page.mouse.down()
  await page.mouse.move((from.x + to.x) / 2, (from.y + to.y) / 2, { steps: 4 })
  await page.mouse.move(to.x, to.y, { steps: 4 })
  await expect(page.getByText('Put “web” into “Inside”')).toBeVisible()
  await page.mouse.up()
  await page.getByRole('tab', { name: /Devices/ }).click()
  await expect(page.locator('.ag-row', { hasText: 'web' })).toContainText('Inside')
})

test('what is taken down fades what it cuts off, tells the flows lost, and comes back', async ({ page }) => {
  await openNetwork(page, `${SMALL}\n    flow to web  tcp 443  needed\n    eth1 to fw lan2`)
  await fit(page)
  await press(page, 'fw')
  await page.keyboard.press('x')
  await expect(headline(page)).toHaveText('4 devices, 3 cables, 1 down: 2 cut off')
  await sheet(page).focus()
  await page.keyboard.press('Escape')
  await expect(page.getByTestId('numbers')).toContainText('Flows lost')
  await expect(page.getByTestId('numbers')).toContainText('db → web')
  await press(page, 'fw')
  await page.keyboard.press('x')
  await expect(headline(page)).toHaveText('4 devices, 3 cables')
})

test('an address that clashes is found while typing, and mended by its fix', async ({ page }) => {
  await openNetwork(page)
  const db = line(page, 'db  server')
  await db.click()
  await db.fill('db  server  10.0.0.5/24')
  const margin = page.getByTestId('margin')
  await expect(margin.getByText('10.0.0.5 is stated at “web”, “db”')).toBeVisible()
  await margin.getByRole('button', { name: 'Give “db” 10.0.0.2' }).click()
  await expect(margin.getByText('10.0.0.5 is stated at')).toHaveCount(0)
  await expect(line(page, '10.0.0.2/24')).toBeVisible()
})

test('a packet is tried in the margin, with its verdict and the rule', async ({ page }) => {
  await openNetwork(page)
  const trial = page.getByTestId('trial-packet')
  await trial.getByLabel('From').fill('isp')
  await trial.getByLabel('To', { exact: true }).fill('web')
  await trial.getByLabel('Protocol').selectOption('tcp')
  await trial.getByLabel('Port').fill('443')
  await trial.getByRole('button', { name: 'Try it' }).click()
  await expect(trial.getByRole('status')).toContainText('Allowed')
  await expect(trial.getByRole('status')).toContainText('By rule 1 “Shop” of fw')
  await trial.getByLabel('Port').fill('22')
  await page.keyboard.press('Enter')
  await expect(trial.getByRole('status')).toContainText('Denied')
  await expect(trial.getByRole('status')).toContainText('By rule 2 “Rest” of fw')
  await trial.getByLabel('From').fill('::1::')
  await page.keyboard.press('Enter')
  await expect(trial.getByRole('status')).toContainText('“::1::” is no device, and no address')
})

test('ways between two devices are shown, with what cuts them', async ({ page }) => {
  await openNetwork(page)
  await press(page, 'isp')
  await page.keyboard.press('w')
  await page.getByRole('option', { name: /^web/ }).click()
  await expect(page.getByTestId('numbers')).toContainText('2 cables')
  await expect(sheet(page).locator('text', { hasText: 'without it there is no way' })).toBeAttached()
})

test('a topology goes out as RFC 8345 and comes in again, changing nothing', async ({ page }) => {
  await openNetwork(page)
  await page.getByRole('button', { name: 'Save as' }).click()
  const [file] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('menuitem', { name: 'Network topology (RFC 8345)' }).click(),
  ])
  const path = await file.path()
  await page.goto(`${address()}/w/${await ofModel(page, Model.of({ name: 'Other' }))}`)
  await newView(page, 'Networks')
  const open = async () => {
    await page.getByRole('button', { name: 'Bring in', exact: true }).click()
    const [chooser] = await Promise.all([
      page.waitForEvent('filechooser'),
      page.getByRole('menuitem', { name: 'Network topology (RFC 8345)' }).click(),
    ])
    await chooser.setFiles({
      name: 'net.json',
      mimeType: 'application/json',
      buffer: await (await import('node:fs/promises')).readFile(path),
    })
  }
  await open()
  await page.getByRole('dialog').getByRole('button', { name: 'Bring', exact: true }).click()
  await expect(headline(page)).toHaveText('4 devices, 2 cables')
  // Brought in again nothing differs.
  await open()
  await expect(page.getByRole('dialog').getByText('Nothing differs from the facts.')).toBeVisible()
})

test('the map shows the sites of the demo with what joins them, and racks show what stands in them', async ({
  page,
}) => {
  await page.goto(`${address()}/w/${await ofDemo(page)}`)
  const open = (title: string) => page.getByRole('navigation').getByRole('button', { name: title, exact: true }).click()
  await open('Ports on the map')
  await expect(headline(page)).toHaveText('6 sites, 5 joined')
  await expect(sheet(page).locator('text', { hasText: 'Natural Earth' })).toBeAttached()
  await expect(sheet(page).locator('text', { hasText: '4 × 10G = 40G' })).toBeAttached()
  await open('Racks at Northfield hall')
  await expect(headline(page)).toHaveText('2 racks, 32 units free')
  await press(page, 'sw-tick-1')
  await expect(page.getByTestId('margin')).toContainText('Switch · Ticketing · Northfield hall, rack A1 u 22')
  await open('Addresses')
  await expect(headline(page)).toHaveText('12 subnets, 44 addresses in use')
  await expect(notice(page)).toHaveCount(0)
})

test('what the devices say of their neighbours is brought in as it is previewed, and again changes nothing', async ({
  page,
}) => {
  await page.goto(`${address()}/w/${await ofDemo(page)}`)
  await page.getByRole('navigation').getByRole('button', { name: 'Port network', exact: true }).click()
  await expect(card(page, 'fw-quay-1')).toBeVisible()
  const ask = async () => {
    await page.getByRole('button', { name: 'Bring in', exact: true }).click()
    await page.getByRole('menuitem', { name: 'From the network' }).click()
  }
  await ask()
  const before = (await headline(page).textContent()) ?? ''
  const desk = page.getByRole('dialog', { name: 'Bring in from the network' })
  const outcome = page.getByTestId('import-outcome')
  await expect(outcome).toContainText('ap-hall-3')
  await desk.getByRole('button', { name: 'Bring it in' }).click()
  await expect(notice(page)).toContainText('cables: ')
  await expect(headline(page)).not.toHaveText(before)
  await ask()
  await expect(desk).toContainText('The facts are as the table says already.')
})
