import { expect, type Page, request, test as base } from '@playwright/test'
import { existsSync } from 'node:fs'
import { join } from 'node:path'
import { mailOf } from './kitchens'

/**
 * A test signed in to the kitchen of its file; it fails when the page reports an error: a script's, or a break of the
 * content security policy.
 */
export const test = base.extend<{ quiet: void }>({
  storageState: async ({ baseURL }, use, info) => {
    const path = join(
      info.project.outputDir,
      `.signed-in-${info.project.name}-${info.titlePath[0]!.replaceAll(/\W/g, '-')}.json`,
    )
    if (!existsSync(path)) {
      const context = await request.newContext({ baseURL, storageState: { cookies: [], origins: [] } })
      const answer = await context.post('/api/v1/session', {
        data: { mail: mailOf(info.project.name, info.file), password: 'three warm tins' },
      })
      if (!answer.ok()) throw new Error(`sign in: ${answer.status()} ${await answer.text()}`)
      await context.storageState({ path })
      await context.dispose()
    }
    await use(path)
  },
  quiet: [
    async ({ page }, use) => {
      const said: string[] = []
      page.on('pageerror', (e) => said.push(e.message))
      page.on('console', (m) => {
        // What the browser says of a request that a test broke on purpose, or of plain http, is no fault of the page.
        const broken =
          /Failed to load resource|Unable to preload|dynamically imported module|Opener-Policy header has been ignored/
        if (m.type() === 'error' && !broken.test(m.text())) said.push(m.text())
      })
      await use()
      expect(said, 'what the page reported').toEqual([])
    },
    { auto: true },
  ],
})

export { expect }

export const beside = (page: Page) =>
  page.getByRole('complementary', { name: /what it takes|summary|batch card|needs attention|yield/i })

/** Moves the focus with Tab until it is on something with this name. */
export async function tabTo(page: Page, name: RegExp, key: 'Tab' | 'Shift+Tab' = 'Tab') {
  for (let i = 0; i < 120; i++) {
    await page.keyboard.press(key)
    const at = await page.evaluate(() => {
      const e = document.activeElement
      return e?.getAttribute('aria-label') ?? e?.textContent ?? ''
    })
    if (name.test(at)) return
  }
  throw new Error(`Tab does not come to ${name}`)
}

/** The form of an ingredient or of packaging: its jar is looked into, then its numbers. */
export async function numbersOf(page: Page, name: RegExp) {
  await page.getByRole('button', { name }).click()
  await page.getByRole('button', { name: 'Edit', exact: true }).click()
}

/** An order made by the API, for tests that are about what comes after. */
export async function anOrder(page: Page, customer: string, treat: string, count: number, change: object = {}) {
  const { treats } = await (await page.request.get('/api/v1/treats')).json()
  const id = treats.find((t: { name: string }) => t.name === treat).id
  const answer = await page.request.post('/api/v1/orders', {
    data: {
      customer,
      way: 'pickup',
      place: 'my place',
      from: '2026-09-12T18:00:00Z',
      to: '2026-09-12T19:00:00Z',
      lines: [{ treat: id, count }],
      freeFrom: [],
      ...change,
    },
  })
  expect(answer.status()).toBe(201)
  return (await answer.json()) as { id: string; revision: number }
}

/** An ingredient of no kind, made by the API. */
export async function anIngredient(page: Page, name: string, change: object = {}) {
  const answer = await page.request.post('/api/v1/ingredients', {
    data: {
      name,
      kind: 'other',
      unit: 'g',
      measures: [],
      fit: 1,
      allergens: [],
      diets: [],
      madeOf: [],
      paid: '1.00',
      paidFor: { amount: 100, unit: 'g' },
      ...change,
    },
  })
  expect(answer.status(), await answer.text()).toBe(201)
  return (await answer.json()) as { id: string; revision: number }
}

export async function move(page: Page, id: string, ...states: string[]) {
  for (const to of states) {
    const answer = await page.request.post(`/api/v1/orders/${id}/moves`, { data: { to } })
    expect(answer.status(), `${to}: ${await answer.text()}`).toBe(200)
  }
}

/** A new, empty kitchen, opened by the API: the page is signed in to it. */
export async function newKitchen(page: Page, name: string, country = 'US') {
  const answer = await page.request.post('/api/v1/kitchens', {
    data: {
      kitchen: 'Birch Lane Sweets',
      name: 'Ada',
      mail: `${name}-${test.info().project.name}-${test.info().repeatEachIndex}@birch.example`,
      password: 'three warm tins',
      timeZone: 'America/New_York',
      country,
    },
  })
  expect(answer.status()).toBe(201)
}

/** Picks an option of a list by its name. */
export async function pick(page: Page, label: string, option: string) {
  await page.getByLabel(label, { exact: true }).click()
  await page.locator(`.ant-select-item-option[title="${option}"]:visible`).click()
}
