import type { Page } from '@playwright/test'
import { anOrder, expect, move, beside, test } from './help'

type Formula = { family: string; coatings: Record<string, unknown>[]; choices: Record<string, string> } & Record<
  string,
  unknown
>

const g = (amount: number) => ({ amount, unit: 'g' })

/** A treat of a family, begun as a new kitchen begins it, with what is changed of it and the steps that follow. */
async function aTreat(page: Page, name: string, family: string, change: (f: Formula) => object) {
  const before = (await (await page.request.get(`/api/v1/families/${family}/formula`)).json()) as Formula
  const after = { ...before, ...change(before) }
  const { steps } = await (await page.request.post('/api/v1/calculators/steps', { data: { before, after } })).json()
  const answer = await page.request.post('/api/v1/treats', {
    data: { name, formula: { ...after, steps } },
    headers: { 'Idempotency-Key': `grams ${name}` },
  })
  expect(answer.status(), await answer.text()).toBe(201)
  return (await answer.json()).id as string
}

async function idOf(page: Page, name: string) {
  const { ingredients } = await (await page.request.get('/api/v1/ingredients')).json()
  return ingredients.find((i: { name: string }) => i.name === name).id as string
}

/** The lines of a part of the beside: name, figure and note. */
const lines = async (page: Page, part: string) =>
  beside(page)
    .locator('.part', { has: page.getByText(part, { exact: true }) })
    .locator('.line')
    .evaluateAll((list) => list.map((l) => (l as HTMLElement).innerText.replace(/\s+/g, ' ').trim()))

/** What the order says is melted and used, the card says is used, and the bench melts, in the words of the screen. */
async function told(page: Page, order: string, treat: string, count: number, chocolate: string) {
  await page.goto(`/orders/${order}`)
  await expect(
    beside(page)
      .getByText(/It fits\.|is planned|Make/)
      .first(),
  ).toBeVisible()
  await expect(beside(page).locator('.part', { hasText: 'Melt' }).first()).toBeVisible()
  const onOrder = (await lines(page, 'Melt')).filter((l) => l.includes(chocolate))
  const taken = (await lines(page, 'Ingredients')).filter((l) => l.includes(chocolate))
  await page.goto(`/treats/${treat}`)
  await page.getByLabel('How many', { exact: true }).fill(String(count))
  await page.getByLabel('How many', { exact: true }).press('Enter')
  await expect(beside(page).getByText(`${count} good`)).toBeVisible()
  const onCard = (await lines(page, 'Pot')).filter((l) => /\bused\b/.test(l))
  const { days } = await (await page.request.get(`/api/v1/orders/${order}`)).json()
  const bench: string[] = []
  for (const day of new Set<string>(days.flatMap((d: { days: string[] }) => d.days))) {
    await page.goto(`/bench/${day}`)
    await expect(page.getByRole('list', { name: /^Run sheet/ })).toBeVisible()
    bench.push(...(await page.locator('b', { hasText: new RegExp(`^Melt .* of ${chocolate}$`) }).allInnerTexts()))
  }
  return { onOrder, taken, onCard, bench }
}

/** The amount that stands in a line, such as 1 lb 4 1/2 oz. */
const amounts = (text: string) =>
  text
    .replace(/\$[\d.,]+/g, ';')
    .match(/(?:\d+ lb(?: [\d/ ]+ oz)?|[\d/ ]+ oz|[\d.]+ k?g)\b/g)
    ?.map((x) => x.trim()) ?? []

const day = (n: number) => ({ from: `2026-09-${n}T18:00:00Z`, to: `2026-09-${n}T19:00:00Z` })

test('two coats, a tinted set, a flavoured pot, fill and drain: order, card and bench speak of the same grams', async ({
  page,
}) => {
  test.setTimeout(120_000)
  const [white, dark, milk] = [
    await idOf(page, 'White coating'),
    await idOf(page, 'Dark 60%'),
    await idOf(page, 'Milk 38%'),
  ]
  const oil = await idOf(page, 'Bergamot oil')
  const coat = (f: Formula, x: object) => f.coatings.map((c) => ({ ...c, ...x }))
  const cases = [
    {
      name: 'Bombs in two coats',
      family: 'bomb',
      of: 'Milk 38%',
      on: 26,
      change: (f: Formula) => ({ coatings: coat(f, { ingredient: milk }), choices: { coats: 'two' } }),
    },
    {
      name: 'Drained bombs',
      family: 'bomb',
      of: 'Dark 60%',
      on: 26,
      change: (f: Formula) => ({ coatings: coat(f, { ingredient: dark }), choices: { coat: 'drain' } }),
    },
    {
      name: 'Bergamot fruit',
      family: 'fruit',
      of: 'White coating',
      on: 26,
      change: (f: Formula) => ({
        coatings: coat(f, {
          ingredient: white,
          flavour: { ingredient: oil, amount: { amount: 0.2, unit: 'mL' }, to: g(100) },
        }),
      }),
    },
    {
      name: 'Fruit in two shades',
      family: 'fruit',
      of: 'White coating',
      on: 26,
      change: (f: Formula) => ({
        coatings: coat(f, { ingredient: white }),
        finishes: [1, 3].map((n) => ({
          name: n === 1 ? 'Pale' : 'Deep',
          parts: 6,
          portions: [],
          coatings: [
            {
              ...f.coatings[0],
              ingredient: white,
              tint: { ingredient: oil, amount: { amount: n * 0.1, unit: 'mL' }, to: g(100) },
            },
          ],
        })),
      }),
    },
  ]
  for (const c of cases) {
    const treat = await aTreat(page, c.name, c.family, c.change)
    const order = await anOrder(page, `Gram ${c.name}`, c.name, 12, day(c.on))
    await move(page, order.id, 'promised')
    const { onOrder, taken, onCard, bench } = await told(page, order.id, treat, 12, c.of)
    expect(onOrder.length, `${c.name} on the order`).toBeGreaterThan(0)
    // What the order takes is what the card of so many uses, from however many bowls.
    expect(taken.length, `${c.name}: ${taken.join(' | ')}`).toBe(1)
    expect(
      onCard.some((l) => amounts(l).some((a) => amounts(taken[0]!).includes(a))),
      `${c.name}: the order takes ${taken[0]}, the card says ${onCard.join(' | ')}`,
    ).toBe(true)
    // What the order melts is what the bench melts.
    for (const melt of onOrder) {
      const of = amounts(melt)
      expect(
        bench.some((b) => of.some((a) => b.includes(a))),
        `${c.name}: the order says ${melt}, the bench ${bench.join(' | ')}`,
      ).toBe(true)
    }
    await move(page, order.id, 'cancelled')
  }
})

test('a free-from order beside a day with nuts has a bowl of its own', async ({ page }) => {
  test.setTimeout(90_000)
  const [dark, nuts] = [await idOf(page, 'Dark 60%'), await idOf(page, 'Hazelnuts, chopped')]
  const clusters = await aTreat(page, 'Hazelnut clusters', 'cluster', (f) => ({
    coatings: f.coatings.map((c) => ({ ...c, ingredient: dark })),
    portions: [{ ingredient: nuts, each: g(7), where: 'on' }],
  }))
  const fruit = await aTreat(page, 'Plain dark fruit', 'fruit', (f) => ({
    coatings: f.coatings.map((c) => ({ ...c, ingredient: dark, pool: g(150) })),
  }))
  const nutty = await anOrder(page, 'Nut Night', 'Hazelnut clusters', 40, day(19))
  await move(page, nutty.id, 'promised')
  const free = await anOrder(page, 'Free Fran', 'Plain dark fruit', 12, { ...day(19), freeFrom: ['tree nut'] })
  await page.goto(`/orders/${free.id}`)
  await expect(beside(page).getByText(/It fits\./)).toBeVisible()
  await expect(beside(page).getByText(/may contain traces/)).toHaveCount(0)
  await move(page, free.id, 'promised')
  for (const [order, treat, count] of [
    [nutty.id, clusters, 40],
    [free.id, fruit, 12],
  ] as const) {
    const { onOrder, bench } = await told(page, order, treat, count, 'Dark 60%')
    for (const melt of onOrder)
      expect(
        bench.some((b) => amounts(melt).some((a) => b.includes(a))),
        `${melt} and ${bench.join(' | ')}`,
      ).toBe(true)
  }
  await move(page, free.id, 'cancelled')
  await move(page, nutty.id, 'cancelled')
})
