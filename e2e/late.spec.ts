import { expect, test } from './help'
import { Server } from './server'

// A server whose clock stands where it is set: the plan is made in the morning, and then it is evening.
const server = new Server(7, 1)
const tablet = { width: 800, height: 1280 }

test.beforeAll(async () => {
  test.setTimeout(120_000)
  await server.serve('2026-09-03T10:20:00-04:00')
  await server.stop()
  await server.serve('2026-09-03T20:20:00-04:00')
})
test.afterAll(() => server.stop())

test('what would help on an evening that runs late, tried, taken and taken back', async ({ browser }) => {
  test.setTimeout(120_000)
  const page = await server.page(browser, tablet)
  const other = await server.page(browser, tablet)
  await page.goto('/bench')
  await other.goto('/bench')
  const outlook = page.getByRole('status').filter({ hasText: /behind/ })
  await expect(outlook).toContainText('would not be done in today’s hours')
  await outlook.getByRole('button', { name: 'What would help?' }).press('Enter')
  const helps = page.getByRole('list', { name: 'What would help?' })
  const first = helps.getByRole('listitem').first()
  await expect(first).toContainText(/Today’s work is then done at .* All handovers are on time/, { timeout: 60_000 })
  expect(await helps.getByRole('listitem').count()).toBeGreaterThan(1)

  // One touch, and both see what it does.
  await first.getByRole('button').press('Enter')
  await expect(page.getByText('would not be done in today’s hours')).toHaveCount(0)
  await expect(other.getByText('would not be done in today’s hours')).toHaveCount(0, { timeout: 30_000 })
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(page.getByText('would not be done in today’s hours')).toBeVisible({ timeout: 30_000 })
})

test('two at one bench: what one notes the other sees, and takes back', async ({ browser }) => {
  const page = await server.page(browser, tablet)
  const other = await server.page(browser, tablet)
  await page.goto('/bench')
  await page.getByRole('link', { name: 'Something is wrong' }).click()
  await other.goto(page.url())
  await page.getByRole('button', { name: 'Broken or dropped' }).click()
  await page
    .getByRole('listitem')
    .filter({ hasText: 'Put them with the tasters' })
    .getByRole('button', { name: 'Do this' })
    .click()
  const noted = other.getByRole('listitem').filter({ hasText: 'It broke while it was handled' })
  await expect(noted).toContainText('1 fewer')
  await noted.getByRole('button', { name: /^Take back/ }).click()
  await expect(page.getByText('Noted here')).toHaveCount(0)

  // Without a network nothing is noted, and it is said; what is typed stays.
  await page.context().setOffline(true)
  await page.getByRole('button', { name: 'Do this' }).first().click()
  await expect(page.getByText(/cannot be reached|no connection/i).first()).toBeVisible()
  await page.context().setOffline(false)
  await expect(page.getByRole('heading', { name: /Broken or dropped/ })).toBeVisible()
})

test('a new kitchen: an empty logbook, and what is wrong all the same', async ({ browser }) => {
  const context = await browser.newContext({ viewport: tablet, baseURL: server.base })
  const page = await context.newPage()
  const made = await page.request.post('/api/v1/kitchens', {
    data: {
      kitchen: 'Empty',
      name: 'Ida',
      mail: 'ida@empty.example',
      password: 'quite another one',
      timeZone: 'Europe/Vienna',
      country: 'AT',
    },
    headers: { Origin: server.base },
  })
  expect(made.ok()).toBeTruthy()
  await page.goto('/bench/logbook')
  await expect(page.getByText('Nothing yet. What you tick')).toBeVisible()
  await page.goto('/bench/wrong')
  await page.getByRole('button', { name: /seized/ }).click()
  await page.getByRole('button', { name: 'Yes', exact: true }).click()
  await expect(page.getByRole('article').first()).toContainText('Water got in')
  await context.close()
})

test('a bowl that ends while there is no network ends when there is one', async ({ browser }) => {
  const page = await server.page(browser, tablet)
  const post = async (path: string, data: object) =>
    (await page.request.post(`/api/v1${path}`, { data, headers: { Origin: server.base } })).json()
  const { id } = await post('/pots', {
    name: 'Milk for the lines',
    chocolate: { kind: 'real', colour: 'milk' },
    method: 'seed',
    source: 'microwave',
    grams: 300,
  })
  await post(`/pots/${id}/deeds`, { what: 'burst', seconds: 20 })
  await page.goto(`/bench/bowls/${id}`)
  const undo = page.getByRole('button', { name: /^Take back: heated/ })
  await expect(undo).toBeVisible()
  await page.context().setOffline(true)
  await undo.click()
  await expect(page.getByText(/Taken back: Milk for the lines\. No connection: it is kept/)).toBeVisible()
  await page.getByRole('button', { name: 'The bowl is over' }).click()
  await page.getByText('Well', { exact: true }).click()
  await page.getByRole('button', { name: 'Save' }).click()
  await expect(page.getByText(/Over: Milk for the lines\. No connection: it is kept/)).toBeVisible()
  await page.context().setOffline(false)
  await page.evaluate(() => window.dispatchEvent(new Event('online')))
  await expect(page.getByRole('heading', { name: 'It set well' })).toBeVisible({ timeout: 40_000 })
  const bowl = await (await page.request.get(`/api/v1/pots/${id}`)).json()
  expect(bowl.deeds).toEqual([])
  expect(bowl.result).toBe('good')
})
