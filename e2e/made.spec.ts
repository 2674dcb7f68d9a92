import { anOrder, expect, move, pick, test } from './help'
import { addition, begin, choose, design, press, runSheets, save, typed } from './treat'

const shell = (4 / 3) * Math.PI * (3.175 ** 3 - 2.825 ** 3) * 1.3 // g of a ball of 2.5 in with a wall of 3.5 mm

interface Need {
  name: string
  used: { amount: number }
}

test('awkward treats are entered through the screens, and what they take is what a hand reckons', async ({ page }) => {
  test.slow()
  // A marbled bomb in three fillings.
  await begin(page, 'drink bomb', 'Marbled bombs')
  const numbers = page.locator('.numbers')
  const onIt = numbers.locator('.group').filter({ has: page.getByRole('heading', { name: 'On a piece', exact: true }) })
  await pick(page, 'Shell', 'Dark 60%')
  await press(numbers, 'Marble the shell')
  await typed(page, numbers.getByLabel('Shell', { exact: true }).nth(1), 'White coating')
  await numbers.getByLabel('of the shell').nth(0).fill('70')
  await numbers.getByLabel('of the shell').nth(1).fill('30')
  for (const [name, filling, amount] of [
    ['Cardamom', 'Cardamom malt mix', '10 g'],
    ['Crumb', 'Biscuit crumb', '8 g'],
    ['Sesame', 'Sesame seed', '6 g'],
  ] as const)
    await addition(page, await design(page, name, 1), filling, amount, 'in')
  await save(page)

  // A dozen in two shades of one blue, over a coat of candy that freezes beside the washing; their feet are sealed.
  await begin(page, 'dipped fruit', 'Two blue shades')
  await page.getByText('sealed', { exact: true }).click()
  await pick(page, 'Coat', 'White coating')
  for (const [name, drops] of [
    ['Pale', '2'],
    ['Deep', '6'],
  ] as const) {
    const own = await design(page, name, 6)
    await press(own, /^Coat of its own/)
    await press(own, /^Tint, flavor, thinner, melting/)
    await press(own, 'Add a tint')
    await press(own, 'Stir it in all at once')
    if (name === 'Pale') {
      // The colour is not in the larder: it is made here, in one line.
      await own.getByLabel('Tint', { exact: true }).click()
      await page.keyboard.type('Blue powder')
      await page.locator('.ant-select-item-option:visible', { hasText: 'Add “Blue powder”' }).click()
      const line = own.locator('.quick-ingredient')
      await line.getByLabel('Last paid').fill('4.00')
      await line.getByLabel('For how much').fill('100 g')
      await line.getByRole('button', { name: 'Add', exact: true }).click()
      await expect(line).toBeHidden()
    } else await typed(page, own.getByLabel('Tint', { exact: true }), 'Blue powder')
    await own.getByLabel('Amount of Tint', { exact: true }).fill(`${drops} g`)
    await own.getByLabel('Chocolate that the amount of Tint is for').fill('100 g')
  }
  await addition(page, onIt, 'Biscuit crumb', '3 g')
  await page.getByText('Edit steps').click()
  await press(page, /^More of: Pick over/)
  await press(page, /^insert before: Pick over/)
  const told = page.locator('.step-more')
  await page.getByLabel('What to do').first().fill('Freeze the crumb')
  await choose(page, told.getByLabel(/^Beside the others/), /Dip to the shoulder/)
  await told.getByLabel(/^What to look for/).fill('hard all through')
  await press(told, /^prepare something/)
  await choose(page, told.getByLabel(/^What is done 1/), 'crush')
  await choose(page, told.getByLabel(/^To what 1/), 'Biscuit crumb')
  await save(page)

  // Cups with a stick and a white lid.
  await begin(page, 'drink bomb', 'Cups on a stick')
  await page.getByText('cup', { exact: true }).click()
  await pick(page, 'Shell', 'Milk 38%')
  await press(numbers, 'Close it with a lid')
  await typed(page, numbers.getByLabel('Cap', { exact: true }), 'White coating')
  await press(numbers, 'Set a stick in a dab')
  await page.getByRole('textbox', { name: 'Note of the treat' }).fill('Sticks are in the blue box')
  await save(page)

  // Truffles that are rolled in a bed.
  await begin(page, 'truffle', 'Rolled in seed')
  await choose(page, page.getByLabel('Skin'), 'dipped and rolled').catch(() =>
    page.getByText('dipped and rolled').click(),
  )
  await addition(page, onIt, 'Sesame seed', '2 g')
  await press(numbers, 'Roll in Sesame seed')
  await numbers.getByLabel('Sesame seed left to roll in', { exact: true }).fill('150 g')
  await save(page)

  // Loaves in foil: the rims are trimmed, and what comes off closes them.
  await begin(page, 'molded piece', 'Little loaves')
  await page.getByRole('textbox', { name: 'Cavity volume' }).fill('60 mL')
  await page.getByLabel('Shell, share of the cavity').fill('40')
  await press(numbers, 'Add a filling')
  await typed(page, numbers.getByLabel('Fill', { exact: true }), 'Nougat paste')
  await press(numbers, 'Trim the rim')
  await numbers.getByLabel('Trimmed off the rim', { exact: true }).fill('4 g')
  await save(page)

  // All of them for one customer: what it takes is summed by hand.
  const { treats } = (await (await page.request.get('/api/v1/treats')).json()) as {
    treats: { id: string; name: string }[]
  }
  const of = (name: string) => treats.find((t) => t.name === name)!.id
  const lines = ['Marbled bombs', 'Two blue shades', 'Cups on a stick', 'Rolled in seed', 'Little loaves'].map((t) => ({
    treat: of(t),
    count: 12,
  }))
  const order = await anOrder(page, 'Awkward Ann', 'Marbled bombs', 12, { lines })
  const draft = (await (await page.request.get(`/api/v1/orders/${order.id}`)).json()).draft
  const answer = await page.request.post('/api/v1/estimates', { data: { draft, order: order.id } })
  expect(answer.ok(), await answer.text()).toBe(true)
  const estimate = (await answer.json()) as { lines: { name: string; card: { needs: Need[]; start: number } }[] }
  const used = (treat: string, what: string) =>
    estimate.lines.find((l) => l.name === treat)!.card.needs.find((n) => n.name === what)?.used.amount ?? 0
  expect(estimate.lines.map((l) => l.card.start)).toEqual([12, 12, 12, 12, 12])
  // 12 shells of 51.52 g, 70% dark and 30% white, and 2% on the tools; four of each filling.
  expect(used('Marbled bombs', 'Dark 60%')).toBeCloseTo(12 * shell * 0.7 * 1.02, 1)
  expect(used('Marbled bombs', 'White coating')).toBeCloseTo(12 * shell * 0.3 * 1.02, 1)
  expect(used('Marbled bombs', 'Cardamom malt mix')).toBeCloseTo(4 * 10, 6)
  expect(used('Marbled bombs', 'Biscuit crumb')).toBeCloseTo(4 * 8, 6)
  expect(used('Marbled bombs', 'Sesame seed')).toBeCloseTo(4 * 6, 6)
  // 6 x 8 g and 2% in each shade: of the pale 2 parts to 100, of the deep 6; 12 x 3 g of crumb.
  const coat = 6 * 8 * 1.02
  const white = coat * (100 / 102) + coat * (100 / 106)
  expect(used('Two blue shades', 'White coating')).toBeCloseTo(white, 1)
  expect(used('Two blue shades', 'Biscuit crumb')).toBeCloseTo(36, 6)
  // The bowl is tinted as a whole: what is bought of the blue goes with all of it, and is charged in full.
  expect(used('Two blue shades', 'Blue powder')).toBeGreaterThan(coat * 2 * 0.02)
  // 12 x 2 g of seed stick; 150 g more lie there and come back.
  expect(used('Rolled in seed', 'Sesame seed')).toBeCloseTo(24, 6)
  // A loaf of 60 mL is 78 g of chocolate where it is solid: 40% of it shell and 10% cap, 2% of both on the tools; 4 g of
  // each shell are trimmed off and go back.
  expect(used('Little loaves', 'Dark 60%')).toBeCloseTo(12 * (78 * 0.5 * 1.02 - 4), 1)

  // Promised together, their work stands on the run sheets, by design and by piece, with what is noted.
  await move(page, order.id, 'promised')
  const text = await runSheets(page, order.id)
  expect(text('Marbled bombs')).toContain('Crumb, 4 of them: 1 1/2 tbsp Biscuit crumb in each')
  expect(text('Two blue shades')).toMatch(/Freeze the crumb \| Crush .* Biscuit crumb \| hard all through/)
  expect(text('Two blue shades')).toContain('seal the foot')
  expect(text('Cups on a stick')).toContain('Set each stick in a dab of chocolate')
  expect(text('Cups on a stick')).toContain('Sticks are in the blue box')
  expect(text('Rolled in seed')).toMatch(/Sesame seed to roll in: .* of it sticks, .* comes back/)
  expect(text('Little loaves')).toContain('rims level')

  // What is not in the house stands on the shopping list: the blue, which was made up here.
  const list = (await (await page.request.get('/api/v1/shopping-list')).json()) as object
  expect(JSON.stringify(list)).toContain('Blue powder')
})

test('a treat as a recipe says it: what is said becomes its numbers, and what was typed stays', async ({ page }) => {
  await page.goto('/treats')
  await page.getByRole('link', { name: 'Nougat cubes' }).first().click()
  await page.getByLabel('Loss', { exact: true }).fill('7')
  await page.getByText('As a recipe says it…').click()
  await page.getByLabel('Chocolate of the shells').fill('300 g')
  await page.getByLabel('So many', { exact: true }).fill('15')
  await page.getByRole('button', { name: 'Use it' }).click()
  // 300 g in 15 cavities at 1.30 g/mL are 15.38 mL each: solid, with neither filling nor cap.
  await expect(page.getByRole('textbox', { name: 'Cavity volume' })).toHaveValue('15.38 mL')
  await expect(page.getByText(/^Given: .* fills 15\. So a cavity holds/)).toBeVisible()
  await expect(page.getByRole('button', { name: 'Add a filling' })).toBeVisible()
  await expect(page.getByLabel('Cap', { exact: true })).toBeHidden()
  await expect(page.getByLabel('Loss', { exact: true })).toHaveValue(/^7/)
})
