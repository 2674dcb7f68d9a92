import ICAL from 'ical.js'
import { anOrder, expect, move, beside, test } from './help'
import type { Page } from '@playwright/test'

interface Relief {
  kind: string
  text: string
}

const treatID = async (page: Page, name: string) => {
  const { treats } = await (await page.request.get('/api/v1/treats')).json()
  return treats.find((t: { name: string }) => t.name === name).id as string
}

/** The first count of a treat for which a change of this kind helps. */
async function whereItHelps(page: Page, kind: string, treat: string, counts: number[], from: string) {
  const id = await treatID(page, treat)
  for (const count of counts) {
    const draft = {
      customer: 'Tight Fit',
      way: 'pickup',
      place: 'my place',
      from,
      to: new Date(Date.parse(from) + 3_600_000).toISOString(),
      lines: [{ treat: id, count }],
      freeFrom: [],
    }
    const { reliefs } = await (await page.request.post('/api/v1/reliefs', { data: { draft } })).json()
    const found = (reliefs as Relief[]).find((r) => r.kind === kind)
    if (found) return { count, text: found.text }
  }
  throw new Error(`nowhere does a change of the kind ${kind} help`)
}

const capacity = async (page: Page, change: object) => {
  const now = await page.request.get('/api/v1/capacity')
  const answer = await page.request.put('/api/v1/capacity', {
    data: { ...(await now.json()), ...change },
    headers: { 'If-Match': now.headers()['etag']! },
  })
  expect(answer.status()).toBe(200)
}

/** So many trays in each of the spots named. */
const trays = async (page: Page, holds: Record<string, number>) => {
  const { spots } = await (await page.request.get('/api/v1/capacity')).json()
  await capacity(page, {
    spots: spots.map((s: { id: string; trays: number }) => ({ ...s, trays: holds[s.id] ?? s.trays })),
  })
}

const some = (from: number, to: number, by: number) =>
  Array.from({ length: Math.floor((to - from) / by) + 1 }, (_, i) => from + i * by)
const fridayMorning = '2026-09-11T13:00:00Z' // strawberries keep a day, so that Thursday evening is what there is
const berries = 'Strawberries with white lines'

// Each kind of change, on an order that it helps.
const cases: {
  kind: string
  treat: string
  counts: number[]
  from: string
  before?: (page: Page) => Promise<void>
  after?: (page: Page) => Promise<void>
}[] = [
  { kind: 'hours', treat: berries, counts: some(120, 200, 10), from: fridayMorning },
  { kind: 'person', treat: berries, counts: some(120, 200, 10), from: fridayMorning },
  { kind: 'fewer', treat: berries, counts: some(120, 240, 10), from: fridayMorning },
  { kind: 'later', treat: berries, counts: some(120, 200, 10), from: fridayMorning },
  { kind: 'day', treat: berries, counts: some(36, 90, 6), from: '2026-09-15T13:00:00Z' },
  { kind: 'coating', treat: berries, counts: some(114, 200, 2), from: fridayMorning, before: darkCoating },
  {
    kind: 'spot',
    treat: berries,
    counts: some(54, 140, 6),
    from: fridayMorning,
    before: (p) => trays(p, { counter: 3 }),
    after: (p) => trays(p, { counter: 12 }),
  },
  {
    kind: 'mould',
    treat: 'Cardamom-malt bombs',
    counts: some(36, 90, 6),
    from: '2026-09-09T14:00:00Z',
    before: async (p) => {
      await days(p, 'off', ['2026-09-03', '2026-09-04', '2026-09-05'])
      await mould(p, 2)
    },
    after: async (p) => {
      await mould(p, 4)
      await days(p, 'usual', ['2026-09-05', '2026-09-04', '2026-09-03'])
    },
  },
]

async function darkCoating(page: Page) {
  const { ingredients } = await (await page.request.get('/api/v1/ingredients')).json()
  const white = ingredients.find((i: { name: string }) => i.name === 'White coating')
  const { id: _, revision: __, paidForShown: ___, sizes: ____, ...fields } = white
  const made = await page.request.post('/api/v1/ingredients', {
    data: { ...fields, name: 'Dark coating', chocolate: { ...white.chocolate, colour: 'dark' } },
  })
  expect([201, 409], await made.text()).toContain(made.status())
}

const mould = async (page: Page, count: number) => {
  const { moulds } = await (await page.request.get('/api/v1/capacity')).json()
  const balls = moulds.find((m: { for: string[] }) => m.for.includes('Cardamom-malt bombs'))
  await capacity(page, { moulds: [{ tool: balls.tool, count }] })
}

const days = async (page: Page, kind: 'off' | 'usual', list: string[]) => {
  for (const day of list)
    expect((await page.request.post('/api/v1/plan/changes', { data: { kind, day } })).status(), day).toBe(200)
}

for (const c of cases) {
  test(`an order that does not fit is made to fit: ${c.kind}`, async ({ page }) => {
    await c.before?.(page)
    const found = await whereItHelps(page, c.kind, c.treat, c.counts, c.from)
    const { id } = await anOrder(page, `Tight ${c.kind}`, c.treat, found.count, {
      from: c.from,
      to: new Date(Date.parse(c.from) + 3_600_000).toISOString(),
    })
    await page.goto(`/orders/${id}`)
    const panel = beside(page)
    await expect(panel.getByText('Ways to make it fit:')).toBeVisible()
    await expect(page.locator('.shelf .tin-over')).not.toHaveCount(0)
    await panel.getByRole('button', { name: `Do it: ${found.text}` }).click()
    await expect(panel.getByText(/It fits\./)).toBeVisible()
    await expect(panel.getByText('Ways to make it fit:')).toHaveCount(0)
    if (c.kind === 'coating') await expect(page.getByRole('button', { name: 'in coating' })).toBeVisible()
    await page.locator('.ant-message').getByRole('button', { name: 'Undo' }).click()
    await expect(panel.getByText('Ways to make it fit:')).toBeVisible()
    await c.after?.(page)
    await move(page, id, 'cancelled')
  })
}

/** A step of the plan, by what it says. */
const chip = (page: Page, words: RegExp) => page.locator('.step-chip').and(page.getByRole('button', { name: words }))

test('a step is pinned by the keyboard, the rest settles, and it is undone', async ({ page }) => {
  await page.goto('/plan')
  const spread = chip(page, /^Spread, top while wet, 20 Hazelnut.*Science night/)
  await expect(spread).toBeVisible()
  const was = await spread.getAttribute('aria-label')
  await spread.focus()
  await page.keyboard.press('Enter')
  await expect(page.locator('.carried')).toBeVisible()
  await page.keyboard.press('Escape')
  await expect(page.locator('.carried')).toHaveCount(0)
  await page.keyboard.press('Enter')
  await page.keyboard.press(/(Thu 3|Fri 4|Sat 5|Tue 8)/.test(was!) ? ']' : '[') // to an evening that has room
  await page.keyboard.press('Shift+ArrowRight')
  await page.keyboard.press('ArrowRight')
  await page.keyboard.press('Enter')
  await expect(page.locator('.ant-message').getByText(/is pinned to/)).toBeVisible()
  const beside = page.getByRole('complementary')
  await expect(beside.getByText(/steps? moves?:/)).toBeVisible()
  await expect(spread).toHaveAttribute('aria-label', /pinned/)
  const told = await page.getByRole('status').first().textContent() // where it was put down
  const [, time] = /, (\d+:\d\d\s[ap]m),/.exec(told!)!
  await expect(spread).toHaveAttribute('aria-label', new RegExp(`${time} to`))
  // Before and now.
  await beside.getByText('Before', { exact: true }).click()
  await expect(spread).not.toHaveAttribute('aria-label', new RegExp(`${time} to`))
  await beside.getByText('Now', { exact: true }).click()
  // u lets it go again, and the last two changes are undone.
  await spread.focus()
  await page.keyboard.press('u')
  await expect(spread).not.toHaveAttribute('aria-label', /pinned/)
  await beside.getByRole('button', { name: 'Undo' }).click()
  await expect(spread).toHaveAttribute('aria-label', /pinned/)
  await beside.getByRole('button', { name: 'Undo' }).click()
  await expect(spread).toHaveAttribute('aria-label', was!)
})

test('a step is pinned by dragging it, and where it cannot be it is said why', async ({ page }) => {
  await page.goto('/plan')
  const spread = chip(page, /^Spread, top while wet, 20 Hazelnut.*Science night/)
  await expect(spread).toBeVisible()
  const drag = async (day: string, share: number) => {
    await spread.scrollIntoViewIfNeeded()
    const lane = page.locator(`[data-band="${day}"]`)
    const from = (await spread.boundingBox())!
    await page.mouse.move(from.x + 6, from.y + 15)
    await page.mouse.down()
    await page.mouse.move(from.x + 20, from.y + 15, { steps: 3 })
    await lane.scrollIntoViewIfNeeded()
    const to = (await lane.boundingBox())!
    await page.mouse.move(to.x + to.width * share, to.y + 18, { steps: 5 })
    await expect(page.locator('.carried')).toBeVisible()
    await page.mouse.up()
  }
  await drag('2026-09-09', 0.45)
  await expect(page.locator('.ant-message').getByText(/is pinned to Wed 9/)).toBeVisible()
  await expect(spread).toHaveAttribute('aria-label', /Wed 9 Sep.*pinned/)
  await expect(page.locator('.ghost').first()).toBeAttached()
  // Esc while it is carried: it stays where it was.
  const held = (await spread.boundingBox())!
  await page.mouse.move(held.x + 6, held.y + 15)
  await page.mouse.down()
  await page.mouse.move(held.x + 90, held.y + 15, { steps: 4 })
  await expect(page.locator('.carried')).toBeVisible()
  const before = await spread.getAttribute('aria-label')
  await page.keyboard.press('Escape')
  await expect(page.locator('.carried')).toHaveCount(0)
  await page.mouse.up()
  await expect(spread).toHaveAttribute('aria-label', before!)
  // To the very end of an evening: the hours are over before it is done.
  await drag('2026-09-08', 0.99)
  await expect(page.locator('.ant-message').getByText(/there are no working hours then on Tue 8 Sep/)).toBeVisible()
  await expect(spread).toHaveAttribute('aria-label', /Wed 9 Sep.*pinned/)
  await page.getByRole('complementary').getByRole('button', { name: 'Undo' }).click()
  await expect(spread).not.toHaveAttribute('aria-label', /pinned/)
})

test('a step is pinned by day and time too, for whoever neither drags nor has keys', async ({ page }) => {
  await page.goto('/plan')
  const beside = page.getByRole('complementary')
  await beside.getByRole('button', { name: 'Go through the steps' }).click()
  await beside.getByRole('button', { name: 'The next step' }).click()
  await beside.getByRole('button', { name: 'The step before' }).click()
  await chip(page, /^Break and bag by weight, 20 Hazelnut.*Science night/).click()
  await beside.getByLabel('Day of the step').fill('2026-09-10')
  await page.keyboard.press('Enter')
  await beside.getByLabel('Time of the step').fill('9 pm')
  await page.keyboard.press('Enter')
  await beside.getByRole('button', { name: 'Pin' }).click()
  await expect(
    chip(page, /^Break and bag by weight, 20 Hazelnut.*Science night.*Thu 10 Sep, 9:00 pm to.*pinned/),
  ).toBeVisible()
  await beside.getByRole('button', { name: 'Undo' }).click()
  await expect(chip(page, /^Break and bag by weight, 20 Hazelnut.*pinned/)).toHaveCount(0)
})

test('a day is marked off in the plan: what moves is told, and what has no room', async ({ page }) => {
  await page.goto('/plan')
  await page.getByRole('button', { name: 'Day off on Friday 4 September' }).click()
  await expect(
    page.getByRole('article', { name: 'Friday 4 September' }).getByText('off', { exact: true }),
  ).toBeVisible()
  await page.getByRole('button', { name: 'Day off on Saturday 5 September' }).click()
  const beside = page.getByRole('complementary')
  await expect(beside.getByText(/Wren family.*: .* Strawberries/).first()).toBeVisible()
  await expect(beside.getByRole('link', { name: 'what would help' }).first()).toBeVisible()
  await expect(page.locator('.step-chip.short').first()).toBeVisible()
  await expect(page.locator('.shelf .tin-over')).not.toHaveCount(0)
  await page.getByRole('button', { name: 'Use usual hours on Saturday 5 September' }).click()
  await expect(beside.getByText(/for Wren family.* fit again/).first()).toBeVisible()
  await page.getByRole('button', { name: 'Use usual hours on Friday 4 September' }).click()
  await expect(page.locator('.step-chip.short')).toHaveCount(0)
})

test('what several orders need of the same treat is made in one go', async ({ page }) => {
  const when = { from: '2026-09-12T18:00:00Z', to: '2026-09-12T19:00:00Z' }
  const first = await anOrder(page, 'Lotte One', 'Brown-butter walnut fudge', 12, when)
  await move(page, first.id, 'promised')
  const second = await anOrder(page, 'Otto Two', 'Brown-butter walnut fudge', 24, when)
  await page.goto(`/orders/${second.id}`)
  await expect(
    beside(page).getByText(/It fits\. Brown-butter walnut fudge .*, together with \d+ for .*Lotte One/),
  ).toBeVisible()
  await page.getByRole('button', { name: 'Confirm order' }).click()
  await expect(beside(page).getByText('24 Brown-butter walnut fudge made together with')).toContainText('Lotte One')
  const { days } = await (await page.request.get(`/api/v1/orders/${second.id}`)).json()
  await page.goto('/plan')
  const cast = chip(page, /Brown-butter walnut fudge for .*Lotte One \(12\).*Otto Two \(24\)/).first()
  await cast.focus()
  await page.keyboard.press('Space')
  await expect(page.getByRole('complementary').getByRole('link', { name: 'Otto Two' })).toHaveAttribute(
    'href',
    `/orders/${second.id}`,
  )
  await page.goto(`/bench/${days[0].day}`)
  await expect(
    page
      .getByRole('list', { name: /^Run sheet/ })
      .getByText(/Brown-butter walnut fudge, .*Lotte One \(12\).*Otto Two \(24\)/)
      .first(),
  ).toBeVisible()
  // One of them leaves: the other is made as it would have been.
  await move(page, first.id, 'cancelled')
  await page.goto(`/orders/${second.id}`)
  await expect(beside(page).getByText('24 Brown-butter walnut fudge').first()).toBeVisible()
  await expect(beside(page).getByText('Lotte One')).toHaveCount(0)
  await move(page, second.id, 'cancelled')
})

test('the coming weeks are planned anew in the background, and it can be stopped', async ({ page }) => {
  await page.goto('/plan')
  await page.getByRole('button', { name: 'Replan' }).click()
  await expect(page.getByRole('progressbar').or(page.getByText(/better plan|saves|fresher/))).toBeVisible()
  await expect(page.getByText(/No better plan was found|It saves|fresher/)).toBeVisible({ timeout: 60_000 }) // long work, on a machine that is busy
  await page.getByRole('button', { name: /OK|Cancel/ }).click()
  await page.getByRole('button', { name: 'Replan' }).click()
  const stop = page.getByRole('button', { name: 'Stop' })
  await stop.or(page.getByRole('button', { name: /OK|Cancel/ })).click()
})

test('a calendar follows the plan by its link, and cannot any more once it is ended', async ({ page }) => {
  await page.goto('/handover')
  await page.getByRole('button', { name: 'Create link' }).click()
  const link = await page.getByLabel('Calendar link').inputValue()
  const read = async () => {
    const text = await (await page.request.get(link)).text()
    const events = new ICAL.Component(ICAL.parse(text)).getAllSubcomponents('vevent').map((e) => new ICAL.Event(e))
    return new Map(
      events.map((e) => [
        e.uid,
        {
          sequence: Number(e.sequence),
          start: e.startDate.toJSDate().toISOString(),
          end: e.endDate.toJSDate(),
          summary: e.summary,
        },
      ]),
    )
  }
  const before = await read()
  expect([...before.values()].map((e) => e.summary)).toContain('Delivery: Wren family, wedding brunch')
  for (const e of before.values()) expect(e.end.getTime(), e.summary).toBeGreaterThan(Date.parse(e.start))
  const { days: list } = await (await page.request.get('/api/v1/plan')).json()
  const bark = list
    .flatMap((d: { steps: { step: string; for: { customer: string }[]; batch: string }[] }) => d.steps)
    .find(
      (s: { step: string; for: { customer: string }[] }) =>
        s.step === 'spread' && s.for.some((t) => t.customer === 'Science night'),
    )
  const pinned = await page.request.post('/api/v1/plan/changes', {
    data: { kind: 'pin', batch: bark.batch, step: 'spread', day: '2026-09-09', start: 1110, hand: 0 },
  })
  expect(pinned.status()).toBe(200)
  const after = await read()
  const moved = [...after].filter(([uid, e]) => before.has(uid) && before.get(uid)!.start !== e.start)
  expect(moved.length).toBeGreaterThan(0)
  for (const [uid, e] of moved) expect(e.sequence, e.summary).toBeGreaterThan(before.get(uid)!.sequence)
  await page.request.post(`/api/v1/plan/changes/${(await pinned.json()).change}/undo`)
  await page.getByRole('button', { name: 'Turn off link' }).click()
  await expect(page.getByRole('button', { name: 'Create link' })).toBeVisible()
  expect((await page.request.get(link)).status()).toBe(404)
})

test('trays and moulds are the kitchen’s own, and the plan follows', async ({ page }) => {
  await page.goto('/plan/hours')
  await page.getByLabel('Trays in fridge').fill('0')
  await page.getByLabel('Trays in counter').fill('0')
  await page.getByRole('button', { name: 'Save space and molds' }).click()
  await expect(page.getByText('Saved. The plan is updated.')).toBeVisible()
  await page.getByRole('link', { name: 'Back to plan' }).click()
  await expect(
    page
      .getByRole('complementary')
      .getByText(/trays at once/)
      .first(),
  ).toBeVisible()
  await trays(page, { fridge: 6, counter: 12 })
  await page.reload()
  await expect(page.getByRole('complementary').getByText(/trays at once/)).toHaveCount(0)
})

test('the run sheet says what to melt and when to look, and comes as PDF', async ({ page }) => {
  await page.goto('/bench/2026-09-05')
  const morning = page.getByRole('region', { name: '8:30 am to 11:30 am' })
  await expect(
    morning
      .getByRole('list', { name: 'Set up' })
      .getByText(/Melt .* of \w+/)
      .first(),
  ).toBeVisible()
  await expect(morning.getByText(/Check/)).toBeVisible()
  await expect(page.getByRole('list', { name: 'Handovers of the day' })).toContainText(
    'Wren family, delivered to Orchard barn, Hill Road, leave at 11:35 am',
  )
  const [download] = await Promise.all([page.waitForEvent('download'), page.getByRole('link', { name: 'PDF' }).click()])
  expect(download.suggestedFilename()).toBe('run-sheet-2026-09-05.pdf')
})

test('what fills the days is drawn and told in figures', async ({ page }) => {
  await page.goto('/plan')
  const part = page.getByRole('region', { name: 'What fills these days' }).first()
  await expect(part.getByRole('img').locator('canvas')).toBeVisible()
  const { days } = await (await page.request.get('/api/v1/plan?days=14')).json()
  const filled = days.filter((d: { fills: unknown[]; setup: number }) => d.fills.length > 0 || d.setup > 0)
  await expect(part.getByRole('row')).toHaveCount(filled.length + 1)
  for (const [i, d] of filled.entries()) {
    const row = part.getByRole('row').nth(i + 1)
    for (const f of d.fills) await expect(row).toContainText(f.treat)
    // What is planned is in the hours that the day has.
    const taken = d.fills.reduce((n: number, f: { minutes: number }) => n + f.minutes, 0) + d.setup
    expect(taken).toBeLessThanOrEqual(d.open)
  }
})

test('a mix is planned to be made ahead, made at the bench, and lies in the larder', async ({ page }) => {
  const mixes = (await (await page.request.get('/api/v1/mixes')).json()).mixes as { id: string; name: string }[]
  const mix = mixes.find((m) => m.name === 'Bergamot ganache')!.id
  await page.goto(`/treats/mixes/${mix}`)
  await page.getByRole('button', { name: 'Plan to make it…' }).click()
  await page.getByLabel('How much to make').fill('400 g')
  await page.getByLabel('Minutes of work').fill('35')
  await page.getByRole('button', { name: 'Put it into the plan' }).click()
  await expect(page.getByText(/14 oz planned for/)).toBeVisible()
  await page.getByRole('link', { name: 'See it in the plan' }).click()

  // A click looks at the step, and picks nothing up.
  const step = page.getByRole('button', { name: /14 oz Bergamot ganache for the larder/ })
  await step.click()
  const chosen = beside(page)
  await expect(chosen.getByRole('link', { name: '14 oz Bergamot ganache' })).toBeVisible()
  await expect(page.locator('.carried')).toHaveCount(0)
  await chosen.getByRole('button', { name: 'Take it out of the plan' }).click()
  await expect(step).toHaveCount(0)
  await page.getByRole('complementary').getByRole('button', { name: 'Undo' }).click()
  await expect(step).toHaveCount(1)

  const { days } = await (await page.request.get('/api/v1/plan?days=14')).json()
  const day = days.find((d: { steps: { mix?: string }[] }) => d.steps.some((s) => s.mix === mix)).day as string
  await page.goto(`/bench/${day}`)
  const row = page.getByRole('listitem').filter({ hasText: '14 oz Bergamot ganache' }).last()
  await expect(row).toContainText('Butter')
  await row.locator('label.tick').click()
  await expect(row.getByRole('checkbox')).toBeChecked()
  await page.goto('/larder')
  await expect(page.getByRole('button', { name: /Bergamot ganache/ }).first()).toContainText('14 oz')
})
