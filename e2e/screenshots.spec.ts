import { expect, test } from './help'

// The current picture of each main view, for the README: make screenshots.
const to = (name: string) => ({ path: `../docs/screenshots/${name}.png` })

test('pictures of the main views', async ({ page }) => {
  for (const [name, path] of [['orders', '/orders'], ['treats', '/treats'], ['plan', '/plan'], ['bench', '/bench'], ['larder', '/larder'], ['handover', '/handover'], ['till', '/till']] as const) {
    await page.goto(path)
    await expect(page.getByRole('heading', { level: 1 })).toBeVisible()
    await page.waitForLoadState('networkidle')
    await page.screenshot(to(name))
  }
  await page.goto('/orders')
  await page.getByRole('link', { name: /Ilse Vantongeren/ }).click()
  await expect(page.getByLabel('Count of Cardamom-malt bombs')).toBeVisible()
  await expect(page.getByText('It fits.')).toBeVisible()
  await page.waitForLoadState('networkidle')
  await page.screenshot(to('order'))
  await page.goto('/treats')
  await page.getByRole('link', { name: /Cardamom-malt bombs/ }).click()
  await expect(page.getByText('start 46')).toBeVisible()
  await page.waitForLoadState('networkidle')
  await page.screenshot(to('treat'))
})
