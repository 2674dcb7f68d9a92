import AxeBuilder from '@axe-core/playwright'
import type { Browser, Page } from '@playwright/test'
import { expect, test } from './help'
import { Server } from './server'

// A server of their own, without letters: who joins does so at once.
const server = new Server(14, 1)
test.beforeAll(async () => {
  test.setTimeout(120_000)
  await server.serve('2026-09-03T10:20:00-04:00')
})
test.afterAll(() => server.stop())

const screen = { width: 1280, height: 800 }
const maren = (browser: Browser) => server.page(browser, screen)
async function visitor(browser: Browser): Promise<Page> {
  const context = await browser.newContext({
    baseURL: server.base,
    viewport: screen,
    storageState: { cookies: [], origins: [] },
  })
  return context.newPage()
}
const places = (page: Page) => page.getByRole('navigation', { name: 'Places' })

/** Invites somebody, by keyboard, who joins with a new account. */
async function joins(browser: Browser, owner: Page, role: string, name: string): Promise<Page> {
  await owner.goto('/kitchen/helpers')
  await owner.getByLabel('To work as').focus()
  await owner.keyboard.press('Enter')
  await owner.getByRole('option', { name: role }).waitFor({ state: 'attached' })
  await owner.locator('.ant-select-item-option', { hasText: role }).click()
  await owner.getByLabel('Whom it is for').fill(name)
  await owner.keyboard.press('Enter')
  const link = (await owner.locator('.made-link code').textContent())!
  const helper = await visitor(browser)
  await helper.goto(link)
  await expect(helper.getByText(`to work in the kitchen Maren's kitchen, as ${role}`)).toBeVisible()
  await helper.getByLabel('Your name').fill(name)
  await helper.getByLabel('Email').fill(`${name.toLowerCase()}@helps.example`)
  await helper.getByLabel('Password').fill('seven quiet kettles')
  await helper.keyboard.press('Enter')
  await expect(helper.getByText(`Maren's kitchen, as ${role}`)).toBeVisible()
  return helper
}

const noMoney = async (page: Page) => expect(await page.locator('body').innerText()).not.toMatch(/[$€£]\s?\d/)

test('a maker has the bench, the plan and the larder, and sees no money', async ({ browser }) => {
  const owner = await maren(browser)
  const helper = await joins(browser, owner, 'maker', 'Ines')
  await expect(places(helper).getByRole('link')).toHaveText([
    'Bench',
    'Plan',
    'Larder',
    'Packing',
    'Drive',
    'You and your sign-ins',
  ])
  await expect(helper.getByRole('button', { name: 'Done', exact: true })).toBeVisible()
  await noMoney(helper)
  for (const [place, sees] of [
    ['Plan', 'What was changed, and by whom'],
    ['Larder', 'Needs attention'],
    ['Packing', 'Piotr Szalai'],
  ]) {
    await places(helper).getByRole('link', { name: place }).click()
    await expect(helper.getByText(sees!).first()).toBeVisible()
    await noMoney(helper)
  }
  await places(helper).getByRole('link', { name: 'Larder' }).click()
  await helper.getByRole('button', { name: /^Dark 60%/ }).click()
  await expect(helper.getByRole('heading', { name: 'Lots' })).toBeVisible()
  await expect(helper.getByText('What was paid for')).toHaveCount(0)
  await noMoney(helper)
  await helper.goto('/larder/shopping')
  await expect(helper.getByRole('heading', { name: 'To buy' })).toBeVisible()
  await noMoney(helper)
  await helper.goto('/bench/logbook')
  await expect(helper.getByRole('heading', { name: 'Logbook' })).toBeVisible()
  await expect(helper.getByRole('link', { name: 'CSV' })).toHaveCount(0)
  await noMoney(helper)
  // Addresses wait for their day.
  await helper.goto('/handover/drive/2026-09-05')
  await expect(helper.getByText('is shown on that day')).toBeVisible()
  // Other places are not theirs, typed by hand or found.
  for (const other of ['/orders', '/till', '/customers', '/kitchen', '/kitchen/helpers', '/treats', '/handover']) {
    await helper.goto(other)
    await expect(helper.getByRole('heading', { name: 'This is not for you here' })).toBeVisible()
  }
  await helper.getByLabel('Find anything').fill('wren')
  await expect(helper.getByRole('listbox', { name: 'Found' }).getByRole('option')).toHaveCount(0)
  await helper.getByLabel('Find anything').fill('larder')
  await expect(helper.getByRole('option', { name: /^Larder/ })).toBeVisible()
  await helper.keyboard.press('Escape')
  await helper.keyboard.press('1')
  await expect(helper).toHaveURL(/\/bench/)
  // What they did stands with their name, for the owner to see.
  await helper.getByRole('button', { name: 'Done', exact: true }).click()
  await expect(helper.getByText('3 of 6 steps done')).toBeVisible()
  await places(helper).getByRole('link', { name: 'Plan' }).click()
  await helper.getByRole('button', { name: 'Day off' }).nth(1).click()
  await owner.goto('/plan')
  await owner.getByText('What was changed, and by whom').click()
  await expect(owner.locator('.plan-history li').first()).toContainText('Ines')
  const axe = await new AxeBuilder({ page: helper }).analyze()
  expect(axe.violations.map((v) => v.nodes.map((n) => n.html))).toEqual([])
})

test('a bookkeeper reads the till, and nothing else', async ({ browser }) => {
  const owner = await maren(browser)
  const books = await joins(browser, owner, 'bookkeeper', 'Otto')
  await expect(places(books).getByRole('link')).toHaveText(['Till', 'You and your sign-ins'])
  await expect(books.getByRole('heading', { name: 'Till' })).toBeVisible()
  await expect(books.getByLabel('Find anything')).toHaveCount(0)
  for (const other of ['/bench', '/plan', '/larder', '/orders']) {
    await books.goto(other)
    await expect(books.getByRole('heading', { name: 'This is not for you here' })).toBeVisible()
  }
})

test('a helper is removed while they work: they are out at once, and nothing is half', async ({ browser }) => {
  const owner = await maren(browser)
  const helper = await joins(browser, owner, 'maker', 'Cleo')
  await expect(helper.getByRole('button', { name: 'Done', exact: true })).toBeVisible()
  const done = async () => {
    const sheet = (await (await owner.request.get('/api/v1/days/2026-09-03/run-sheet')).json()) as {
      steps: { done?: string }[]
    }
    return sheet.steps.filter((s) => s.done).length
  }
  const before = await done()
  // What they tick just then waits for an answer that comes after they are out.
  let go = () => {}
  const held = new Promise<void>((resolve) => (go = resolve))
  await helper.route('**/api/v1/batches/*/steps/*', async (route) => {
    await held
    await route.continue()
  })
  await helper.getByRole('button', { name: 'Done', exact: true }).click()
  await owner.goto('/kitchen/helpers')
  await owner.getByRole('button', { name: 'Remove Cleo' }).click()
  await expect(owner.getByText('Cleo is out at once')).toBeVisible()
  await expect(helper.getByRole('heading', { name: 'In no kitchen' })).toBeVisible()
  go()
  expect(await done()).toBe(before)
  // The account can go, and says what stays.
  await helper.getByRole('button', { name: 'Delete my account' }).click()
  await expect(helper.getByText('Beside what you did in kitchens')).toBeVisible()
  await helper.getByRole('button', { name: 'Delete it' }).press('Enter')
  await expect(helper.getByRole('button', { name: 'Sign in', exact: true })).toBeVisible()
})

test('somebody works in two kitchens, and goes from one to the other', async ({ browser }) => {
  const owner = await maren(browser)
  await owner.goto('/kitchen/helpers')
  await owner.getByRole('button', { name: 'Make a link' }).click()
  const link = (await owner.locator('.made-link code').textContent())!
  const bo = await visitor(browser)
  await bo.request.post('/api/v1/kitchens', {
    data: {
      kitchen: 'Elsewhere sweets',
      name: 'Bo',
      mail: 'bo@elsewhere.example',
      password: 'quite another one',
      timeZone: 'Europe/Vienna',
      country: 'AT',
    },
    headers: { Origin: server.base },
  })
  await bo.goto(link)
  await bo.getByRole('button', { name: 'Join as Bo' }).press('Enter')
  await expect(bo.getByText("Maren's kitchen, as maker")).toBeVisible()
  await bo.locator('.clock').click()
  await bo.getByRole('menuitem', { name: 'Go to Elsewhere sweets' }).click()
  await expect(places(bo).getByRole('link', { name: 'Orders' })).toBeVisible()
  await expect(bo.getByText('Wren family')).toHaveCount(0)
  await bo.goto('/kitchen/you')
  await bo.getByRole('button', { name: "Leave Maren's kitchen" }).click()
  await bo.getByRole('button', { name: "Leave Maren's kitchen" }).click()
  await expect(bo.getByText("Maren's kitchen")).toHaveCount(0)
  // The link works once.
  const late = await visitor(browser)
  await late.goto(link)
  await expect(late.getByRole('alert')).toContainText('each works once')
})

test('how a kitchen shows itself: statements and a logo, on the quote that a customer opens', async ({ browser }) => {
  const owner = await maren(browser)
  await owner.goto('/kitchen')
  await owner.getByLabel('On your tax').fill('Tax number 12/345.')
  await owner.getByLabel('On being a home kitchen').fill('Made in a home kitchen.')
  await owner.getByLabel('Replies go to').fill('nobody')
  await owner.getByRole('button', { name: 'Save', exact: true }).click()
  await expect(owner.getByRole('alert').filter({ hasText: 'to which replies go' })).toBeVisible()
  await owner.getByLabel('Replies go to').fill('orders@lakeside.example')
  await owner.getByRole('button', { name: 'Save', exact: true }).press('Enter')
  await expect(owner.getByText('Saved. All figures are updated.')).toBeVisible()
  const choose = owner.locator('#shown input[type=file]')
  await choose.setInputFiles({ name: 'a.png', mimeType: 'image/png', buffer: Buffer.from('none') })
  await expect(owner.getByRole('alert').filter({ hasText: 'picture' })).toBeVisible()
  await choose.setInputFiles({
    name: 'logo.png',
    mimeType: 'image/png',
    buffer: await owner.locator('h1').first().screenshot(), // any picture
  })
  await expect(owner.getByRole('img', { name: "Logo of Maren's kitchen" })).toBeVisible()
  await owner.goto('/messages/rules')
  await expect(owner.getByText('Replies go to orders@lakeside.example')).toBeVisible()
  const orders = (await (await owner.request.get('/api/v1/orders')).json()) as {
    orders: { id: string; state: string }[]
  }
  const quoted = orders.orders.find((o) => o.state === 'quoted')!
  const order = (await (await owner.request.get(`/api/v1/orders/${quoted.id}`)).json()) as { quote: { token: string } }
  const customer = await visitor(browser)
  await customer.goto(`/q/${order.quote.token}`)
  await expect(customer.getByText('Made in a home kitchen.')).toBeVisible()
  await expect(customer.getByText('Tax number 12/345.')).toBeVisible()
  const logo = customer.locator('img.logo')
  await expect.poll(() => logo.evaluate((i: HTMLImageElement) => i.naturalWidth)).toBeGreaterThan(20)
  await owner.goto('/kitchen')
  await owner.getByRole('button', { name: 'Remove the logo' }).click()
  await expect(owner.getByRole('img', { name: "Logo of Maren's kitchen" })).toHaveCount(0)
})
