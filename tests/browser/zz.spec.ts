import { ofDemo, open, test } from './pages'
test('zz', async ({ page }) => {
  await open(page, await ofDemo(page))
  await page.getByTestId('day').click()
  await page.keyboard.type('2027-04-01')
  await page.keyboard.press('Enter')
  await page.getByRole('button', { name: 'Compare…' }).click()
  await page.getByTestId('compared').click()
  await page.keyboard.type('2026-11-24')
  await page.keyboard.press('Enter')
  for (const [name, file] of [['Port network', 'z'], ['Addresses', 'a'], ['Ports on the map', 'm'], ['Racks at Northfield hall', 'r']] as const) {
    await page.getByRole('navigation').getByRole('button', { name, exact: true }).click()
    await page.waitForTimeout(500)
    await page.getByRole('button', { name: 'Fit' }).click()
    await page.getByTestId('sheet').focus()
    await page.keyboard.press('Escape')
    await page.keyboard.press('z')
    await page.waitForTimeout(700)
    await page.getByRole('button', { name: 'Fit' }).click()
    await page.waitForTimeout(500)
    await page.screenshot({ path: `/tmp/shots/d-${file}.png` })
    await page.keyboard.press('z')
  }
})
