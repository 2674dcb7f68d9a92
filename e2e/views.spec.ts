import AxeBuilder from '@axe-core/playwright'
import type { Page, Request } from '@playwright/test'
import { anIngredient, anOrder, expect, move, test } from './help'

const views = [
  ['the orders', '/orders', /upcoming orders?/],
  ['a new order', '/orders/new', 'New order'],
  ['the treats', '/treats', 'Your treats'],
  ['a recipe', '/treats/recipe', 'Read a recipe'],
  ['the plan', '/plan', 'Plan'],
  ['hours and room', '/plan/hours', 'Hours and space'],
  ['the bench', '/bench/2026-09-05', 'Saturday 5 September'],
  ['thermometers and scales', '/bench/instruments', 'Thermometers and scales'],
  ['practice', '/bench/practice', 'Practice'],
  ['something wrong', '/bench/wrong', 'Something is wrong'],
  ['the logbook', '/bench/logbook', 'Logbook'],
  ['a new bowl', '/bench/bowls/new', 'A new bowl'],
  ['the larder', '/larder', 'The larder'],
  ['the shopping list', '/larder/shopping', 'To buy'],
  ['a receipt', '/larder/receipt', 'A receipt'],
  ['a file of receipts', '/larder/file', 'Receipts from a file'],
  ['the handovers', '/handover', 'Handovers'],
  ['a pack list', '/handover/packing/2026-09-05', 'To pack for Saturday 5 September'],
  ['a drive', '/handover/drive/2026-09-05', "Saturday's drive"],
  ['the customers', '/customers/Wren%20family', 'Customers'],
  ['the messages', '/messages', 'Messages'],
  ['what is told', '/messages/rules', 'Messages'],
  ['the events', '/events', 'Events'],
  ['the till', '/till', 'The till'],
  ['the kitchen', '/kitchen', 'Settings'],
  ['one’s own account', '/kitchen/you', 'You and your sign-ins'],
  ['the data', '/kitchen/data', 'Your data'],
  ['helpers', '/kitchen/helpers', 'Helpers'],
] as const

// Each looks at a view alone: they need not wait for each other.
test.describe.configure({ mode: 'parallel' })

test('every view: no barrier that axe finds, nothing wider than the screen', async ({ page }, info) => {
  test.setTimeout(180_000)
  const go = await walk(page)
  const [width, height] = info.project.name === 'phone' ? [390, 844] : [1280, 800]
  for (const [name, path, heading] of views) {
    await page.setViewportSize({ width, height })
    await go(path)
    await expect(page.getByRole('heading', { name: heading, level: 1 }), name).toBeVisible()
    await go.quiet()
    await barrierFree(page, name)
    if (info.project.name === 'phone') continue
    // Letters twice as large: half as much of the page, and nothing to scroll sideways.
    await page.setViewportSize({ width: 640, height: 400 })
    await expect.poll(() => widest(page), `${name} at 200 %`).toEqual([])
  }
})

/**
 * Goes from view to view as one does, without opening the application anew: a fifth of the time. Quiet is a view when
 * nothing that it asked for is on its way.
 */
async function walk(page: Page) {
  let asked = 0
  const counts = (r: Request) => /\/(api|assets)\//.test(r.url()) && !r.url().includes('/events')
  page.on('request', (r) => counts(r) && asked++)
  page.on('requestfinished', (r) => counts(r) && asked--)
  page.on('requestfailed', (r) => counts(r) && asked--)
  const quiet = async () => {
    await expect(page.getByText('Loading…')).toHaveCount(0)
    // What is drawn may ask for more: three looks in a row.
    for (let still = 0; still < 3; still = asked === 0 ? still + 1 : 0) await page.waitForTimeout(50)
  }
  await page.goto('/orders')
  await expect(page.getByRole('heading', { level: 1 })).toBeVisible()
  const go = async (path: string) => {
    await page.evaluate((to) => {
      history.pushState(null, '', to)
      dispatchEvent(new PopStateEvent('popstate'))
    }, path)
  }
  return Object.assign(go, { quiet })
}

/** How far the page scrolls sideways, px. */
const sideways = (page: Page) => page.evaluate(() => document.documentElement.scrollWidth - innerWidth)

/** What reaches beyond the screen and is not within something that scrolls; nothing, where the page does not scroll. */
const widest = (page: Page) =>
  page.evaluate(() => {
    const more = document.documentElement.scrollWidth - innerWidth
    if (more <= 0) return []
    const beyond = [...document.querySelectorAll('body *')]
      .filter((e) => e.getBoundingClientRect().right > innerWidth + 1 && !e.closest('.shelf, svg'))
      .map((e) => `${e.tagName.toLowerCase()}.${e.className} ${e.textContent.slice(0, 40)}`)
    return [`${more} px more than the screen`, ...beyond.slice(0, 12)]
  })

test('names of a hundred letters without a space break nothing', async ({ page }, info) => {
  test.setTimeout(120_000)
  const long = 'Nougat'.repeat(17).slice(0, 100)
  const { treats } = await (await page.request.get('/api/v1/treats')).json()
  const bomb = treats.find((t: { name: string }) => t.name === 'Milk malt bombs')
  const full = await (await page.request.get(`/api/v1/treats/${bomb.id}`)).json()
  const made = await page.request.post('/api/v1/treats', { data: { name: long, formula: full.formula } })
  expect(made.status(), await made.text()).toBe(201)
  await anIngredient(page, long)
  const { id } = await anOrder(page, long, long, 12, { occasion: long, place: long, notes: long })
  await move(page, id, 'promised')
  const day = (await (await page.request.get(`/api/v1/orders/${id}`)).json()).days[0].day
  const go = await walk(page)
  const paths = ['/orders', `/orders/${id}`, '/treats', `/treats/${(await made.json()).id}`, '/plan', `/bench/${day}`]
  for (const path of [...paths, '/orders/new', '/plan/hours', '/larder', '/larder/shopping', '/handover', '/till']) {
    await go(path)
    await expect(page.getByRole('heading', { level: 1 }).first(), path).toBeVisible()
    await go.quiet()
    expect.soft(await widest(page), path).toEqual([])
    if (info.project.name === 'phone') continue
    await page.setViewportSize({ width: 640, height: 400 })
    expect.soft(await widest(page), `${path} at 200 %`).toEqual([])
    await page.setViewportSize({ width: 1280, height: 800 })
  }
})

test('an order and a treat: no barrier that axe finds', async ({ page }) => {
  await page.goto('/orders')
  await page.getByRole('link', { name: /Ilse Vantongeren/ }).click()
  await expect(page.getByLabel('Count of Cardamom-malt bombs')).toBeVisible()
  await expect(page.getByText('It fits.')).toBeVisible()
  await barrierFree(page)
  await page.goto('/treats')
  await page.getByRole('link', { name: /Cardamom-malt bombs/ }).click()
  await expect(page.getByText('start 46')).toBeVisible()
  await barrierFree(page)
})

test('packing and where a lot went: no barrier that axe finds, nothing wider than the screen', async ({ page }) => {
  const { orders } = await (await page.request.get('/api/v1/orders?limit=100')).json()
  const packed = orders.find((o: { customer: string }) => o.customer === 'Piotr Szalai').id as string
  await page.goto(`/handover/${packed}`)
  await expect(page.getByRole('img', { name: /The label of/ })).toBeVisible()
  await expect(page.getByRole('region', { name: 'What went in' }).getByRole('listitem').first()).toBeVisible()
  await barrierFree(page, 'packing')
  expect(await widest(page)).toEqual([])
  const { lots } = await (await page.request.get(`/api/v1/orders/${packed}/lots`)).json()
  await page.goto(`/larder/lots/${lots[0].id}`)
  await expect(page.getByRole('heading', { level: 1 })).toBeVisible()
  await barrierFree(page, 'where a lot went')
  expect(await widest(page)).toEqual([])
})

test('a set of designs, a pan and a mix: no barrier that axe finds, nothing wider than the screen', async ({
  page,
}) => {
  test.setTimeout(120_000)
  const go = await walk(page)
  for (const name of ['A dozen strawberries, three ways', 'Brown-butter walnut fudge', 'Walnut fudge']) {
    await go('/treats')
    await page.getByRole('link', { name: new RegExp(`^${name}`) }).click()
    await expect(page.getByRole('complementary').locator('.big')).toBeVisible()
    for (const more of await page.locator('details.steps summary').all()) await more.click()
    await go.quiet()
    await barrierFree(page, name)
  }
})

test.describe('signed out', () => {
  test.use({ storageState: { cookies: [], origins: [] } })
  test('the door: no barrier that axe finds', async ({ page }) => {
    await page.goto('/')
    await expect(page.getByRole('button', { name: 'Sign in' })).toBeVisible()
    await barrierFree(page)
  })
})

test('the first screen needs less than 400 kB of script, gzipped', async ({ page }) => {
  await page.goto('/orders')
  await expect(page.getByRole('heading', { level: 1 })).toBeVisible()
  await page.waitForLoadState('networkidle')
  const bytes = await page.evaluate(() =>
    (performance.getEntriesByType('resource') as PerformanceResourceTiming[])
      .filter((r) => r.name.endsWith('.js'))
      .reduce((sum, r) => sum + r.encodedBodySize, 0),
  )
  expect(bytes).toBeGreaterThan(50_000)
  expect(bytes).toBeLessThan(400_000)
})

test('the documentation of the API comes from here alone', async ({ page, baseURL }) => {
  const outside: string[] = []
  page.on('request', (r) => {
    if (!r.url().startsWith(baseURL!) && !r.url().startsWith('data:') && !r.url().startsWith('blob:'))
      outside.push(r.url())
  })
  await page.goto('/api/docs')
  await expect(page.getByText('Orders, treats, days and packaging of a home chocolate kitchen').first()).toBeVisible()
  expect(outside).toEqual([])
})

async function barrierFree(page: Page, name?: string) {
  const found = await new AxeBuilder({ page })
    .setLegacyMode() // nothing here is framed: no second page to gather what was found
    .withTags(['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa'])
    .analyze()
  // A step in the plan is as wide as its minutes: where it stands is what it says. Each is also come to by ‹ and ›
  // beside the plan (WCAG 2.2, 2.5.8, the exceptions "equivalent" and "essential").
  const faults = found.violations.map((v) => ({
    id: v.id,
    at: v.nodes.map((n) => n.target.join(' ')).filter((at) => !(v.id === 'target-size' && at.includes('.step-chip'))),
  }))
  expect(
    faults.filter((f) => f.at.length > 0).map((f) => `${f.id}: ${f.at.slice(0, 4).join(' | ')}`),
    name,
  ).toEqual([])
  expect(await sideways(page), name).toBeLessThanOrEqual(0)
}
