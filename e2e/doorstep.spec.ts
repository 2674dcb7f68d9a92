import { anOrder, expect, move, test } from './help'

// In a doorway, with a phone and a box; and at the counter.
test('work on the bench, pack and hand over on a phone', async ({ page }, info) => {
  const customer = `Doorstep ${info.project.name}`
  const { id } = await anOrder(page, customer, 'Apricots in lake blue', 12, {
    from: '2026-09-16T16:00:00Z',
    to: '2026-09-16T17:00:00Z',
    phone: '555 0190',
  })
  await move(page, id, 'promised')
  const day = (await (await page.request.get(`/api/v1/orders/${id}`)).json()).days[0].day
  await page.goto(`/bench/${day}`)
  const now = page.getByRole('article', { name: 'Current step' })
  const done = now.getByRole('button', { name: 'Done' })
  const box = (await done.boundingBox())!
  expect(box.height).toBeGreaterThanOrEqual(56)
  expect(box.width).toBeGreaterThanOrEqual(56)
  const open = page.getByRole('checkbox', { checked: false, name: /: done$/ })
  for (let left = await open.count(); left > 0; left--) {
    await done.click()
    await expect(open).toHaveCount(left - 1)
  }
  await page.getByRole('link', { name: 'Go to handovers' }).click()
  const card = page.getByRole('listitem', { name: new RegExp(customer) })
  await expect(card.getByRole('link', { name: '555 0190' })).toHaveAttribute('href', 'tel:5550190')
  await card.getByRole('button', { name: 'Packed' }).click()
  await card.getByRole('button', { name: 'Mark as handed over' }).click()
  await page.getByRole('button', { name: 'Hand over, pay later' }).click()
  await expect(card).toBeHidden()
  // The last word may stand beside one of the bench.
  const said = page.locator('.ant-message').filter({ hasText: 'handed over.' })
  await said.getByRole('button', { name: 'Undo' }).last().click()
  await expect(card).toContainText('packed')
  await card.getByRole('button', { name: 'Mark as handed over' }).click()
  await page.getByRole('button', { name: 'Record payment and hand over' }).click()
  await expect(card).toBeHidden()
})
