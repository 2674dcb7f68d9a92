import type { Page } from '@playwright/test'
import { anOrder, expect, move, test } from './help'

/** Everything that is read on a page, without what stands in brackets beside it. */
async function read(page: Page, path: string) {
  await page.goto(path)
  await expect(page.locator('main')).toBeVisible()
  await page.waitForLoadState('networkidle')
  await expect
    .poll(async () => (await page.locator('body').innerText()).length, { message: `${path} is drawn` })
    .toBeGreaterThan(200)
  for (const more of await page.locator('summary').all()) await more.click({ timeout: 2000 }).catch(() => {})
  // A pack is called as it is printed.
  await page.locator('.pack-size').evaluateAll((packs) => packs.forEach((pack) => pack.remove()))
  const text = await page.locator('body').innerText()
  return text.replaceAll(/\([^()]*\)/g, '')
}

const metric = /\d\s?(?:g|kg|mL|cm|mm|°C)\b/g
// Spelt as in the country: by the page and by the server alike.
const british = /\w*(?:mould|colour|flavour|centre|litre)\w*/gi
const us = /\d\s(?:oz|lb|cups?|tbsp|tsp|°F)\b/g

async function units(page: Page, to: 'us' | 'metric', law: 'us' | 'eu') {
  const answer = await page.request.get('/api/v1/kitchen')
  const put = await page.request.put('/api/v1/kitchen', {
    headers: { 'If-Match': answer.headers()['etag']! },
    data: {
      ...(await answer.json()),
      units: to,
      law,
      degrees: to === 'us' ? 'F' : 'C',
      clock: to === 'us' ? 12 : 24,
      country: to === 'us' ? 'US' : 'GB',
    },
  })
  expect(put.status()).toBe(200)
}

// A kitchen of each kind reads one system in every sentence: on the order, the card, the bench and the customer's page.
// The other stands in brackets, if anywhere.
test('a US kitchen and a metric one each read their own units', async ({ page }) => {
  const { id } = await anOrder(page, 'Unit Reader', 'Cardamom-malt bombs', 24)
  const asked = await anOrder(page, 'Quote Reader', 'Cardamom-malt bombs', 12)
  await move(page, asked.id, 'quoted')
  const quote = await (await page.request.post(`/api/v1/orders/${asked.id}/quotes`)).json()
  await move(page, id, 'promised')
  const { days } = await (await page.request.get(`/api/v1/orders/${id}`)).json()
  const { treats } = await (await page.request.get('/api/v1/treats')).json()
  const treat = treats.find((t: { name: string }) => t.name === 'Cardamom-malt bombs').id
  const { mixes } = await (await page.request.get('/api/v1/mixes')).json()
  try {
    for (const [kitchen, foreign] of [
      ['us', metric],
      ['metric', us],
    ] as const) {
      await units(page, kitchen, 'us')
      for (const path of [
        `/orders/${id}`,
        `/treats/${treat}`,
        '/larder',
        '/larder/shopping',
        '/plan',
        '/till',
        `/treats/mixes/${mixes[0].id}`,
        `/bench/${days[0].day}`,
        `/q/${quote.quote.token}`,
      ]) {
        const text = await read(page, path)
        if (kitchen === 'us') expect(text.match(british) ?? [], `spelling on ${path}`).toEqual([])
        expect(
          text.match(foreign) ?? [],
          `${kitchen} on ${path}: ${text
            .split('\n')
            .filter((l) => l.match(foreign))
            .join(' | ')}`,
        ).toEqual([])
      }
    }
  } finally {
    await units(page, 'us', 'us')
    await move(page, id, 'cancelled')
    await move(page, asked.id, 'cancelled')
  }
})

test('an order is asked for what the law of the kitchen has declared', async ({ page }) => {
  const { id } = await anOrder(page, 'Celery Free', 'Milk malt bombs', 12)
  try {
    await units(page, 'us', 'eu')
    await page.goto(`/orders/${id}`)
    await page.getByRole('button', { name: 'celery' }).click()
    await expect(page.getByRole('status').filter({ hasText: /· Saved$/ })).toBeVisible()
    await expect
      .poll(async () => (await (await page.request.get(`/api/v1/orders/${id}`)).json()).draft.freeFrom)
      .toEqual(['celery'])
  } finally {
    await units(page, 'us', 'us')
  }
  await page.goto('/orders/new')
  await expect(page.getByRole('button', { name: 'peanut' })).toBeVisible()
  await expect(page.getByRole('button', { name: 'celery' })).toHaveCount(0)
})
