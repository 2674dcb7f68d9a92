import { readFileSync } from 'node:fs'
import ICAL from 'ical.js'
import { anOrder, expect, pick, test } from './help'

test('a customer: what they always want, the same again, a double that is one, and forgotten', async ({ page }) => {
  await anOrder(page, 'Wrenn family', 'Milk malt bombs', 6, { phone: '555 0190' })
  await page.goto('/orders')
  await page.getByRole('link', { name: 'Customers' }).click()
  await expect(page.getByRole('heading', { name: 'Customers' })).toBeVisible()
  await page.getByLabel('Find a customer').fill('wren')
  await page.getByRole('link', { name: /^Wren family 1 order/ }).click()
  const wren = page.getByRole('region', { name: 'Wren family' })
  await expect(wren.getByText('$40.00')).toBeVisible() // the deposit
  await expect(wren.getByText('36 Strawberries with white lines')).toBeVisible()

  // A daughter who must not have sesame: whatever they order starts with it.
  await wren.getByRole('combobox', { name: 'What they always want' }).fill('sesame')
  await page.locator('.ant-select-item-option:visible', { hasText: 'sesame' }).click()
  await page.keyboard.press('Escape')
  await wren.getByLabel('Notes').fill('Daughter is allergic to sesame.')
  await wren.getByLabel('Email').fill('nowhere')
  await wren.getByRole('button', { name: 'Save' }).click()
  await expect(wren.getByText('is not an email address')).toBeVisible()
  await wren.getByLabel('Email').fill('wrens@hill.example')
  await wren.getByRole('button', { name: 'Save' }).click()
  await expect(page.getByText('Wren family: saved.')).toBeVisible()
  await wren.getByRole('button', { name: 'Order the same again' }).click()
  await expect(page.getByLabel('Customer', { exact: true })).toHaveValue('Wren family')
  await expect(page.getByLabel('Count of Strawberries with white lines')).toHaveValue('36')
  await expect(page.getByRole('button', { name: '✓ sesame' })).toHaveAttribute('aria-pressed', 'true')
  await expect(page).toHaveURL(/orders\/(?!new)/) // it is saved as it stands

  // The other Wrens are the same.
  await page.goto('/customers/Wrenn%20family')
  const double = page.getByRole('region', { name: 'Wrenn family' })
  await double.getByRole('button', { name: 'Merge with somebody' }).click()
  await pick(page, 'Merge into', 'Wren family')
  await double.getByRole('button', { name: 'Merge', exact: true }).click()
  await expect(wren.getByRole('listitem')).toHaveCount(3)
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(double.getByRole('listitem')).toHaveCount(1)

  // As cards, read by another program.
  const [file] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('link', { name: 'All as vCards' }).click(),
  ])
  const cards = ICAL.parse(readFileSync((await file.path())!, 'utf8')) as [string, [string, object, string, string][]][]
  const card = cards.find(([, fields]) => fields.some((f) => f[0] === 'fn' && f[3] === 'Wren family'))!
  expect(card[0]).toBe('vcard')
  expect(card[1].find((f) => f[0] === 'email')![3]).toBe('wrens@hill.example')
  expect(card[1].find((f) => f[0] === 'note')![3]).toContain('Daughter is allergic to sesame.')
  await page.setInputFiles('input[type=file]', {
    name: 'people.vcf',
    mimeType: 'text/vcard',
    buffer: Buffer.from('BEGIN:VCARD\r\nVERSION:3.0\r\nFN:Ana Quay\r\nTEL:555 0111\r\nEND:VCARD\r\n'),
  })
  await expect(page.getByText('1 customer added.')).toBeVisible()
  await expect(page.getByRole('link', { name: /^Ana Quay/ })).toBeVisible()

  // Somebody wants to be forgotten.
  await page.getByRole('link', { name: /^Wrenn family/ }).click()
  await double.getByRole('button', { name: 'Forget this customer' }).click()
  await double.getByRole('button', { name: 'Delete their data for good' }).click()
  await expect(page.getByText('Forgotten.')).toBeVisible()
  await expect(page.getByRole('link', { name: /^Wrenn family/ })).toHaveCount(0)
  await page.goto('/customers/Wrenn%20family')
  await expect(page.getByText('There is no such customer')).toBeVisible()
})

test('an invoice is written, taken back, and written anew', async ({ page }) => {
  const { orders } = await (await page.request.get('/api/v1/orders')).json()
  const id = orders.find((o: { customer: string }) => o.customer === 'Science night').id
  await page.goto(`/orders/${id}`)
  await page.getByRole('button', { name: 'Write an invoice' }).click()
  const list = page.getByRole('list', { name: 'Invoices' })
  const [file] = await Promise.all([
    page.waitForEvent('download'),
    list.getByRole('link', { name: 'Invoice 1' }).click(),
  ])
  const pdf = readFileSync((await file.path())!)
  expect(pdf.subarray(0, 5).toString()).toBe('%PDF-')
  await list.getByRole('button', { name: 'Credit note' }).click()
  await expect(list.getByRole('link', { name: 'Credit note 2 for invoice 1' })).toBeVisible()
  await page.getByRole('button', { name: 'Write an invoice' }).click()
  await expect(list.getByRole('link', { name: 'Invoice 3' })).toBeVisible()
  // A limit of the year's sales stands in the till.
  await page.goto('/kitchen')
  await page.getByLabel('Most you may sell in a year').fill('500')
  await page.getByRole('button', { name: 'Save', exact: true }).click()
  await expect(page.getByText('Saved', { exact: false }).first()).toBeVisible()
  await page.goto('/till')
  await expect(page.getByRole('region', { name: '2026 against your limit' })).toContainText('of $500.00.')
})
