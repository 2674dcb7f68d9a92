import type { Page } from '@playwright/test'
import { expect, newKitchen, test } from './help'

/** Counts what a person does on the page: clicks, and fields that are typed into. */
async function counted(page: Page) {
  await page.addInitScript(() => {
    const done = JSON.parse(sessionStorage.getItem('done') ?? '{"clicks":0,"fields":[]}')
    const keep = () => sessionStorage.setItem('done', JSON.stringify(done))
    addEventListener(
      'click',
      (e) => {
        if (!e.isTrusted || e.detail === 0) return // a key that presses a button counts as a key
        done.clicks++
        keep()
      },
      true,
    )
    addEventListener(
      'input',
      (e) => {
        const field = (e.target as HTMLElement).getAttribute('aria-label') ?? (e.target as HTMLElement).id
        if (!done.fields.includes(field)) done.fields.push(field)
        keep()
      },
      true,
    )
  })
  return async () => JSON.parse(await page.evaluate(() => sessionStorage.getItem('done') ?? '{"clicks":0,"fields":[]}'))
}

const sellers = [
  {
    who: 'strawberries by the dozen, in the US',
    country: 'United States',
    sells: [/dipped fruit/i],
    said: '24 strawberries',
    price: /\$\d+\.\d\d/,
  },
  {
    who: 'drink bombs, in Japan',
    country: 'Japan',
    sells: [/drink bombs/i],
    said: '6 cocoa bombs',
    price: /¥\d[\d,]+/,
  },
  {
    who: 'truffles and bark, in France',
    country: 'France',
    sells: [/truffles/i, /bark/i],
    said: '12 truffles, 6 bags of bark',
    price: /€\d+\.\d\d/,
  },
  {
    who: 'fudge and pretzels, in the UK',
    country: 'United Kingdom',
    sells: [/fudge/i, /pretzels/i],
    said: '12 fudge and 6 pretzels',
    price: /£\d+\.\d\d/,
  },
  {
    who: 'moulded pieces and clusters, in Sweden',
    country: 'Sweden',
    sells: [/mou?lded/i, /clusters/i],
    said: '12 moulded pieces, 12 almond clusters',
    price: /\d+\.\d\d/,
  },
]

/** From nothing to a confirmed order, in at most 30 clicks and 15 fields. */
async function firstEvening(page: Page, s: (typeof sellers)[number], size: string) {
  const done = await counted(page)
  await page.goto('/')
  await page.getByRole('button', { name: 'Create your kitchen' }).click()
  await page.getByLabel('Kitchen name').fill('Birch Lane Sweets')
  await page.getByLabel('Your name').fill('Ada')
  await page.getByLabel('Email').fill(`ada-${s.country.replace(/\W/g, '')}-${size}@birch.example`)
  await page.getByLabel('Password').fill('three warm tins')
  await page.getByRole('button', { name: 'Create kitchen' }).click()
  await expect(page.getByRole('heading', { name: 'Set out your kitchen' })).toBeVisible()
  await page.getByRole('combobox', { name: 'Country' }).click()
  await page.getByRole('combobox', { name: 'Country' }).fill(s.country)
  await page.locator(`.ant-select-item-option[title="${s.country}"]`).click()
  for (const name of s.sells) await page.getByRole('checkbox', { name }).check()
  // Everything has a price that is an estimate; what was really paid takes its place.
  await expect(page.locator('.starter-offer output').first()).toHaveText(s.price)
  await expect(page.getByText(/^(Tuesday|Wednesday|Thursday|Friday|Saturday) has time for [1-9]\d* /)).toBeVisible()
  // By its name: what stands first may be another once all that is sold is known.
  const paid = page.locator('.starter-paid li')
  const called = await paid.first().getByRole('textbox').last().getAttribute('aria-label')
  const first = paid.filter({ has: page.getByRole('textbox', { name: called!, exact: true }) })
  await expect(first.getByRole('button', { name: 'estimate' })).toBeVisible()
  await first.getByRole('textbox').last().fill('12')
  await expect(first.getByRole('button', { name: 'estimate' })).toBeHidden()
  await page.getByRole('button', { name: 'Write my first order' }).click()

  await expect(page.getByLabel('Customer')).toBeFocused()
  await page.keyboard.type('Tilda')
  await page.getByLabel('What did they ask for?').fill(`${s.said} in two weeks`)
  await page.keyboard.press('Enter')
  await expect(page.getByLabel('What it takes').getByText(/It fits/)).toBeVisible()
  await page.getByRole('button', { name: 'Confirm order' }).click()
  await expect(page.getByText(/Order 1 · confirmed/)).toBeVisible()
  await expect(page.getByText('Before your first confirmed order:')).toBeHidden()

  const { clicks, fields } = await done()
  expect(clicks, 'clicks').toBeLessThanOrEqual(30)
  expect(fields.length, `fields: ${fields.join(', ')}`).toBeLessThanOrEqual(15)
}

test.describe('the first evening', () => {
  test.use({ storageState: { cookies: [], origins: [] } })
  for (const s of sellers) {
    test(`from nothing to a confirmed order: ${s.who}`, ({ page }) => firstEvening(page, s, 'laptop'))
  }

  test.describe('on a phone', () => {
    test.use({ viewport: { width: 390, height: 844 }, hasTouch: true, isMobile: true })
    for (const s of [sellers[0]!, sellers[1]!]) {
      test(`from nothing to a confirmed order: ${s.who}`, ({ page }) => firstEvening(page, s, 'phone'))
    }
  })

  test('the whole first evening by keyboard alone', async ({ page }) => {
    await newKitchen(page, 'keys')
    await page.goto('/start')
    await expect(page.getByRole('heading', { name: 'Set out your kitchen' })).toBeVisible()
    const to = async (name: RegExp) => {
      for (let i = 0; i < 60; i++) {
        const at = await page.evaluate(() => {
          const e = document.activeElement === document.body ? null : document.activeElement
          return `${e?.getAttribute('aria-label') ?? ''} ${e?.closest('label')?.textContent ?? e?.textContent ?? ''}`
        })
        if (name.test(at)) return
        await page.keyboard.press('Tab')
      }
      throw new Error(`Tab does not come to ${name}`)
    }
    await to(/dipped fruit/i)
    await page.keyboard.press('Space')
    await expect(page.locator('.starter-offer')).toBeVisible()
    await to(/Write my first order/)
    await page.keyboard.press('Enter')
    await expect(page.getByLabel('Customer')).toBeFocused()
    await page.keyboard.type('Tilda')
    await page.keyboard.press('Shift+Tab')
    await page.keyboard.press('Shift+Tab')
    await expect(page.getByLabel('What did they ask for?')).toBeFocused()
    await page.keyboard.type('12 strawberries Saturday at noon')
    await page.keyboard.press('Enter')
    await expect(page.getByLabel('What it takes').getByText(/It fits/)).toBeVisible()
    await to(/Confirm order/)
    await page.keyboard.press('Enter')
    await expect(page.getByText(/Order 1 · confirmed/)).toBeVisible()
  })

  test('it is skipped, and taken back', async ({ page }) => {
    await newKitchen(page, 'skip', 'CA')
    await page.goto('/start')
    await page.getByRole('button', { name: 'Skip, I’ll do it later' }).click()
    await expect(page.getByRole('heading', { name: 'No upcoming orders' })).toBeVisible()
    await page.getByRole('link', { name: 'Add a treat you sell' }).click()
    await page.getByRole('checkbox', { name: /clusters/i }).check()
    await page.getByRole('button', { name: 'Write my first order' }).click()
    await page.getByRole('button', { name: 'Undo' }).click()
    await expect(page.getByText('Taken back.')).toBeVisible()
    await page.goto('/treats')
    await expect(page.getByText('Your treats appear here')).toBeVisible()
  })

  test('a treat is made in the order where it is missed', async ({ page }) => {
    await newKitchen(page, 'missed')
    await page.goto('/orders/new')
    await page.getByLabel('Customer').fill('Tilda')
    await page.getByRole('button', { name: 'New treat…' }).click()
    await page.getByText('Truffles').click()
    await page.getByRole('button', { name: 'Add treat' }).click()
    await expect(page.getByLabel(/Count of Truffles/)).toHaveValue('12')
    await expect(page.getByLabel('Customer')).toHaveValue('Tilda')
    await expect(page.getByText(/estimated prices for/)).toBeVisible()
  })
})

test('what was typed into Find becomes an order, with its doubts', async ({ page }) => {
  await page.goto('/')
  await page
    .getByRole('combobox', { name: 'Find anything' })
    .fill('24 strawberries, 12 bombs next Saturday 2pm for Ada')
  await page.getByRole('option', { name: /New order: 24 Strawberries/ }).click()
  await expect(page.getByLabel('Customer')).toHaveValue('Ada')
  await expect(page.getByLabel(/Count of Strawberries/)).toHaveValue('24')
  await expect(page.getByText(/“Next” was read as Sat 12 Sep/)).toBeVisible()
})
