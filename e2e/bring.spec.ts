import { beside, expect, test } from './help'

test('customers and a price list are brought along: columns matched, used in an order, and taken back', async ({
  page,
}) => {
  await page.goto('/kitchen')
  await page.getByRole('link', { name: 'Bring your customers and prices' }).click()
  await page.locator('input[type=file]').setInputFiles({
    name: 'people.csv',
    mimeType: 'text/csv',
    buffer: Buffer.from('Who;Number;Mail\nOona Reyes;555 0144;oona@reyes.example\nOdd;;nowhere\n'),
  })
  // One head is not understood: a person says which column it is.
  await expect(page.getByText('There is no name in this row.').first()).toBeVisible()
  await page.getByLabel('Name', { exact: true }).click()
  await page.locator('.ant-select-dropdown:visible').getByText('Who', { exact: true }).click()
  await expect(page.getByRole('cell', { name: 'Oona Reyes' })).toBeVisible()
  await expect(page.locator('.ant-select-dropdown:visible')).toHaveCount(0)
  await page.getByLabel('Phone', { exact: true }).click()
  await page.locator('.ant-select-dropdown:visible').last().getByText('Number', { exact: true }).click()
  await expect(page.getByRole('cell', { name: 'Oona Reyes' })).toBeVisible()
  await expect(page.getByRole('alert')).toContainText('“nowhere” is not an email address')
  await page.getByRole('button', { name: 'Add 1 customer' }).click()
  await expect(page.getByText('1 customer added.')).toBeVisible()

  await page.getByText('Price list', { exact: true }).click()
  await page.getByLabel('or paste it here').fill('Item,Price,Per\nMilk bombs,48.00,dozen\nUnicorn cake,90,each\n')
  await expect(page.getByRole('row', { name: /Milk bombs/ })).toContainText('Milk malt bombs')
  await expect(page.getByRole('row', { name: /Unicorn cake/ })).toContainText('leave out')
  await page.getByRole('button', { name: 'Use 1 price' }).click()
  await expect(page.getByText('1 price is in your price list.')).toBeVisible()

  // The customer is offered while one types, with how to reach them; the list's price is one touch.
  await page.goto('/orders/new')
  await page.getByLabel('Customer').fill('oona')
  await page.getByText('555 0144').click()
  await expect(page.getByLabel('Customer')).toHaveValue('Oona Reyes')
  await expect(page.getByLabel('Phone')).toHaveValue('555 0144')
  await page.getByLabel('Add a treat', { exact: true }).fill('Milk malt')
  await page.keyboard.press('Enter')
  await page.getByLabel('Count of Milk malt bombs').fill('6')
  await expect(page.getByText('Your price list: $24.00')).toBeVisible()
  await page.getByText('Your price list').getByRole('button', { name: 'Use it' }).click()
  await expect(page.getByText('Your price list')).toBeHidden() // the price is the list’s now
  await expect(beside(page).locator('.big')).toHaveText('$24.00')

  // The file of customers is taken back; the order keeps whom it is for.
  await page.goto('/bring')
  await page.getByLabel('or paste it here').fill('Name\nTemporary Guest\n')
  await page.getByRole('button', { name: 'Add 1 customer' }).click()
  await page.locator('.ant-message').getByRole('button', { name: 'Undo' }).click()
  const known = async () => (await (await page.request.get('/api/v1/customers?find=temporary')).json()).customers.length
  await expect.poll(known).toBe(0)
})
