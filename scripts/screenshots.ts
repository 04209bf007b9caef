/** Takes docs/screenshots from the demo in the built application: npm run screenshots */
import { join } from 'node:path'
import { writeWorkspace } from '../src/core/file'
import { marramPictures, marramSoundFerries } from '../src/demo'
import { withApplication } from './lib/application'

await withApplication('screenshots', async (browser, address) => {
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 }, colorScheme: 'light' })
  await page.clock.setFixedTime(new Date('2026-11-24T09:12:00'))

  const shot = async (name: string) => {
    await page.waitForTimeout(500)
    await page.screenshot({ path: join('docs', 'screenshots', `${name}.png`) })
  }
  const pressCard = async (text: string) => {
    const box = await page.getByTestId('sheet').locator('g[data-item]', { hasText: text }).first().boundingBox()
    if (!box) throw new Error(`no card “${text}”`)
    await page.mouse.click(box.x + box.width / 2, box.y + box.height / 2)
  }

  const response = await page.request.post(`${address}/api/workspaces`, {
    data: { file: writeWorkspace(marramSoundFerries(), marramPictures()) },
  })
  const { id } = (await response.json()) as { id: string }
  await page.goto(address)
  await page.getByRole('region', { name: 'Starters' }).waitFor()
  await shot('home')
  await page.goto(`${address}/w/${id}`)
  await page.locator('[data-item]').first().waitFor()
  await page.getByRole('tab', { name: /Positions/ }).click()
  await pressCard('Osei Brandt')
  await shot('organisation')
  await page.getByRole('tab', { name: 'Outline' }).click()
  await page.getByRole('navigation').getByRole('button', { name: 'Port services', exact: true }).click()
  await page.locator('[data-item]').first().waitFor()
  await pressCard('Ida Nwosu')
  await shot('branch-and-outline')
  await page.getByRole('button', { name: 'Bring in', exact: true }).click()
  await page.getByRole('menuitem', { name: 'A table or file' }).click()
  await page.getByLabel('Cells of a table').evaluate((field) => {
    const data = new DataTransfer()
    const rows = [
      '1\tGro Lind\tQuay planner\tOsei Brandt\tPorts',
      '2\tHal Ek\tSurveyor\t1\tPorts',
      '3\tIda Ly\tAide\t2\tPorts',
    ]
    data.setData('text/plain', ['Employee ID\tFull name\tJob title\tManager ID\tDepartment', ...rows].join('\n'))
    field.dispatchEvent(new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true }))
  })
  await page.getByTestId('import-outcome').getByText('3 new').waitFor()
  await shot('bring-in')
  await page.keyboard.press('Escape')
  await page.getByRole('navigation').getByRole('button', { name: 'Units and their size', exact: true }).click()
  await page.getByRole('tab', { name: 'Numbers' }).click()
  await page.locator('[data-testid=chart] svg').waitFor()
  await shot('units-and-numbers')
  await page.getByRole('navigation').getByRole('button', { name: 'Who is who', exact: true }).click()
  await page.getByRole('tab', { name: 'Outline' }).click()
  await shot('directory')
  await page.getByRole('navigation').getByRole('button', { name: 'Sailing cancelled', exact: true }).click()
  await page.getByTestId('sheet').focus()
  await page.keyboard.press('Escape')
  await page.getByRole('button', { name: 'Play it' }).waitFor()
  await shot('process')
  await page.getByRole('button', { name: 'Fit', exact: true }).click()
  for (let step = 0; step < 3; step++) await page.getByRole('button', { name: 'Larger' }).click()
  await page.getByRole('button', { name: 'Play it' }).click()
  await page.getByRole('button', { name: 'Hold', exact: true }).click()
  const on = page.getByRole('button', { name: 'On', exact: true })
  for (let moment = 0; moment < 14; moment++) await on.click()
  await shot('process-played')
  await page.getByRole('button', { name: 'Stop', exact: true }).click()
  await page
    .getByRole('navigation')
    .getByRole('button', { name: 'Who does what when a sailing is cancelled', exact: true })
    .click()
  await page.getByRole('tab', { name: 'Numbers' }).click()
  await shot('responsibilities')
  await page.getByRole('tab', { name: 'Outline' }).click()
  await page.getByRole('navigation').getByRole('button', { name: 'Dry dock and new ticketing', exact: true }).click()
  await page.locator('[data-item="row t-plates"]').waitFor()
  await page.getByRole('tab', { name: /^Tasks/ }).click()
  await pressCard('Bring MS Eider')
  await shot('plan')
  await page.keyboard.press('Control+k')
  await page.keyboard.type('Lio Carrick')
  await page.keyboard.press('Enter')
  await shot('load')
  await page.getByRole('navigation').getByRole('button', { name: '1887 to 2028', exact: true }).click()
  await page.locator('[data-item="h-1"]').waitFor()
  await page.getByRole('tab', { name: 'Outline' }).click()
  await page.getByTestId('sheet').focus()
  await page.keyboard.press('Escape')
  await page.keyboard.press('z')
  await shot('timeline')
  await page.keyboard.press('z')
  await page.getByRole('region', { name: 'Time' }).getByRole('button', { name: 'New view' }).click()
  await page.getByRole('dialog').locator('svg').nth(5).waitFor()
  await shot('new-view')
  await page.keyboard.press('Escape')
  await page.getByRole('navigation').getByRole('button', { name: 'Whole company', exact: true }).click()
  await page.getByTestId('day').click()
  await page.keyboard.type('2027-02-01')
  await page.keyboard.press('Enter')
  await page.getByRole('button', { name: 'Compare…' }).click()
  await page.getByTestId('compared').click()
  await page.keyboard.type('2026-11-24')
  await page.keyboard.press('Enter')
  await page.getByTestId('sheet').focus()
  await page.keyboard.press('Escape')
  await page.keyboard.press('z')
  await page.getByRole('button', { name: 'Smaller' }).click()
  await shot('compared')
  await page.keyboard.press('z')
})
