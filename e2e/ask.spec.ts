import AxeBuilder from '@axe-core/playwright'
import type { Response } from '@playwright/test'
import { expect, newKitchen, test } from './help'

test('the ask page is opened, somebody without scripts asks, and it stands among the requests', async ({
  page,
  browser,
  baseURL,
}) => {
  await page.goto('/kitchen')
  const form = page.getByRole('form', { name: 'Ask page' })
  await form.getByLabel('Its address').fill('Lake & sweets')
  await form.getByRole('switch', { name: 'Open to everyone who has the address' }).click()
  await form.getByRole('button', { name: 'Save the ask page' }).click()
  await expect(form.getByText('“lake & sweets” does not do.')).toBeVisible()
  await form.getByLabel('Its address').fill('lake-sweets')
  await form.getByLabel('What you say first').fill('Made by hand by the lake.')
  await form.getByRole('button', { name: 'Save the ask page' }).click()
  await expect(page.getByText('Ask page saved.')).toBeVisible()
  await expect(form.getByRole('link', { name: 'Look at it' })).toHaveAttribute('href', '/ask/lake-sweets')

  const stranger = await browser.newContext({
    baseURL,
    javaScriptEnabled: false,
    viewport: { width: 390, height: 844 },
    storageState: { cookies: [], origins: [] },
  })
  const visit = await stranger.newPage()
  const bodies: Promise<Buffer>[] = []
  const read = (r: Response) => void bodies.push(r.body())
  visit.on('response', read)
  await visit.goto('/ask/lake-sweets')
  await expect(visit.getByText('Made by hand by the lake.')).toBeVisible()
  await visit.waitForLoadState('networkidle')
  visit.off('response', read)
  const bytes = (await Promise.all(bodies)).reduce((sum, b) => sum + b.length, 0)
  expect(bytes).toBeGreaterThan(5_000)
  expect(bytes).toBeLessThan(60_000)
  const bombs = visit.getByRole('listitem').filter({ hasText: 'Milk malt bombs' })
  await bombs.getByLabel('How many?').fill('24')
  await visit.getByRole('button', { name: 'See possible days' }).click()
  await visit.getByRole('radio', { name: /Sat 12 Sep/ }).check()
  await visit.getByLabel('Your name').fill('Pia Stroem')
  await visit.getByLabel('Email').fill('pia@quay.example')
  await visit.getByLabel('Wishes').fill('Blue ribbon, please.')
  await visit.getByLabel(/may keep this to answer me/).check()
  await visit.getByRole('button', { name: 'Send my request' }).click()
  await expect(visit.getByText(/Your request has reached/)).toBeVisible()
  await stranger.close()

  await page.goto('/orders')
  await page.getByRole('link', { name: /Pia Stroem/ }).click()
  await expect(page.getByLabel('Count of Milk malt bombs')).toHaveValue('24')
  await expect(page.getByLabel('Notes')).toHaveValue('Asked on your page.\nBlue ribbon, please.')

  // Nothing that axe finds, on either page.
  for (const at of ['/ask/lake-sweets', '/ask/lake-sweets/days']) {
    await page.goto(at)
    const { violations } = await new AxeBuilder({ page }).analyze()
    expect(violations.map((v) => `${v.id}: ${v.nodes[0]?.target.join(' ')}`)).toEqual([])
  }
  await page.getByLabel('How many?').first().fill('12')
  await page.getByRole('button', { name: 'See possible days' }).click()
  await expect(page.getByRole('heading', { name: 'Your request' })).toBeVisible()
  const { violations } = await new AxeBuilder({ page }).analyze()
  expect(violations.map((v) => `${v.id}: ${v.nodes[0]?.target.join(' ')}`)).toEqual([])
})

test('the ask page of a kitchen with nothing to sell, and one that is closed', async ({ page }) => {
  await newKitchen(page, 'ask')
  const settings = await (await page.request.get('/api/v1/ask-page')).json()
  expect(settings.slug).toBe('birch-lane-sweets')
  const slug = `birch-${test.info().repeatEachIndex}-${Date.now() % 100_000}`
  const open = (change: object) =>
    page.request.put('/api/v1/ask-page', { data: { ...settings, slug, ...change }, headers: { 'If-Match': '*' } })
  expect((await open({ open: true })).status()).toBe(200)
  await page.goto(`/ask/${slug}`)
  await expect(page.getByRole('status')).toHaveText('There is nothing to order here at the moment.')
  await open({ open: false })
  expect((await page.request.get(`/ask/${slug}`)).status()).toBe(404)
  for (const wrong of [{ to: 10 }, { weekdays: [] }, { weekdays: [7] }, { notice: 61 }, { slug: 'a' }])
    expect((await open(wrong)).status(), JSON.stringify(wrong)).toBe(422)
})
