import { anOrder, beside, expect, move, test } from './help'

test('a box is measured, an order is drawn in it, and packed in another', async ({ page }) => {
  await page.goto('/larder')
  await page.getByRole('button', { name: 'Add packaging' }).click()
  await page.getByLabel('Name').fill('Flat boxes')
  await page.getByLabel('In stock').fill('30 each')
  await page.getByLabel('In packing it is').click()
  await page.locator('.ant-select-item-option:visible', { hasText: 'a box' }).first().click()
  await page.getByLabel('Inside, length').fill('0 in')
  await page.getByRole('button', { name: 'Save', exact: true }).click()
  await expect(page.getByText('The amount must be more than 0.')).toBeVisible()
  await page.getByLabel('Inside, length').fill('30 cm')
  await page.getByLabel('Inside, width').fill('16 cm')
  await page.getByLabel('Inside, height').fill('50 mm')
  await page.getByRole('button', { name: 'Save', exact: true }).click()
  await expect(page.getByRole('button', { name: /Flat boxes/ }).first()).toBeVisible()

  const order = await anOrder(page, 'Box Board', 'Strawberries with white lines', 24)
  await page.goto(`/orders/${order.id}`)
  const boxes = beside(page)
  await expect(boxes.getByText(/12 to a box in 3 rows: Boxes for 12/)).toBeVisible()
  const drawn = boxes.getByRole('img', { name: /12 pieces in Boxes for 12/ })
  // To scale: 254 by 178 mm, with the board of 4 mm around them.
  await expect(drawn.locator('.box-inside').first()).toHaveAttribute('width', '254')
  await expect(drawn.locator('.cup')).toHaveCount(12)
  await boxes.getByText('Other boxes').click()
  const saved = page.waitForResponse((r) => r.request().method() === 'PUT' && r.url().includes(order.id))
  await boxes.locator('.box-choice', { hasText: 'Flat boxes' }).getByRole('button', { name: 'Use these' }).click()
  await expect(boxes.getByRole('img', { name: /in Flat boxes/ })).toBeVisible()
  expect((await saved).status()).toBe(200)
  await page.reload()
  await expect(boxes.getByRole('img', { name: /in Flat boxes/ })).toBeVisible()
  await boxes.getByRole('button', { name: 'Pack as the treat says' }).click()
  await expect(boxes.getByText(/Boxes for 12/).first()).toBeVisible()
})

test('each guest gets one of each, in a box of their own', async ({ page }) => {
  await page.goto('/orders')
  const { treats } = await (await page.request.get('/api/v1/treats')).json()
  const id = (name: string) => treats.find((t: { name: string }) => t.name === name).id as string
  const order = await anOrder(page, 'Favour Fenn', 'Bergamot truffles', 24, {
    lines: [
      { treat: id('Bergamot truffles'), count: 24 },
      { treat: id('Nougat cubes'), count: 24 },
    ],
  })
  await page.goto(`/orders/${order.id}`)
  const aside = beside(page)
  await aside.getByRole('button', { name: 'Pack several treats together…' }).click()
  await expect(aside.getByRole('img', { name: /^2 pieces in Boxes for 12/ })).toBeVisible()
  await expect(aside.getByText('24 boxes: Boxes for 12')).toBeVisible()
  // More than there are is refused at once, by its sentence.
  await aside.getByLabel('Nougat cubes in mixed box 1').fill('2')
  await expect(aside.getByText('The boxes take 48 of it, and 24 are ordered.').first()).toBeVisible()
  const saved = page.waitForResponse((r) => r.request().method() === 'PUT' && r.url().includes(order.id) && r.ok())
  await aside.getByLabel('How many of mixed box 1').fill('12')
  await expect(aside.getByRole('img', { name: /^3 pieces in Boxes for 12/ })).toBeVisible()
  await saved
  // Twelve truffles are left for a box of their own: 13 boxes in all.
  await page.goto(`/handover/${order.id}`)
  await expect(page.getByRole('region', { name: 'Pack list' })).toContainText('13 Boxes for 12')
  await page.goto(`/orders/${order.id}`)
  await aside.getByRole('button', { name: 'Do without mixed box 1' }).click()
  await expect(aside.getByRole('img', { name: /^3 pieces/ })).toHaveCount(0)
})

test('a box for each guest of a list, with its lid and shred, which are bought in time', async ({ page }) => {
  const add = async (name: string, more: object) => {
    const stock = { amount: 0, unit: 'each' }
    const body = { name, stock, paid: '5.00', paidFor: { amount: 50, unit: 'each' }, ...more }
    const made = await page.request.post('/api/v1/supplies', { data: body, headers: { 'Idempotency-Key': name } })
    expect(made.status()).toBe(201)
  }
  await add('Clear lids', {})
  const shred = { stock: { amount: 100, unit: 'g' }, paidFor: { amount: 1, unit: 'kg' } }
  await add('Paper shred', shred)
  const box = { length: { amount: 8, unit: 'cm' }, width: { amount: 8, unit: 'cm' }, height: { amount: 2, unit: 'cm' } }
  await add('Favour boxes', { inside: box, stock: { amount: 60, unit: 'each' } })
  await page.goto('/larder')
  await page
    .getByRole('button', { name: /Favour boxes/ })
    .first()
    .click()
  await page.getByRole('button', { name: 'Edit', exact: true }).click()
  await page.getByRole('combobox', { name: 'Lid' }).click()
  await page.locator('.ant-select-item-option:visible', { hasText: 'leaves room' }).click()
  await page.getByRole('textbox', { name: 'Room above the sides' }).fill('15 mm')
  for (const [n, what, amount] of [
    [1, 'Clear lids', '1 each'],
    [2, 'Paper shred', '6 g'],
  ] as const) {
    await page.getByRole('button', { name: 'Add a lid, shred, ribbon, card…' }).click()
    await page.getByRole('combobox', { name: `Goes with each: thing ${n}` }).click()
    await page.locator('.ant-select-item-option:visible', { hasText: what }).click()
    await page.getByRole('textbox', { name: `How much of thing ${n}` }).fill(amount)
  }
  await page.getByRole('button', { name: 'Save', exact: true }).click()
  await expect(page.getByRole('dialog')).toHaveCount(0)

  const { treats } = await (await page.request.get('/api/v1/treats')).json()
  const id = (name: string) => treats.find((t: { name: string }) => t.name === name).id as string
  const lines = ['Bergamot truffles', 'Nougat cubes'].map((name) => ({ treat: id(name), count: 12 }))
  const order = await anOrder(page, 'Guest Gale', 'Nougat cubes', 12, {
    lines,
    from: '2026-09-26T15:00:00Z',
    to: '2026-09-26T16:00:00Z',
  })
  await page.goto(`/orders/${order.id}`)
  const aside = beside(page)
  await aside.getByText('A box for each guest of a list').click()
  await aside.getByRole('textbox', { name: 'Guests' }).fill('Ana Quay\nBo Hill\nCy Lake\nDi Moss')
  await aside.getByRole('button', { name: 'A box for each of 4 guests' }).click()
  await aside.getByRole('combobox', { name: 'Box of mixed box 1' }).click()
  await page.locator('.ant-select-item-option:visible', { hasText: 'Favour boxes' }).click()
  await expect(aside.getByText('4 boxes: Favour boxes')).toBeVisible()
  // Twelve of each do not lie in it: it is said how many would, and they are taken with one touch.
  await aside.getByLabel('Nougat cubes in mixed box 1').fill('3')
  await aside.getByLabel('Bergamot truffles in mixed box 1').fill('3')
  await expect(aside.getByText(/Bergamot truffles, .* Nougat cubes would fit/)).toBeVisible()
  await aside.getByRole('button', { name: 'Pack so many' }).click()
  await expect(aside.getByText('4 boxes: Favour boxes')).toBeVisible()
  await aside.getByLabel('Nougat cubes in mixed box 1').fill('1')
  await aside.getByLabel('Bergamot truffles in mixed box 1').fill('1')
  // Sixteen guests are more than the twelve pieces that were ordered: the lines follow.
  const list = Array.from({ length: 16 }, (_, i) => `Guest ${i + 1}, ${(i % 2) + 1}`).join('\n')
  await aside.getByRole('textbox', { name: 'Guests' }).fill(`Name, Table\n${list}`)
  await expect(aside.getByText('16 guests at 2 tables: 1 (8), 2 (8)')).toBeVisible()
  const saved = page.waitForResponse((r) => r.request().method() === 'PUT' && r.url().includes(order.id) && r.ok())
  await aside.getByRole('button', { name: 'A box for each of 16 guests' }).click()
  await expect(page.getByLabel('How many').first()).toHaveValue('16')
  await saved
  await page.goto(`/handover/${order.id}`)
  const slip = page.getByRole('region', { name: 'Pack list' })
  await expect(slip).toContainText('16 Favour boxes')
  await expect(slip).toContainText('16 Clear lids')
  await expect(slip).toContainText(/(96 g|3.4 oz) Paper shred/)
  // The list is there for the tags, and agrees with the boxes.
  await expect(page.getByText('16 guests at 2 tables')).toBeVisible()
  await expect(page.getByText(/mixed boxes for/)).toHaveCount(0)
  // Once it is confirmed, what is short is bought in time.
  await move(page, order.id, 'promised')
  const bought = await page.request.get('/api/v1/shopping-list?from=2026-09-03&to=2026-09-30')
  expect(await bought.text()).toContain('Clear lids')
})
