import { anOrder, expect, move, newKitchen, test } from './help'
import { Server } from './server'

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
    ['logbook', '/bench/logbook'],
    ['handover', '/handover'],
    ['till', '/till'],
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
  const sheet = await (await page.request.get('/api/v1/days/2026-09-05/run-sheet')).json()
  const dip = sheet.steps.find((s: { name: string }) => s.name.startsWith('Dip'))
  const at = new URLSearchParams({
    batch: dip.batch,
    step: dip.step,
    day: '2026-09-05',
    name: `${dip.name}, ${dip.treat}`,
  })
  await page.goto(`/bench/wrong?${at.toString()}`)
  await page.getByRole('button', { name: /seized/ }).click()
  await expect(page.getByText(/of warm cream/)).toBeVisible()
  await page.waitForLoadState('networkidle')
  await page.screenshot(to('wrong'))
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

test('the picture of a bowl', async ({ browser }) => {
  test.setTimeout(120_000)
  const server = new Server(8, 6)
  await server.serve('2026-09-03T18:40:00-04:00')
  const page = await server.page(browser, { width: 1280, height: 800 })
  const post = async (path: string, data: object) =>
    (await page.request.post(`/api/v1${path}`, { data, headers: { Origin: server.base } })).json()
  const { sensors } = await (await page.request.get('/api/v1/sensors')).json()
  const of = (kind: string) => sensors.find((s: { kind: string }) => s.kind === kind).id
  const { id } = await post('/pots', {
    name: 'Dark 60%',
    chocolate: { kind: 'real', colour: 'dark' },
    method: 'seed',
    source: 'microwave',
    grams: 445,
    pieces: 36,
    coat: 7,
    pool: 150,
    probe: of('probe'),
    scale: of('scale'),
  })
  await page.goto(`/bench/bowls/${id}`)
  // What is said is done, until the seed is in and stirred.
  await expect(async () => {
    const { advice } = await (await page.request.get(`/api/v1/pots/${id}`)).json()
    const [touch] = advice.touches
    if (touch?.what === 'burst' || touch?.what === 'seeded') {
      if (touch.what === 'seeded') await post(`/pots/${id}/deeds`, { what: 'weigh', grams: touch.grams })
      if (touch.what === 'seeded') await page.waitForTimeout(2500) // until it lies in the cup
      await post(`/pots/${id}/deeds`, { what: touch.what, seconds: touch.seconds, grams: touch.grams })
    }
    expect(advice.stage).toBe('testing')
  }).toPass({ timeout: 60_000, intervals: [300] })
  await post(`/pots/${id}/deeds`, { what: 'smear' })
  await expect(page.getByText('Wait for the smear')).toBeVisible()
  await page.waitForTimeout(8000) // the curve goes on
  await page.screenshot(to('bowl'))
  await page.goto('/kitchen/helpers')
  await page.getByLabel('Whom it is for').fill('Ines')
  await page.getByRole('button', { name: 'Make a link' }).click()
  await expect(page.getByRole('button', { name: 'End the link for Ines' })).toBeVisible()
  await page.getByRole('heading', { level: 1 }).scrollIntoViewIfNeeded()
  await page.screenshot(to('helpers'))
  await server.stop()
})
