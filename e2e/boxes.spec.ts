import { anOrder, beside, expect, test } from './help'

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
