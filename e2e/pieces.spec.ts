import { anOrder, expect, move, test } from './help'

test('a piece that broke is one touch; too few are told, made again, or the order is changed', async ({ page }) => {
  const { id } = await anOrder(page, 'Too Few', 'Milk malt bombs', 12)
  await move(page, id, 'promised')
  const order = async () => (await page.request.get(`/api/v1/orders/${id}`)).json()
  await page.goto(`/bench/${(await order()).days[0].day}`)
  const now = page.getByRole('article', { name: 'Current step' })
  await expect(now).toContainText('Too Few')
  const broke = now.getByRole('button', { name: /^One broke at/ })
  const told = page.getByRole('alert').filter({ hasText: 'Milk malt bombs are good' })
  // Two are begun beside the twelve.
  for (const n of [1, 2, 3, 4]) {
    await broke.click()
    await expect(now).toContainText(`${n} broken`)
  }
  await expect(told).toContainText('Only 10 of 12 Milk malt bombs are good for Too Few')
  await page.locator('.ant-message').getByRole('button', { name: 'Undo' }).last().click()
  await expect(now).toContainText('3 broken')
  await broke.focus()
  await page.keyboard.press('Enter')
  await expect(told).toContainText('Only 10 of 12')

  // It is not offered to pack ten of twelve.
  await now.getByRole('button', { name: 'Done' }).click()
  await expect(page.locator('.ant-message').getByText(/^Done: /)).toBeVisible()
  await page.goto('/handover')
  const card = page.getByRole('listitem', { name: /^Too Few/ })
  await expect(card).toContainText('Only 10 of 12')
  await expect(card.getByRole('button', { name: 'Packed' })).toHaveCount(0)

  // The customer takes eleven of them for less; then all is as it was, and two more are made.
  await page.goto(`/orders/${id}`)
  const main = page.getByRole('main')
  await expect(main.getByText('Only 10 of 12 Milk malt bombs are good')).toBeVisible()
  await main.getByRole('button', { name: 'Change the order' }).click()
  const sheet = page.getByRole('dialog', { name: 'Milk malt bombs for Too Few' })
  await expect(sheet.getByLabel('Pieces to hand over')).toHaveValue('10')
  await sheet.getByLabel('New price of the order').fill('lots')
  await sheet.getByRole('button', { name: 'Save change' }).click()
  await expect(sheet.getByRole('alert')).toContainText('“lots” is not an amount of money')
  await sheet.getByLabel('New price of the order').fill('21')
  await sheet.getByRole('button', { name: 'Save change' }).click()
  await expect(sheet).toBeHidden()
  await expect.poll(async () => (await order()).agreed.amount).toBe('21.00')
  await expect(main.getByText('Only 10 of 12')).toBeHidden()
  await page.locator('.ant-message').filter({ hasText: 'is changed' }).getByRole('button', { name: 'Undo' }).click()
  await main.getByRole('button', { name: 'Make 2 more' }).click()
  await expect(page.locator('.ant-message')).toContainText('2 more Milk malt bombs are in the plan.')
  await expect(main.getByText('Only 10 of 12')).toBeHidden()
  expect((await order()).days).toHaveLength(2)
  await page.goto('/handover')
  await expect(card.getByRole('button', { name: 'Packed' })).toBeVisible()
})
