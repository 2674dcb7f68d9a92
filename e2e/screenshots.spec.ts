import { anOrder, expect, move, newKitchen, test } from './help'

// The current picture of each main view, for the README: make screenshots.
const to = (name: string) => ({ path: `../docs/screenshots/${name}.png` })

test('pictures of the main views', async ({ page }) => {
  for (const [name, path] of [
    ['orders', '/orders'],
    ['treats', '/treats'],
    ['plan', '/plan'],
    ['messages', '/messages/rules'],
    ['bench', '/bench'],
    ['larder', '/larder'],
    ['customers', '/customers/Regatta%20club'],
    ['handover', '/handover'],
    ['till', '/till'],
    ['kitchen', '/kitchen'],
  ] as const) {
    await page.goto(path)
    await expect(page.getByRole('heading', { level: 1 })).toBeVisible()
    await page.waitForLoadState('networkidle')
    await page.screenshot(to(name))
  }
  await page.goto('/events')
  await page.getByRole('link', { name: /^Boathouse dinner/ }).click()
  await expect(page.getByRole('region', { name: 'Payments' })).toBeVisible()
  await page.waitForLoadState('networkidle')
  await page.screenshot(to('event'))
  await page.goto('/orders')
  await page.getByRole('link', { name: /Ilse Vantongeren/ }).click()
  await expect(page.getByLabel('Count of Cardamom-malt bombs')).toBeVisible()
  await expect(page.getByText('It fits.')).toBeVisible()
  await page.waitForLoadState('networkidle')
  await page.screenshot(to('order'))
  for (const [name, treat] of [['treat', /^Cardamom-malt bombs/]] as const) {
    await page.goto('/treats')
    await page.getByRole('link', { name: treat }).click()
    await expect(page.getByRole('complementary').locator('.big')).toBeVisible()
    await page.waitForLoadState('networkidle')
    await page.screenshot(to(name))
  }
  // A Saturday with three doors.
  for (const [customer, place, from, until] of [
    ['Reading circle', 'Reading room, Mill Street', '10:30', '11:30'],
    ['Quayside tenants', 'Quay 12', '12:40', '13:30'],
  ]) {
    const { id } = await anOrder(page, customer!, 'Milk malt bombs', 6, {
      way: 'delivery',
      place,
      phone: '555 0171',
      from: `2026-09-05T${from}:00-04:00`,
      to: `2026-09-05T${until}:00-04:00`,
    })
    await move(page, id, 'promised')
  }
  await page.goto('/handover/drive/2026-09-05')
  await expect(page.getByRole('img', { name: /From home to Reading circle/ })).toBeVisible()
  await page.waitForLoadState('networkidle')
  await page.screenshot(to('drive'))
  const asking = await page.request.get('/api/v1/ask-page')
  await page.request.put('/api/v1/ask-page', {
    data: { ...(await asking.json()), slug: 'lakeside', open: true, hello: 'Made by hand in a kitchen by the lake.' },
    headers: { 'If-Match': '*' },
  })
  await page.goto('/ask/lakeside')
  await expect(page.getByRole('heading', { name: 'What would you like?' })).toBeVisible()
  await page.screenshot(to('ask'))
  const { orders } = await (await page.request.get('/api/v1/orders')).json()
  const dozen = orders.find((o: { customer: string }) => o.customer === 'Emeka Strand')
  await page.goto(`/handover/${dozen.id}`)
  await expect(page.getByRole('img', { name: /The label of/ })).toBeVisible()
  await page.waitForLoadState('networkidle')
  await page.screenshot(to('packing'))
  const quoted = orders.find((o: { state: string }) => o.state === 'quoted')
  await page.goto(`/orders/${quoted.id}`)
  await expect(page.getByLabel('Link to the quote')).toBeVisible()
  const link = await page.getByLabel('Link to the quote').inputValue()
  await page.goto(link.replace(/^https?:\/\/[^/]+/, ''))
  await expect(page.getByRole('button', { name: 'Yes, please make it' })).toBeVisible()
  await page.screenshot(to('quote'))
  await page.goto('/treats/recipe')
  await page
    .getByLabel('Recipe text')
    .fill(
      '1 1/2 cups double cream, cold\n2-3 tbsp butter (melted)\none 14-oz can condensed milk\n200 g hazelnuts, toasted\n1 pinch of sea salt',
    )
  await expect(page.getByText('5 lines read')).toBeVisible()
  await page.waitForLoadState('networkidle')
  await page.screenshot(to('recipe'))
})

test('a picture of the first evening', async ({ browser, baseURL }) => {
  const context = await browser.newContext({ baseURL, viewport: { width: 1280, height: 800 }, storageState: undefined })
  const page = await context.newPage()
  await newKitchen(page, 'ada')
  await page.goto('/start')
  await page.getByRole('checkbox', { name: /dipped fruit/i }).check()
  await page.getByRole('checkbox', { name: /drink bombs/i }).check()
  await expect(page.locator('.starter-offer')).toHaveCount(2)
  await page.screenshot(to('starter'))
  await context.close()
})
