import { AxeBuilder } from '@axe-core/playwright'
import { anOrder, expect, pick, test } from './help'

test('what customers are told: set in the seller’s words, written, undone, sent, and what did not arrive', async ({
  page,
}) => {
  await page.goto('/orders')
  await page.getByRole('link', { name: 'Messages' }).click()
  await expect(page.getByRole('article', { name: 'Thank you' })).toContainText('I hope it was just right.')

  // Wrong words are refused where they stand; right ones are read beside as a customer would.
  await page.getByRole('link', { name: 'What is told' }).click()
  await page.getByRole('button', { name: 'Ready to pick up' }).click()
  await page.getByRole('switch', { name: 'Tell: Ready to pick up' }).click()
  const body = page.getByLabel('Message', { exact: true }).first()
  await body.fill('Come and get {it}, {customer}.')
  await expect(page.getByRole('alert').filter({ hasText: '{it} stands for nothing here' })).toBeVisible()
  await page.getByRole('button', { name: 'Save', exact: true }).click()
  await expect(page.getByRole('alert').filter({ hasText: '{it} stands for nothing here' })).toHaveCount(2)
  await body.fill('Come and get ')
  await body.press('End')
  await page.getByRole('button', { name: 'treats', exact: true }).click()
  await expect(body).toHaveValue('Come and get {treats}')
  await expect(page.getByRole('complementary', { name: 'Message' })).toContainText(/Come and get \d+ /)
  const broken = await new AxeBuilder({ page }).analyze()
  expect(broken.violations.map((v) => `${v.id}: ${v.nodes.map((n) => n.html).join(' ')}`)).toEqual([])
  await page.getByRole('button', { name: 'Save', exact: true }).click()
  await expect(page.getByText('Saved.')).toBeVisible()
  await page.reload()
  await page.getByRole('button', { name: 'Ready to pick up' }).click()
  await expect(body).toHaveValue('Come and get {treats}')

  // By hand, about an order: it waits a minute, and can be undone or sent at once.
  const { id } = await anOrder(page, 'Ada Quill', 'Milk malt bombs', 6, { phone: '555 0190' })
  await page.goto(`/orders/${id}`)
  const told = page.getByRole('list', { name: 'Messages' })
  await page.getByRole('button', { name: 'Write a message' }).click()
  const sheet = page.getByRole('dialog', { name: 'A message to Ada Quill' })
  await sheet.getByRole('button', { name: 'Put into the outbox' }).click()
  await expect(sheet.getByRole('alert')).toContainText('no email address')
  await pick(page, 'About', 'Ready to pick up')
  await expect(sheet.getByLabel('Message', { exact: true })).toHaveValue('Come and get 6 Milk malt bombs')
  await sheet.getByText('5550190').click()
  await sheet.getByRole('button', { name: 'Put into the outbox' }).click()
  await expect(told.getByRole('listitem')).toContainText('Leaves Thu 3 Sep, 10:21 am')
  await page.getByRole('button', { name: 'Undo' }).first().click()
  await expect(told.getByRole('listitem')).toContainText('Undone')
  await page.goto('/messages')
  await page.getByRole('button', { name: /Ada Quill/ }).click()
  const letter = page.getByRole('article')
  await letter.getByRole('button', { name: 'Send it' }).click()
  await expect(page.getByText('1 message has not left yet')).toBeVisible()
  await expect(page.getByRole('link', { name: '1 message waits' })).toBeVisible() // on the lid
  await letter.getByRole('button', { name: 'Send now' }).click()
  await expect(letter.getByText('Sent Thu 3 Sep, 10:20 am')).toBeVisible()
  await expect(letter).toContainText('In the demo it went nowhere.')

  // What a mail server refuses says why; what it broke off is unsure, and stays so until a person decides.
  for (const [address, state, why] of [
    ['ada@nobody.example', 'Not delivered', 'no such mailbox'],
    ['ada@lost.example', 'Unsure', 'EOF'],
  ] as const) {
    await page.goto(`/orders/${id}`)
    await page.getByRole('textbox', { name: 'Mail' }).fill(address)
    await page.getByRole('textbox', { name: 'Mail' }).press('Tab')
    await expect(page.getByText('Saved', { exact: false }).first()).toBeVisible()
    await page.getByRole('button', { name: 'Write a message' }).click()
    await expect(sheet.getByText(address)).toBeVisible()
    await sheet.getByRole('button', { name: 'Put into the outbox' }).click()
    await told.getByRole('button', { name: 'Send now' }).click()
    await expect(told.getByRole('listitem').first()).toContainText(state)
    await expect(told.getByRole('listitem').first()).toContainText(why)
  }
  await page.goto('/messages')
  await page.getByRole('button', { name: /Ada Quill.*Unsure/ }).click()
  await expect(letter.getByRole('button', { name: 'Send again: it may arrive twice' })).toBeVisible()
  await letter.getByRole('button', { name: 'It has arrived' }).click()
  await expect(letter.getByText('Sent Thu 3 Sep')).toBeVisible()
})

test('who says stop by a reply is noted by hand, and is written to no more', async ({ page }) => {
  const { id } = await anOrder(page, 'Stan Stopp', 'Milk malt bombs', 6, { phone: '555 0111' })
  const again = await anOrder(page, 'Stan Stopp', 'Milk malt bombs', 3, { phone: '555 0111' })
  await page.goto(`/orders/${id}`)
  await page.getByRole('button', { name: 'They want no messages' }).click()
  const sheet = page.getByRole('dialog', { name: 'No more messages to Stan Stopp' })
  await expect(sheet).toContainText('It cannot be taken back')
  await sheet.getByRole('button', { name: 'No more messages' }).click()
  await expect(page.getByRole('button', { name: 'Write a message' })).toHaveCount(0)
  await page.goto(`/orders/${again.id}`)
  await expect(page.getByRole('heading', { name: 'Stan Stopp' })).toBeVisible()
  await expect(page.getByRole('button', { name: 'Write a message' })).toHaveCount(0)
})
