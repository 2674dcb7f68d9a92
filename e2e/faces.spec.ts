import type { Page, Route } from '@playwright/test'
import { expect, newKitchen, test } from './help'

/** The views that show what the server knows, with what each says when there is nothing. */
const views = [
  ['/orders', 'Your orders appear here', /upcoming orders?$/],
  ['/treats', 'Your treats appear here', /^Your treats$/],
  ['/plan', 'No working hours yet', /^Plan$/],
  ['/bench', 'Nothing is planned on this day', /September$/],
  ['/larder', 'Your ingredients appear here', /^The larder$/],
  ['/larder/shopping', 'Nothing to buy', /^To buy$/],
  ['/handover', 'Your confirmed orders appear here', /^Handovers$/],
  ['/till', 'Nothing here yet', /^The till$/],
] as const

/** Pages of one thing, and forms over what is stored: nothing of them is empty. */
async function pages(page: Page) {
  const of = async (list: string, key: string) => (await (await page.request.get(`/api/v1/${list}`)).json())[key][0]
  const [order, treat, mix] = [await of('orders', 'orders'), await of('treats', 'treats'), await of('mixes', 'mixes')]
  return [
    [`/orders/${order.id}`, order.customer],
    [`/treats/${treat.id}`, treat.name],
    [`/treats/mixes/${mix.id}`, mix.name],
    ['/plan/hours', 'Hours and space'],
    ['/kitchen', 'Settings'],
    ['/kitchen/you', 'You and your sign-ins'],
    ['/kitchen/helpers', 'Helpers'],
  ] as const
}

/** An answer of a server that broke. */
const fails = (route: Route) =>
  route.fulfill({
    status: 500,
    contentType: 'application/problem+json',
    body: JSON.stringify({ title: 'Broken', status: 500, detail: 'The oven is on fire.' }),
  })

/** Everything that a view asks for is held back, broken or refused as one says; who is signed in is known. */
async function answers(page: Page) {
  let how: (route: Route) => unknown = (route) => route.continue()
  await page.route(/\/api\/v1\/(?!session|starter|events)/, (route) => how(route))
  return (now: typeof how) => {
    how = now
  }
}

test('every view says that it loads, that it failed, and that there is no connection', async ({ page }) => {
  test.setTimeout(180_000)
  const all = [...views, ...(await pages(page)).map(([path, title]) => [path, 'not found', title] as const)]
  const answer = await answers(page)
  for (const [path, empty, title] of all) {
    // A slow answer: nothing is said of what is not known yet.
    const held: Route[] = []
    answer((route) => held.push(route))
    await page.goto(path)
    await expect(page.getByRole('main').getByText('Loading…').first(), path).toBeVisible()
    await expect(page.getByText(empty), path).toHaveCount(0)

    // What comes at last is a failure: in words, and it can be tried again.
    answer(fails)
    await Promise.all(held.map(fails))
    await expect(page.getByText('This didn’t load'), path).toBeVisible()
    await expect(page.getByRole('alert').getByText('The oven is on fire.'), path).toBeVisible()

    // Tried again, without a connection.
    answer((route) => route.abort())
    await page.getByRole('button', { name: 'Try again' }).first().click()
    await expect(page.getByText('No connection to your kitchen').first(), path).toBeVisible({ timeout: 20_000 })
    await expect(page.getByText(empty), path).toHaveCount(0)
    // It is back: nobody has to press anything.
    answer((route) => route.continue())
    await expect(page.getByRole('heading', { level: 1, name: title }), path).toBeVisible({ timeout: 10_000 })
  }
})

test.describe('in a new kitchen', () => {
  test.use({ storageState: { cookies: [], origins: [] } })
  test('every view says what will appear', async ({ page }) => {
    await newKitchen(page, 'empty')
    for (const [path, empty] of views) {
      await page.goto(path)
      await expect(page.getByText(empty).first(), path).toBeVisible()
    }
  })
})

test('a place that cannot be fetched says so, and opens when it can be', async ({ page }) => {
  await page.goto('/orders')
  await expect(page.getByRole('heading', { level: 1 })).toBeVisible()
  await page.route(/assets\/Till/, (route) => route.abort())
  await page.getByRole('link', { name: 'Till' }).click()
  await expect(page.getByText('This page didn’t open')).toBeVisible()
  await expect(page.getByRole('link', { name: 'Orders', exact: true })).toBeVisible()
  await page.unrouteAll()
  await page.getByRole('button', { name: 'Try again' }).click()
  await expect(page.getByRole('heading', { name: 'The till' })).toBeVisible()
})
