import { anOrder, beside, pick, expect, move, test } from './help'

test('a fault stands at its field, and nothing is lost', async ({ page }) => {
  const { id } = await anOrder(page, 'Fault Finder', 'Milk malt bombs', 12)
  await page.goto(`/orders/${id}`)
  const count = page.getByLabel('Count of Milk malt bombs')
  await count.fill('0')
  await expect(page.locator('.order-lines .fault')).toHaveText('You can’t make 0. Enter 1 or more.')
  await expect(page.getByRole('status').filter({ hasText: 'not saved: You can’t make 0' })).toBeVisible()
  await count.fill('20000')
  await expect(page.locator('.order-lines .fault')).toContainText('20,000 is more than the 10,000')
  await count.fill('13')
  await expect(page.locator('.order-lines .fault')).toHaveCount(0)
  await page.getByLabel('To', { exact: true }).fill('1 pm')
  await page.keyboard.press('Enter')
  await expect(page.locator('.sentence .fault')).toContainText('The window ends before it starts')
  await page.getByLabel('To', { exact: true }).fill('4 pm')
  await page.keyboard.press('Enter')
  await page.getByLabel('Mail').fill('nobody')
  await expect(page.getByText('“nobody” is not an email address').first()).toBeVisible()
  await page.getByLabel('Mail').fill('')
  await expect(page.getByRole('status').filter({ hasText: /· Saved$/ })).toBeVisible()
  await page.reload()
  await expect(page.getByLabel('Count of Milk malt bombs')).toHaveValue('13')
})

test('two people at one order: other fields are merged, the same one is asked for', async ({ page, context }) => {
  const { id } = await anOrder(page, 'Two Hands', 'Milk malt bombs', 12)
  const other = await context.newPage()
  await other.route('**/api/v1/events', (route) => route.abort()) // it hears of nothing
  await page.goto(`/orders/${id}`)
  await other.goto(`/orders/${id}`)
  await expect(other.getByLabel('Notes')).toBeVisible()
  await other.route(`**/api/v1/orders/${id}`, (route) =>
    route.request().method() === 'GET' ? route.abort() : route.fallback(),
  )
  await page.getByLabel('Notes').fill('ribbon in blue')
  await expect(page.getByRole('status').filter({ hasText: /· Saved$/ })).toBeVisible()
  await page.getByLabel('Count of Milk malt bombs').fill('18')
  await expect(page.getByRole('status').filter({ hasText: /· Saved$/ })).toBeVisible()
  const stored = async () => (await (await page.request.get(`/api/v1/orders/${id}`)).json()).draft
  await expect.poll(async () => (await stored()).lines[0].count).toBe(18)
  await other.getByLabel('Phone').fill('555 0134')
  await expect.poll(async () => (await stored()).phone).toBe('555 0134')
  expect((await stored()).notes).toBe('ribbon in blue')
  await expect(other.getByLabel('Count of Milk malt bombs')).toHaveValue('18')

  await page.getByLabel('Notes').fill('ribbon in green')
  await expect.poll(async () => (await stored()).notes).toBe('ribbon in green')
  await other.getByLabel('Notes').fill('ribbon in red')
  await expect(other.getByRole('alert').filter({ hasText: 'Someone else changed the same fields' })).toContainText(
    'ribbon in green',
  )
  expect((await stored()).notes).toBe('ribbon in green')
  await other.waitForTimeout(700) // somebody reads it first
  await other.getByRole('button', { name: 'Keep mine' }).click()
  await expect.poll(async () => (await stored()).notes).toBe('ribbon in red')
})

test('what is changed on another device is seen at once', async ({ page, browser }) => {
  const { id } = await anOrder(page, 'Two Devices', 'Milk malt bombs', 12)
  const elsewhere = await browser.newContext({ storageState: await page.context().storageState() })
  const other = await elsewhere.newPage()
  await other.goto(`/orders/${id}`)
  await expect(other.getByLabel('Count of Milk malt bombs')).toHaveValue('12')
  await page.goto(`/orders/${id}`)
  await page.getByLabel('Count of Milk malt bombs').fill('16')
  await expect(other.getByLabel('Count of Milk malt bombs')).toHaveValue('16', { timeout: 10_000 })
  await elsewhere.close()
})

test('without a connection what is typed stays, and is saved once it is back', async ({ page, context }) => {
  const { id } = await anOrder(page, 'Far Out', 'Milk malt bombs', 12)
  await page.goto(`/orders/${id}`)
  await expect(page.getByText('It fits.')).toBeVisible()
  await context.setOffline(true)
  await page.getByLabel('Notes').fill('by the jetty')
  await expect(page.getByRole('status').filter({ hasText: 'not saved, waiting for the network' })).toBeVisible()
  await expect(page.getByLabel('Notes')).toHaveValue('by the jetty')
  await context.setOffline(false)
  await expect(page.getByRole('status').filter({ hasText: /· Saved$/ })).toBeVisible()
})

test('figures are drawn before the plan is known', async ({ page }) => {
  const { id } = await anOrder(page, 'Slow Answer', 'Milk malt bombs', 12)
  await page.goto(`/orders/${id}`)
  await expect(beside(page).getByText('It fits.')).toBeVisible()
  let answer = () => {}
  const held = new Promise<void>((go) => {
    answer = go
  })
  await page.route('**/api/v1/estimates', async (route) => {
    if (!route.request().postDataJSON().figures) await held
    await route.continue()
  })
  await page.getByLabel('Count of Milk malt bombs').fill('24')
  await expect(beside(page).getByText('24 Milk malt bombs')).toBeVisible()
  await expect(page.locator('.when')).toHaveAttribute('aria-busy', 'true')
  answer()
  await expect(page.locator('.when')).toHaveAttribute('aria-busy', 'false')
  await expect(beside(page).getByText('24 Milk malt bombs')).toBeVisible()
})

test('what does not fit is said, and stands over the rim', async ({ page }) => {
  await page.goto('/orders')
  await page.getByRole('link', { name: /Brookhollow school/ }).click()
  await expect(
    beside(page).getByText(/short between Tue 15 Sep and Wed 16 Sep: 72 Strawberries with white lines keep 24 hours/),
  ).toBeVisible()
  await expect(page.locator('.shelf .tin-over')).toHaveCount(1)
  await page.getByRole('button', { name: 'Confirm order' }).click()
  await expect(page.getByText(/It does not fit\./)).toBeVisible()
  await expect(page.getByRole('status').filter({ hasText: 'request' })).toBeVisible()
})

test('a new order keeps its page when it is saved, and is found again', async ({ page }) => {
  await page.goto('/orders/new')
  await page.getByLabel('Customer').pressSequentially('Newly Born')
  await expect(page).toHaveURL(/orders\/[0-9a-f-]{36}$/)
  await page.getByLabel('Occasion').pressSequentially('a christening')
  await expect(page.getByRole('status').filter({ hasText: /· Saved$/ })).toBeVisible()
  for (const [find, heading] of [
    ['ilse', /Ilse Vantongeren/],
    ['newly', /A christening, Newly Born/i],
  ] as const) {
    await page.locator('#find').fill(find)
    await expect(page.getByRole('option').first()).toBeVisible()
    await page.locator('#find').press('Enter')
    await expect(page.getByRole('heading', { level: 1, name: heading })).toBeVisible()
  }
  await expect(page.getByLabel('Customer')).toHaveValue('Newly Born')
  await page.locator('body').press('n')
  await expect(page.getByLabel('Customer')).toHaveValue('')
})

test('nothing moves under the pointer when an order is saved for the first time', async ({ page }) => {
  let send = () => {}
  const measured = new Promise<void>((resolve) => (send = resolve))
  await page.route('**/api/v1/orders', async (route) => {
    await measured
    await route.continue()
  })
  await page.goto('/orders/new')
  await page.getByLabel('Customer').fill('Steady Hand')
  await page.getByRole('button', { name: /^Add / }).first().click()
  await expect(beside(page).getByText('It fits.')).toBeVisible()
  const confirm = page.locator('.order-foot').getByRole('button', { name: 'Confirm order' })
  const at = async () => Math.round((await confirm.boundingBox())!.y + (await page.evaluate(() => scrollY)))
  const before = await at()
  send()
  await expect(page.getByText('· request · Saved')).toBeVisible()
  await expect(page.getByRole('heading', { name: 'Quote' })).toBeVisible()
  expect(await at()).toBe(before)
})

test('touching a tin chooses the day of the handover', async ({ page }) => {
  const { id } = await anOrder(page, 'Day Picker', 'Milk malt bombs', 6)
  await page.goto(`/orders/${id}`)
  await page.getByRole('button', { name: /Hand over on Wed 16/ }).click()
  await expect(page.getByLabel(/Handover day, Wednesday 16 September/)).toHaveValue('Wed 16 Sep 2026')
  await expect(page.getByRole('status').filter({ hasText: /· Saved$/ })).toBeVisible()
})

test('a wish that a treat breaks is trouble, and stops the promise', async ({ page }) => {
  const { id } = await anOrder(page, 'Careful Eater', 'Pistachio milk bark', 6)
  await page.goto(`/orders/${id}`)
  await page.getByRole('button', { name: 'tree nut' }).click()
  await expect(beside(page).getByText('Pistachio milk bark contain tree nut (Pistachios, chopped)')).toBeVisible()
  await page.getByRole('button', { name: 'Confirm order' }).click()
  await expect(page.locator('.ant-message').getByText(/must be free from it/)).toBeVisible()
})

test('a move can be undone', async ({ page }) => {
  const { id } = await anOrder(page, 'Second Thought', 'Milk malt bombs', 6)
  await page.goto(`/orders/${id}`)
  await page.getByRole('button', { name: 'Mark as quoted' }).click()
  await expect(page.getByRole('status').filter({ hasText: '· quoted' })).toBeVisible()
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(page.getByRole('status').filter({ hasText: '· request' })).toBeVisible()
  await page.getByText('History').click()
  await expect(page.getByText(/quoted to request, Maren Halloway/)).toBeVisible()
})

test('the price asked is the seller’s own, and the beside follows', async ({ page }) => {
  const { id } = await anOrder(page, 'Haggler', 'Milk malt bombs', 12)
  await page.goto(`/orders/${id}`)
  await page.locator('.tag-figure input').first().fill('20')
  await expect(beside(page).locator('.big')).toHaveText('$20.00')
  await expect(beside(page).getByText(/^loss/)).toBeVisible()
  await page.locator('.tag-figure input').first().fill('much')
  await expect(page.locator('.price-tag .fault')).toContainText('is not an amount of money')
  await page.locator('.tag-figure input').first().fill('')
  await expect(beside(page).getByText(/^profit/)).toBeVisible()
})

test('a treat changes by numbers in any unit, as a new version', async ({ page }) => {
  await page.goto('/treats')
  await page.getByRole('link', { name: /Milk malt bombs/ }).click()
  const card = beside(page)
  await expect(card.getByText('4 rounds of 24 cavities')).toBeVisible()
  await page.getByLabel('Mold, across').fill('2 inches')
  await page.getByRole('textbox', { name: 'Wall' }).fill('1 1/2 in') // at once: the other amount may still be read
  await expect(card.getByRole('alert')).toContainText('leaves no hollow')
  await page.getByRole('textbox', { name: 'Wall' }).fill('3 thumbs')
  await expect(page.getByText('“thumbs” is not a unit we know')).toBeVisible()
  await page.getByRole('textbox', { name: 'Wall' }).fill('3 mm')
  // What filled the larger ball is too much for the smaller one: a hollow of 44.8 mm holds 47.1 ml, 3.18 tbsp.
  await expect(card).toContainText(/fills 4 tbsp, but only 3 tbsp 1\/2 tsp fits/)
  await page.getByRole('textbox', { name: 'Amount of Mini marshmallows' }).fill('4 g')
  // Handbook 4.5: a 2 in ball with a 3 mm wall weighs 28.0 g; 46 of them with 2% on the tools are 1.31 kg.
  await expect(card.getByRole('button', { name: '2 lb 14 1/2 oz' })).toBeVisible()
  await page.getByLabel('Loss').fill('3')
  await expect(card.getByRole('button', { name: 'start 43' })).toBeVisible()
  await page.getByRole('button', { name: 'Save as version 2' }).click()
  await expect(page.getByText('version 2, in')).toBeVisible()
})

// Two amounts, one after the other, and the answer to the first comes last: both are kept.
test('an amount that is read late does not overwrite another', async ({ page }) => {
  await page.goto('/treats')
  await page.getByRole('link', { name: /Cardamom-malt bombs/ }).click()
  await expect(page.locator('figcaption')).toHaveText(/^2 1\/2 in across/)
  let answer = () => {}
  const held = new Promise<void>((done) => {
    answer = done
  })
  await page.route('**/calculators/amount', async (route) => {
    if (route.request().postDataJSON().text === '3 inches') await held
    await route.continue()
  })
  await page.getByLabel('Mold, across').fill('3 inches')
  await page.getByRole('textbox', { name: 'Wall' }).fill('5 mm')
  await expect(page.locator('figcaption')).toHaveText(/^2 1\/2 in across, wall 0\.2 in/)
  answer()
  await expect(page.locator('figcaption')).toHaveText(/^3 in across/)
  await expect(page.getByRole('textbox', { name: 'Wall' })).toHaveValue('5 mm')
  await expect(page.locator('figcaption')).toHaveText(/wall 0\.2 in/)
})

// Both answers come in one go, before the page is drawn again: neither is laid over the other.
test('two amounts that are read together are both kept', async ({ page }) => {
  await page.addInitScript(() => {
    // Answers of amounts are held back until there are two.
    const fetched = globalThis.fetch
    const held: (() => void)[] = []
    globalThis.fetch = async (...what) => {
      const answer = await fetched(...what)
      if (!(what[0] instanceof Request) || !what[0].url.endsWith('/calculators/amount')) return answer
      const body = await answer.text() // all of it is there: what follows takes no more time
      await new Promise<void>((go) => {
        held.push(go)
        if (held.length === 2) held.forEach((each) => each())
      })
      return new Response(body, answer)
    }
  })
  await page.goto('/treats')
  await page.getByRole('link', { name: /Cardamom-malt bombs/ }).click()
  await expect(page.locator('figcaption')).toHaveText(/^2 1\/2 in across/)
  await page.getByLabel('Mold, across').fill('3 inches')
  await page.getByRole('textbox', { name: 'Wall' }).fill('5 mm')
  await expect(page.locator('figcaption')).toHaveText(/^3 in across, wall 0\.2 in/)
})

test('the CSV comes out, and a file of the wrong kind is refused with a sentence', async ({ page }) => {
  await page.goto('/till')
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('link', { name: 'Export orders (CSV)' }).click(),
  ])
  expect(download.suggestedFilename()).toBe('zesty-tin-orders.csv')
  await page.locator('input[type=file]').setInputFiles({
    name: 'cake.csv',
    mimeType: 'text/csv',
    buffer: Buffer.from([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a, 0, 0]),
  })
  await expect(page.getByRole('alert')).toContainText('This is not a CSV file but image/png')
  await page.locator('input[type=file]').setInputFiles({
    name: 'orders.csv',
    mimeType: 'text/csv',
    buffer: Buffer.from(
      'customer,from,to,treats\nCsv Carrier,2026-09-12T14:00:00-04:00,2026-09-12T15:00:00-04:00,4 Milk malt bombs\n',
    ),
  })
  await expect(page.getByText('1 request imported.')).toBeVisible()
})

test('a day off shows on the shelf at once, and can be undone', async ({ page }) => {
  await page.goto('/plan/hours')
  await page.getByRole('button', { name: 'No work on Friday from 17:30' }).click()
  await page.getByRole('button', { name: 'Save hours' }).click()
  await expect(page.getByRole('button', { name: /Run sheet of Fri 4 off/ })).toBeVisible()
  await page.getByRole('button', { name: 'Undo', exact: true }).click()
  await expect(page.getByRole('button', { name: /Run sheet of Fri 4 \d+ \w+( \d+ \w+)? free/ })).toBeVisible()
})

test('the bench ticks one step after the other', async ({ page }) => {
  const { id } = await anOrder(page, 'Bench Mark', 'Pistachio milk bark', 4, {
    from: '2026-09-17T22:00:00Z',
    to: '2026-09-17T23:00:00Z',
  })
  await move(page, id, 'promised')
  // On an evening of its own.
  const { batch } = (await (await page.request.get(`/api/v1/orders/${id}`)).json()).days[0]
  const day = '2026-09-16'
  for (const [step, start] of [
    ['toppings', 1080],
    ['spread', 1130],
  ] as const) {
    expect(
      (
        await page.request.post('/api/v1/plan/changes', { data: { kind: 'pin', batch, step, day, start, hand: 0 } })
      ).status(),
    ).toBe(200)
  }
  await page.goto(`/bench/${day}`)
  const now = page.getByRole('article', { name: 'Current step' })
  await expect(now.getByRole('heading')).toHaveText('Weigh the toppings, line the sheets')
  await now.getByRole('button', { name: 'Done' }).click()
  await expect(now.getByRole('heading')).toHaveText('Spread, top while wet')
  await expect(now).toContainText('held back')
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(now.getByRole('heading')).toHaveText('Weigh the toppings, line the sheets')
})

test('the list is filtered by state, treat, customer and week, with the sums of all that matches', async ({ page }) => {
  for (const count of [6, 12]) {
    await anOrder(page, 'Filter Fox', 'Milk malt bombs', count, {
      from: '2026-09-09T18:00:00Z',
      to: '2026-09-09T19:00:00Z',
    })
  }
  await page.goto('/orders')
  const rows = page.locator('.order-row')
  await expect(rows.first()).toBeVisible()
  const all = await rows.count()
  await page.getByLabel('Customer, occasion or number').fill('filter fox')
  await expect(rows).toHaveCount(2)
  await expect(page.getByRole('status').filter({ hasText: 'agreed' })).toHaveText(
    '2 orders · 18 pieces · $0.00 agreed · 2 without a price yet',
  )
  await pick(page, 'When', 'This week')
  await expect(page.getByText('No order matches.')).toBeVisible()
  await pick(page, 'When', 'Next week')
  await expect(rows).toHaveCount(2)
  await pick(page, 'State', 'confirmed')
  await expect(page.getByText('No order matches.')).toBeVisible()
  await page.getByRole('button', { name: 'Show all' }).click()
  await expect(rows).toHaveCount(all)
  await pick(page, 'Treat', 'Milk malt bombs')
  await expect.poll(() => rows.count()).toBeLessThan(all)
})
