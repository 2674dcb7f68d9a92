import type { BrowserContext, Page } from '@playwright/test'
import { anIngredient, anOrder, expect, newKitchen, test } from './help'

/** The worker has all files of the application, and the last answers are kept. */
async function settled(page: Page) {
  await page.waitForFunction(() => navigator.serviceWorker.controller !== null, undefined, { timeout: 30_000 })
  await page.waitForTimeout(2_500) // answers are kept two seconds after they came
}

const away = (page: Page) => page.getByText('No connection to your kitchen.')

/** Without the network, opened anew. */
async function reopened(page: Page, context: BrowserContext, path: string) {
  await context.setOffline(true)
  await page.goto(path)
  await expect(away(page)).toBeVisible()
}

test.describe('with the files on the device', () => {
  test.use({ serviceWorkers: 'allow', storageState: { cookies: [], origins: [] } })

  test('the first evening goes on without a connection, at every step', async ({ page, context }) => {
    test.setTimeout(120_000)
    await newKitchen(page, 'offline')
    await page.goto('/start')
    await page.getByRole('checkbox', { name: 'dipped fruit' }).check()
    await settled(page)

    // The starter: what was chosen is there after a reload, and can be gone on with when the network is back.
    await context.setOffline(true)
    await page.getByRole('checkbox', { name: 'bark' }).check()
    await page.waitForTimeout(400)
    await page.reload()
    await expect(page.getByRole('checkbox', { name: 'dipped fruit' })).toBeChecked()
    await expect(page.getByRole('checkbox', { name: 'bark' })).toBeChecked()
    await context.setOffline(false)
    await page.reload()
    await page.getByRole('button', { name: 'Write my first order' }).click()
    await expect(page).toHaveURL(/orders\/new/)
    await expect(page.getByRole('button', { name: /^Add / }).first()).toBeVisible()
    await settled(page)

    // An order is written without the network, by somebody who closes the browser in the middle of it.
    await context.setOffline(true)
    await page.getByLabel('Customer').fill('Offline Ada')
    await page.getByRole('button', { name: /^Add / }).first().click()
    await page.getByLabel(/^Count of/).fill('24')
    await expect(page.getByRole('status').filter({ hasText: 'not saved, waiting for the network' })).toBeVisible()
    await page.waitForTimeout(400)
    await page.reload()
    await expect(page.getByLabel('Customer')).toHaveValue('Offline Ada')
    await expect(page.getByLabel(/^Count of/)).toHaveValue('24')
    await page.getByLabel('Notes').fill('blue ribbon')
    await page.waitForTimeout(400)
    await page.getByRole('link', { name: 'Orders', exact: true }).click()
    const waiting = page.getByRole('status').filter({ hasText: 'kept on this device' })
    await expect(waiting.getByRole('link', { name: 'New order for Offline Ada' })).toBeVisible()

    // Back in reach it is saved, once, without anybody opening it.
    await context.setOffline(false)
    await expect(waiting).toBeHidden()
    await expect(away(page)).toBeHidden()
    const { orders } = await (await page.request.get('/api/v1/orders')).json()
    expect(orders.map((o: { customer: string; notes: string }) => [o.customer, o.notes])).toEqual([
      ['Offline Ada', 'blue ribbon'],
    ])

    // Changed without the network while somebody else changes something else: both are kept.
    await page
      .getByRole('link', { name: /Offline Ada/ })
      .first()
      .click()
    await expect(page.getByLabel('Notes')).toHaveValue('blue ribbon')
    await settled(page)
    await context.setOffline(true)
    await page.getByLabel('Notes').fill('red ribbon')
    await page.waitForTimeout(400)
    const id = page.url().split('/').at(-1)!
    const other = await page.request.get(`/api/v1/orders/${id}`)
    const theirs = await other.json()
    await page.request.put(`/api/v1/orders/${id}`, {
      data: { ...theirs.draft, phone: '555 0134' },
      headers: { 'If-Match': `"${theirs.revision}"` },
    })
    await reopened(page, context, '/orders')
    await context.setOffline(false)
    const stored = async () => (await (await page.request.get(`/api/v1/orders/${id}`)).json()).draft
    await expect.poll(async () => (await stored()).notes, { timeout: 15_000 }).toBe('red ribbon')
    expect((await stored()).phone).toBe('555 0134')

    // Every place opens without a connection.
    for (const place of ['treats', 'plan', 'bench', 'larder', 'handover', 'till', 'kitchen']) {
      await reopened(page, context, `/${place}`)
      await expect(page.getByRole('heading', { level: 1 }).first(), place).toBeVisible()
    }

    // Who signs out takes the answers along.
    await context.setOffline(false)
    await page.goto('/orders')
    await page.locator('.lid .clock').click()
    await page.getByRole('menuitem', { name: 'Sign out' }).click()
    await expect(page.getByLabel('Password')).toBeVisible()
    await context.setOffline(true)
    await page.reload()
    await expect(page.getByRole('heading', { name: 'We can’t reach your kitchen' })).toBeVisible()
  })
})

test.describe('when the session ends elsewhere', () => {
  test.use({ serviceWorkers: 'allow', storageState: { cookies: [], origins: [] } })

  test('the last answers leave the device with it', async ({ page, context }) => {
    await newKitchen(page, 'ended')
    await anIngredient(page, 'Only mine to read')
    await page.goto('/larder')
    await expect(page.getByText('Only mine to read').first()).toBeVisible()
    await settled(page)
    await reopened(page, context, '/larder')
    await expect(page.getByText('Only mine to read').first()).toBeVisible() // kept, as long as one is signed in

    // Ended on another device: the next answer says so, and takes along what was kept.
    await context.setOffline(false)
    const left = await page.request.delete('/api/v1/session')
    expect(left.status()).toBeLessThan(300)
    await page.goto('/larder')
    await expect(page.getByLabel('Password')).toBeVisible()
    await page.waitForTimeout(500)
    await context.setOffline(true)
    await page.reload()
    await expect(page.getByRole('heading', { name: 'We can’t reach your kitchen' })).toBeVisible()
    await expect(page.getByText('Only mine to read')).toHaveCount(0)
  })
})

test.describe('in a browser whose storage hangs', () => {
  test('the page opens all the same, and what is typed is saved', async ({ page }) => {
    await page.addInitScript(() => {
      // Opened and never answered, as some browsers do while their storage is full or being mended.
      IDBFactory.prototype.open = () => ({}) as IDBOpenDBRequest
    })
    await page.goto('/orders/new')
    await page.getByLabel('Customer').fill('Hanging Storage')
    await expect(page).toHaveURL(/orders\/[0-9a-f-]{36}/)
    await expect(page.getByRole('status').filter({ hasText: /· Saved$/ })).toBeVisible()
  })
})

test('what was typed in a form is there again after leaving and a reload, until it is saved or thrown away', async ({
  page,
}) => {
  // A treat.
  await page.goto('/treats')
  await page
    .getByRole('link', { name: /Milk malt bombs/ })
    .first()
    .click()
  const name = page.getByLabel('Name of the treat')
  await name.fill('Milk malt bombs, large')
  await page.getByRole('link', { name: 'Orders', exact: true }).click()
  const waiting = page.getByRole('status').filter({ hasText: 'kept on this device' })
  await waiting.getByRole('link', { name: 'Milk malt bombs, large' }).click()
  await expect(name).toHaveValue('Milk malt bombs, large')
  await page.reload()
  await expect(name).toHaveValue('Milk malt bombs, large')
  await expect(waiting).toBeHidden() // it is open
  await page.getByRole('button', { name: 'Discard it' }).click()
  await expect(name).toHaveValue('Milk malt bombs')
  await page.waitForTimeout(400)
  await page.reload()
  await expect(name).toHaveValue('Milk malt bombs')
  await expect(page.getByText('typed earlier')).toHaveCount(0)

  // A new ingredient: Esc keeps it, Cancel does not.
  await page.goto('/larder')
  const sheet = page.getByRole('dialog')
  const add = async () => {
    await page.getByRole('button', { name: 'Add ingredient' }).click()
    await expect(sheet).toBeVisible()
  }
  await add()
  await sheet.getByLabel('Name', { exact: true }).fill('Rose petals')
  await page.waitForTimeout(400)
  await page.keyboard.press('Escape')
  await expect(sheet).toBeHidden()
  await expect(waiting).toContainText('Rose petals')
  await add()
  await expect(sheet.getByLabel('Name', { exact: true })).toHaveValue('Rose petals')
  await sheet.getByRole('button', { name: 'Cancel' }).click()
  await add()
  await expect(sheet.getByLabel('Name', { exact: true })).toHaveValue('')
  await sheet.getByRole('button', { name: 'Cancel' }).click()

  // A receipt.
  await page.goto('/larder/receipt')
  await page.getByLabel('Receipt lines').fill('strawberries 2 lb 8.90')
  await page.reload() // at once
  await expect(page.getByLabel('Receipt lines')).toHaveValue('strawberries 2 lb 8.90')
  await page.getByRole('link', { name: 'Orders', exact: true }).click()
  await waiting.getByRole('button', { name: 'Throw away A receipt' }).click()
  await expect(waiting).toBeHidden()
})

test('hours, room and settings: kept on the device, and merged with what somebody else saved meanwhile', async ({
  page,
}) => {
  const waiting = page.getByRole('status').filter({ hasText: 'kept on this device' })
  const put = async (path: string, change: (old: Record<string, unknown>) => object) => {
    const old = await page.request.get(`/api/v1/${path}`)
    const answer = await page.request.put(`/api/v1/${path}`, {
      headers: { 'If-Match': old.headers().etag! },
      data: { ...(await old.json()), ...change(await old.json()) },
    })
    expect(answer.status(), await answer.text()).toBe(200)
  }

  // Settings: left in the middle, found again, and saved beside a change of another field elsewhere.
  await page.goto('/kitchen')
  await page.getByLabel('Name', { exact: true }).fill('The blue door')
  await page.getByRole('link', { name: 'Orders', exact: true }).click()
  await waiting.getByRole('link', { name: 'Settings' }).click()
  await expect(page.getByLabel('Name', { exact: true })).toHaveValue('The blue door')
  await put('kitchen', () => ({ hourly: '31.00' }))
  await page.getByRole('button', { name: 'Save', exact: true }).click()
  await expect(page.getByText('Saved. All figures are updated.')).toBeVisible()
  const kitchen = await (await page.request.get('/api/v1/kitchen')).json()
  expect([kitchen.name, kitchen.hourly]).toEqual(['The blue door', '31.00'])

  // The same field: asked, and nothing is lost until it is decided.
  await page.getByLabel('Name', { exact: true }).fill('The green door')
  await put('kitchen', () => ({ name: 'The red door' }))
  await page.getByRole('button', { name: 'Save', exact: true }).click()
  await expect(page.getByText('Someone else changed this too')).toBeVisible()
  await expect(page.getByLabel('Name', { exact: true })).toHaveValue('The green door')
  await page.getByRole('button', { name: 'Keep mine' }).click()
  await expect(page.getByText('Someone else changed this too')).toBeHidden()
  await expect.poll(async () => (await (await page.request.get('/api/v1/kitchen')).json()).name).toBe('The green door')
  await page.getByLabel('Name', { exact: true }).fill('The old door')
  await put('kitchen', () => ({ name: 'The new door' }))
  await page.getByRole('button', { name: 'Save', exact: true }).click()
  await page.getByRole('button', { name: 'Use theirs' }).click()
  await expect(page.getByLabel('Name', { exact: true })).toHaveValue('The new door')

  // Hours and room, each a draft of its own.
  await page.goto('/plan/hours')
  await page.getByRole('button', { name: 'Add hours on Monday' }).click()
  await page.getByLabel('Minutes of washing down').fill('25')
  await page.reload() // at once
  await expect(page.getByLabel('Monday, from')).toBeVisible()
  await expect(page.getByLabel('Minutes of washing down')).toHaveValue('25')
  await put('capacity', (old) => ({
    spots: (old.spots as { trays: number }[]).map((s, i) => (i === 0 ? { ...s, trays: 9 } : s)),
  }))
  await page.getByRole('button', { name: 'Save space and molds' }).click()
  await expect(page.getByText('Saved. The plan is updated.')).toBeVisible()
  const room = await (await page.request.get('/api/v1/capacity')).json()
  expect([room.washdown, room.spots[0].trays]).toEqual([25, 9])
  await page.getByRole('button', { name: 'Discard it' }).click()
  await expect(page.getByLabel('Monday, from')).toHaveCount(0)
})

test.describe('where the address is plain http', () => {
  test('all works, and it says what such an address cannot do', async ({ page, context, baseURL }) => {
    const port = new URL(baseURL!).port
    await anOrder(page, 'Plain Http', 'Milk malt bombs', 12) // signed in
    const cookies = await context.cookies()
    await context.addCookies(cookies.map((c) => ({ ...c, domain: 'kitchen.test' })))
    await page.goto(`http://kitchen.test:${port}/orders/new`)
    expect(await page.evaluate(() => globalThis.isSecureContext)).toBe(false)
    await page.getByLabel('Customer').fill('On the Wire')
    await expect(page).toHaveURL(/orders\/[0-9a-f-]{36}/)
    await context.setOffline(true)
    await page.getByLabel('Notes').fill('typed away')
    await expect(page.getByText('this address is not secure (http)')).toBeVisible()
    await context.setOffline(false)
    await expect(page.getByText('this address is not secure (http)')).toBeHidden()
    await expect(page.getByRole('status').filter({ hasText: /· Saved$/ })).toBeVisible({ timeout: 40_000 })
  })
})
