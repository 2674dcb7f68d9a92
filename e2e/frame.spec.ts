import type { Page } from '@playwright/test'
import { anOrder, expect, move, newKitchen, test } from './help'

test('settings are a place: shortcuts off, a public address, and what a new time zone does to handovers', async ({
  page,
}) => {
  const { id } = await anOrder(page, 'Zone Keeper', 'Milk malt bombs', 12)
  await page.goto('/orders')
  await page.getByRole('navigation', { name: 'Places' }).getByRole('link', { name: 'Settings' }).click()
  await expect(page.getByRole('heading', { name: 'Settings', level: 1 })).toBeVisible()

  // Single letters do nothing once they are switched off, and do again.
  const shortcuts = page.getByRole('switch', { name: 'Single keys as shortcuts' })
  await shortcuts.click()
  await page.getByRole('heading', { name: 'Settings', level: 1 }).click()
  await page.keyboard.press('n')
  await page.keyboard.press('3')
  await expect(page).toHaveURL(/\/kitchen$/)
  await page.reload()
  await expect(shortcuts).not.toBeChecked()
  await shortcuts.click()
  await page.getByRole('heading', { name: 'Settings', level: 1 }).click()
  await page.keyboard.press('3')
  await expect(page).toHaveURL(/\/plan$/)

  // A link that only this computer opens is said to be one, until the kitchen has a public address.
  const quote = await page.request.post(`/api/v1/orders/${id}/quotes`)
  expect(quote.status(), await quote.text()).toBe(201)
  await page.goto(`/orders/${id}`)
  await expect(page.getByText('This address opens on this computer alone.')).toBeVisible()
  await page.getByRole('link', { name: 'Set your public address' }).click()
  const address = page.getByLabel('Public address of this app')
  await address.fill('sweets.example')
  await page.getByRole('button', { name: 'Save', exact: true }).click()
  await expect(page.getByText('“sweets.example” is not an address that a browser opens')).toBeVisible()
  await expect(page.getByText('one of the fields above needs another look')).toBeVisible()
  await address.fill('https://sweets.example')
  await page.getByRole('button', { name: 'Save', exact: true }).click()
  await expect(page.getByText('Saved. All figures are updated.')).toBeVisible()
  await page.goto(`/orders/${id}`)
  await expect(page.getByLabel('Link to the quote')).toHaveValue(/^https:\/\/sweets\.example\/q\//)
  await expect(page.getByText('This address opens on this computer alone.')).toHaveCount(0)

  // Another time zone asks.
  await page.goto('/kitchen')
  await page.getByLabel('Time zone').fill('Los Angeles')
  await page.keyboard.press('Enter')
  await page.getByRole('button', { name: 'Save', exact: true }).click()
  const asked = page.getByRole('dialog', { name: 'Your clock moves' })
  await expect(asked).toContainText('You have orders to come.')
  await asked.getByRole('button', { name: 'Keep the time on the clock' }).click()
  await expect(page.getByText('Saved. All figures are updated.')).toBeVisible()
  await page.goto(`/orders/${id}`)
  await expect(page.getByLabel('From', { exact: true })).toHaveValue('2:00 pm')
})

test('the first step of the plan is within five tabs of the skip link', async ({ page }) => {
  const { id } = await anOrder(page, 'Five Tabs', 'Milk malt bombs', 12)
  await move(page, id, 'promised')
  await page.goto('/plan')
  await expect(page.locator('[data-step]').first()).toBeVisible()
  await page.keyboard.press('Tab')
  await expect(page.getByRole('link', { name: 'Skip to content' })).toBeFocused()
  await page.keyboard.press('Enter')
  const tabs: string[] = []
  for (let i = 0; i < 5; i++) {
    await page.keyboard.press('Tab')
    tabs.push(
      await page.evaluate(() => {
        const e = document.activeElement!
        return `${e.hasAttribute('data-step') ? 'step: ' : ''}${e.getAttribute('aria-label') ?? e.textContent}`
      }),
    )
    if (tabs.at(-1)!.startsWith('step: ')) return
  }
  throw new Error(`five tabs come to ${tabs.join(' | ')}`)
})

test('a doubtful line of a receipt gets its ingredient where it is missed', async ({ page }) => {
  await page.goto('/larder/receipt')
  await page.getByLabel('Receipt lines').fill('rose petals 100 g 4.00')
  await page.getByRole('button', { name: 'New ingredient…' }).click()
  const sheet = page.getByRole('dialog', { name: 'Ingredient' })
  await expect(sheet.getByLabel('Name', { exact: true })).toHaveValue('rose petals')
  await sheet.getByLabel('Name', { exact: true }).fill('Rose petals')
  await sheet.getByRole('button', { name: 'Save' }).click()
  await expect(sheet).toBeHidden()
  await expect(page.getByLabel('Receipt lines')).toHaveValue('rose petals 100 g 4.00') // one is back where one was
  await page.getByRole('button', { name: 'Add to larder' }).click()
  await expect(page.getByText('1 lot is in the larder.')).toBeVisible()
})

test.describe('in a new kitchen', () => {
  test.use({ storageState: { cookies: [], origins: [] } })

  const setOut = async (page: Page, name: string) => {
    await newKitchen(page, name)
    const answer = await page.request.post('/api/v1/starter', {
      data: {
        ...(await (await page.request.get('/api/v1/starter')).json()).ways,
        sells: { fruit: {} },
        paid: {},
      },
    })
    expect(answer.status(), await answer.text()).toBe(201)
  }

  test('estimates are marked where a cost rests on them, and what was set out is taken back from the settings', async ({
    page,
  }) => {
    await setOut(page, 'estimates')
    const { treats } = await (await page.request.get('/api/v1/treats')).json()
    const { id } = await anOrder(page, 'Guess Work', treats[0].name, 12)
    await move(page, id, 'promised')
    await page.goto('/larder/shopping')
    const mark = page.locator('.buy-cost').getByRole('button', { name: 'estimate' }).first()
    await mark.focus()
    await page.keyboard.press('Enter')
    await expect(page.getByText('This rests on a price that we made up')).toBeVisible()
    for (const { revision, id: supply, ...fields } of (await (await page.request.get('/api/v1/supplies')).json())
      .supplies) {
      const { name, paid, paidFor, estimated, stock } = fields
      const put = await page.request.put(`/api/v1/supplies/${supply}`, {
        data: { name, paid, paidFor, estimated, stock: { ...stock, amount: 100 }, reason: 'counted' },
        headers: { 'If-Match': `"${revision}"` },
      })
      expect(put.status(), await put.text()).toBe(200)
    }
    await move(page, id, 'in the making', 'packed', 'handed over')
    await page.goto('/till')
    await expect(page.getByRole('table').getByRole('button', { name: 'estimate' })).toBeVisible()

    await page.goto('/kitchen')
    await page.getByRole('button', { name: 'Take back what “Set out your kitchen” made' }).click()
    await expect(page.locator('.ant-message')).toContainText('In use, so kept:')
  })

  test('hours are set where they are missed: in the plan, and beside an order', async ({ page }) => {
    await newKitchen(page, 'hours')
    await page.goto('/plan')
    await expect(page.getByText('No working hours yet.')).toBeVisible()
    await page.getByRole('button', { name: /^Sat/ }).last().click()
    await page.getByRole('button', { name: 'Work this day' }).click()
    await page.keyboard.press('Escape')
    await page.getByRole('button', { name: 'Save hours' }).click()
    await expect(page.getByText('Hours saved.')).toBeVisible()
    await expect(page.getByText('No working hours yet.')).toBeHidden()
    await page.goto('/orders/new')
    await expect(page.getByLabel('Customer')).toBeVisible()
    await expect(page.getByText('No working hours yet.')).toHaveCount(0)
  })
})

test.describe('on a phone', () => {
  test.use({ viewport: { width: 390, height: 844 }, hasTouch: true, isMobile: true })

  test('the lid is one line with all places in its menu, and an order ends in a bar that stays', async ({ page }) => {
    await page.goto('/bench')
    const lid = page.getByRole('banner')
    await expect(lid).toBeVisible()
    expect((await lid.boundingBox())!.height).toBeLessThanOrEqual(60)
    // Lid and shelf leave the screen to the work: they took 230 px.
    const main = await page.getByRole('main').boundingBox()
    expect(main!.y).toBeLessThanOrEqual(110)
    await expect(page.locator('kbd:visible')).toHaveCount(0)
    await page.getByRole('button', { name: 'Menu, now at Bench' }).click()
    const menu = page.getByRole('menu')
    for (const place of ['Orders', 'Treats', 'Plan', 'Bench', 'Larder', 'Handover', 'Till', 'Settings']) {
      await expect(menu.getByRole('menuitem', { name: place, exact: true })).toBeVisible()
    }
    await menu.getByRole('menuitem', { name: 'Till' }).click()
    await expect(page.getByRole('heading', { name: 'The till' })).toBeVisible()

    const { id } = await anOrder(page, 'Bar Keeper', 'Milk malt bombs', 12)
    await page.goto(`/orders/${id}`)
    const bar = page.getByRole('group', { name: 'Fit, price and next step' })
    await expect(bar).toContainText(/^Fits \$\d+\.\d\d/)
    await page.mouse.wheel(0, 2000)
    await expect(bar).toBeInViewport()
    await bar.getByRole('button', { name: 'Confirm order' }).click()
    await expect(page.getByText(/· confirmed ·/)).toBeVisible()
  })
})
