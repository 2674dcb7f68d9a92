import { anIngredient, anOrder, expect, move, newKitchen, pick, test } from './help'
import { addition, begin, choose, press, runSheets, save, typed } from './treat'

test.use({ storageState: { cookies: [], origins: [] } })

/** What of a thing is in grams, or in pieces. */
interface Buy {
  name: string
  need: { amount: number; unit: string }
}

// In a kitchen where nothing is in the house all that is promised stands on the shopping list, as a hand sums it up.
test('seven treats of a new kitchen: what is bought for them is what a hand sums up', async ({ page }) => {
  test.slow()
  await newKitchen(page, 'seven')
  const chocolate = (name: string, kind: string, colour: string) =>
    anIngredient(page, name, { kind: 'chocolate', chocolate: { kind, colour } })
  await chocolate('Night 60%', 'real', 'dark')
  await chocolate('Snow coating', 'compound', 'white')
  await anIngredient(page, 'Nut paste', { kind: 'nut', density: 1.2 })
  await anIngredient(page, 'Hazel bits', { kind: 'nut', density: 0.5 })
  await anIngredient(page, 'Cream', { kind: 'dairy', density: 1 })
  await anIngredient(page, 'Sugar', { kind: 'sugar', density: 0.85 })
  await anIngredient(page, 'Orange slices', { kind: 'fruit', gramsEach: 10, unit: 'g' })
  await anIngredient(page, 'Bread sticks', { kind: 'baked', gramsEach: 6, unit: 'g' })
  const id = async (name: string) =>
    ((await (await page.request.get('/api/v1/ingredients')).json()).ingredients as { id: string; name: string }[]).find(
      (i) => i.name === name,
    )!.id
  const part = async (name: string, grams: number) => ({
    of: await id(name),
    amount: { amount: grams, unit: 'g' },
  })
  const mix = async (name: string, density: number, ...parts: object[]) => {
    const made = await page.request.post('/api/v1/mixes', { data: { name, density, loss: 0, parts } })
    expect(made.status(), await made.text()).toBe(201)
  }
  await mix('Night ganache', 1.2, await part('Night 60%', 200), await part('Cream', 100))
  await mix('Quick fudge', 1.25, await part('Sugar', 300), await part('Cream', 200), await part('Night 60%', 100))
  const week = [1, 2, 3, 4, 5, 6, 0].map(() => [{ from: '08:00', to: '20:00', hands: 1 }])
  const hours = await page.request.get('/api/v1/work-days')
  const saved = await page.request.put('/api/v1/work-days', {
    data: { ...(await hours.json()), week },
    headers: { 'If-Match': hours.headers().etag! },
  })
  expect(saved.status(), await saved.text()).toBe(200)

  const numbers = page.locator('.numbers')
  const onIt = numbers.locator('.group').filter({ has: page.getByRole('heading', { name: 'On a piece', exact: true }) })
  const unpacked = async () => {
    for (let n = await page.getByLabel('Leave this packaging out').count(); n > 0; n--)
      await press(page, 'Leave this packaging out')
  }

  // Solid hearts of 40 mm, 15 mm deep: 14.704 mL, 19.115 g.
  await begin(page, 'molded piece', 'Night hearts')
  await pick(page, 'Shell', 'Night 60%')
  await choose(page, page.getByLabel('Shape of the cavity'), 'heart')
  await page.getByRole('textbox', { name: 'Width' }).fill('40 mm')
  await page.getByRole('textbox', { name: 'Depth' }).fill('15 mm')
  await expect(page.getByText(/solid, cut through the middle/)).toBeVisible()
  await save(page)

  // Loaves of 100 by 50 mm, 40 mm wide at the foot and 30 deep, 128.5 mL, in foil that is used up: a third of it shell.
  await begin(page, 'molded piece', 'Foil loaves')
  await pick(page, 'Shell', 'Night 60%')
  await choose(page, page.getByLabel('Shape of the cavity'), 'loaf')
  await page.getByRole('textbox', { name: 'Length' }).fill('100 mm')
  await page.getByRole('textbox', { name: 'Width', exact: true }).fill('50 mm')
  await page.getByRole('textbox', { name: 'Width at the foot' }).fill('40 mm')
  await page.getByRole('textbox', { name: 'Depth' }).fill('30 mm')
  await page.getByLabel('Shell, share of the cavity').fill('40')
  await press(numbers, 'Add a filling')
  await typed(page, numbers.getByLabel('Fill', { exact: true }), 'Nut paste')
  await page.getByLabel('Cavities in a mold').fill('1')
  await page.getByLabel('Molds', { exact: true }).fill('6')
  await numbers.getByLabel('Foil or paper, used up').click()
  await page.keyboard.type('Loaf foil')
  await page.locator('.ant-select-item-option:visible', { hasText: 'Add “Loaf foil”' }).click()
  const line = page.getByRole('form', { name: 'New packaging' })
  await line.getByLabel('Last paid').fill('3.00')
  await line.getByRole('button', { name: 'Add', exact: true }).click()
  await expect(line).toBeHidden()
  await save(page)

  // Bark of one color on a sheet, with nuts on it.
  await begin(page, 'bark', 'Hazel bark')
  await addition(page, page.locator('.numbers'), 'Hazel bits', '50 g')
  await save(page)

  // Bread sticks with 4 g of coating on each.
  await begin(page, 'dipped pretzel', 'Snow sticks')
  await pick(page, 'Coat', 'Snow coating')
  await page.locator('[data-path="coatings[0].each"] input').fill('4 g')
  await save(page)

  // Truffles whose ganache is made ahead, and fudge that is not.
  await begin(page, 'truffle', 'Night truffles')
  await pick(page, 'Coat', 'Night 60%')
  await save(page)
  await begin(page, 'fudge', 'Cream fudge')
  await save(page)

  // Slices of orange on a stick.
  await begin(page, 'dipped fruit', 'Orange suns')
  await pick(page, 'Coat', 'Snow coating')
  await choose(page, page.getByLabel('Its form'), 'slice or segment')
  await unpacked()
  await addition(page, onIt, 'Sugar', '1 g')
  await save(page)

  const { treats } = (await (await page.request.get('/api/v1/treats')).json()) as {
    treats: { id: string; name: string }[]
  }
  const counts = {
    'Night hearts': 15,
    'Foil loaves': 12,
    'Hazel bark': 3,
    'Snow sticks': 20,
    'Night truffles': 24,
    'Cream fudge': 16,
    'Orange suns': 12,
  }
  const order = await anOrder(page, 'Seven Sam', 'Night hearts', 15, {
    lines: Object.entries(counts).map(([name, count]) => ({ treat: treats.find((t) => t.name === name)!.id, count })),
  })
  await move(page, order.id, 'promised')
  const list = (await (await page.request.get('/api/v1/shopping-list?to=2026-09-12')).json()) as {
    shops: { lines: Buy[] }[]
  }
  const lines = list.shops.flatMap((s) => s.lines)
  const need = (name: string) => lines.find((l) => l.name === name)?.need.amount ?? 0
  // A foil for each loaf, none for anything else.
  expect(need('Loaf foil')).toBe(12)
  // Of 128.5 mL 40% are shell and 10% cap: half of it at 1.2 g/mL is paste, and nothing else has it.
  expect(need('Nut paste')).toBeCloseTo(12 * 128.5 * 0.5 * 1.2, 1)
  // 20 sticks of 6 g, of those that are bought as many as are fit; 12 g of sugar on the slices and half of the fudge.
  const { lines: cards } = (await (
    await page.request.post('/api/v1/estimates', {
      data: { order: order.id, draft: (await (await page.request.get(`/api/v1/orders/${order.id}`)).json()).draft },
    })
  ).json()) as {
    lines: { name: string; card: { start: number; mixes: { name: string; make: { amount: number } }[] } }[]
  }
  const made = (treat: string, mix: string) =>
    cards.find((l) => l.name === treat)!.card.mixes.find((m) => m.name === mix)!.make.amount
  const fudge = made('Cream fudge', 'Quick fudge')
  const ganache = made('Night truffles', 'Night ganache')
  expect(ganache).toBeCloseTo(24 * 12, 6)
  expect(need('Cream')).toBeCloseTo(ganache / 3 + fudge / 3, 1)
  expect(need('Sugar')).toBeCloseTo(fudge / 2 + 12, 1)

  // Their run sheets say the same amounts as a hand: 15 hearts of 19.115 g, 20 sticks of 4 g, 24 centres of 12 g.
  const sheet = await runSheets(page, order.id)
  expect(sheet('Night hearts')).toContain('Night 60% (287 g)')
  expect(sheet('Foil loaves')).toContain('Leave them in their foil or paper')
  expect(sheet('Snow sticks')).toContain('Snow coating (80 g)')
  expect(sheet('Night truffles')).toContain('Night ganache (288 g)')
  expect(sheet('Orange suns')).toContain('Sugar (12 g)')

  // Some of the ganache is made ahead: what went into it is bought no more for the order, once it takes it.
  const mixes = (await (await page.request.get('/api/v1/mixes')).json()).mixes as { id: string; name: string }[]
  await page.goto(`/treats/mixes/${mixes.find((m) => m.name === 'Night ganache')!.id}`)
  await page.getByLabel('What came out').fill('150 g')
  await press(page, 'It is made')
  await expect(page.getByText(/good until/)).toBeVisible()
  await page.goto('/larder')
  await expect(page.getByRole('button', { name: /Night ganache/ }).first()).toBeVisible()
})
