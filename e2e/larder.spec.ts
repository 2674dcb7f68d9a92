import { anIngredient, beside, expect, move, numbersOf, test } from './help'

test('an ingredient: its measures, diets and allergens, what it is used in, and a measure used at once', async ({
  page,
}) => {
  await page.goto('/larder')
  await expect(page.getByRole('heading', { name: 'Fruit and nuts' })).toBeVisible()
  await numbersOf(page, /^Walnuts, chopped/)
  const sheet = page.getByRole('dialog', { name: 'Walnuts, chopped' })
  await expect(sheet.getByText('Used in Walnut fudge')).toBeVisible()
  await sheet.getByRole('button', { name: 'Add a measure' }).click()
  await sheet.getByLabel('Name of the measure').fill('cup')
  await sheet.getByLabel(/^Weight of a cup/).fill('120')
  await sheet.getByRole('button', { name: 'Save' }).click()
  await expect(sheet.getByText('“cup” is a unit already: choose another name.')).toBeVisible()
  await sheet.getByLabel('Name of the measure').fill('scoop')
  await sheet.getByLabel(/^Usable share/).fill('0')
  await sheet.getByRole('button', { name: 'Save' }).click()
  await expect(sheet.getByText('The share that is fit to use is more than 0')).toBeVisible()
  await sheet.getByLabel(/^Usable share/).fill('100')
  await sheet.getByRole('button', { name: 'Save' }).click()
  await expect(sheet).toBeHidden()
  // Along "used in" to the mix, where the scoop is understood.
  await page.getByRole('button', { name: 'Edit', exact: true }).click()
  await page.getByRole('dialog').getByRole('link', { name: 'Walnut fudge' }).click()
  await expect(page.getByLabel('Name of the mix')).toHaveValue('Walnut fudge')
  const before = await beside(page).locator('.big').textContent()
  await page.getByRole('textbox', { name: 'Amount of Walnuts, chopped' }).fill('3 scoops')
  await expect(beside(page).getByText('12 3/4 oz')).toBeVisible()
  await expect(beside(page).locator('.big')).not.toHaveText(before!)
  // Left without saving, it waits on this device; discarded, nothing of it stays.
  await page.waitForTimeout(400)
  await page.goto('/treats')
  await page
    .getByRole('main')
    .getByRole('link', { name: /^Walnut fudge/ })
    .click()
  await page.getByRole('button', { name: 'Discard it' }).click()
  await expect(beside(page).locator('.big')).toHaveText(before!)
})

test('soft ball follows the kitchen: by its height, and better by the seller’s own thermometer', async ({ page }) => {
  const fudge = async () => {
    await page.goto('/treats')
    await page.getByRole('link', { name: /^Brown-butter walnut fudge/ }).click()
    return beside(page)
  }
  await expect((await fudge()).getByText('Boil to soft ball, 234 to 239 °F (112 to 115 °C)').first()).toBeVisible()
  await page.goto('/kitchen')
  await page.getByLabel(/^Altitude/).fill('5279') // feet: 1609 m
  await page.getByRole('button', { name: 'Save' }).click()
  await expect(page.getByText(/saved/i)).toBeVisible()
  // Rules 4.6: water boils at 94.6 C at 1609 m, so 5.4 C less.
  await expect((await fudge()).getByText('Boil to soft ball, 224 to 229 °F (106.6 to 109.6 °C)').first()).toBeVisible()
  await page.goto('/kitchen')
  await page.getByLabel(/^My thermometer in boiling water shows/).fill('210.2') // 99 °C
  await page.getByLabel(/^Altitude/).fill('0')
  await page.getByRole('button', { name: 'Save' }).click()
  await expect(page.getByText(/saved/i)).toBeVisible()
  await expect((await fudge()).getByText('(111 to 114 °C)').first()).toBeVisible()
  await page.goto('/kitchen')
  await page.getByLabel(/^My thermometer in boiling water shows/).fill('')
  await page.getByRole('button', { name: 'Save' }).click()
  await expect(page.getByText(/saved/i)).toBeVisible()
})

test('the order of a new family is reckoned, promised and read out on the bench', async ({ page }) => {
  await page.goto('/orders/new')
  await page.getByLabel('Customer').fill('Fudge Fair')
  await page.getByLabel('Add a treat').fill('Brown-butter')
  await page.keyboard.press('Enter')
  const side = beside(page)
  await expect(side.getByRole('button', { name: 'start 14' })).toBeVisible()
  await expect(side.getByText('1 pan')).toBeVisible()
  await expect(side.locator('.part', { hasText: 'Ingredients' }).getByText('Granulated sugar')).toBeVisible()
  await expect(side.getByText(/It fits\. Brown-butter walnut fudge/)).toBeVisible()
  await expect(side.getByText('Boiling sugar sticks and burns')).toBeVisible()
  await page.getByRole('button', { name: 'Confirm order' }).click()
  await expect(page.getByRole('status').filter({ hasText: '· confirmed' })).toBeVisible()
  // The bench of the day that it got says how far to boil it, and what goes into the mix.
  const { orders } = await (await page.request.get('/api/v1/orders')).json()
  const id = orders.find((o: { customer: string }) => o.customer === 'Fudge Fair').id
  const { days } = await (await page.request.get(`/api/v1/orders/${id}`)).json()
  await page.goto(`/bench/${days[0].day}`)
  const boil = page.locator('.run-sheet li', { hasText: 'Boil to soft ball without stirring' })
  await expect(boil).toContainText('(112 to 115 °C)')
  await expect(boil).toContainText('Walnut fudge (')
  await move(page, id, 'cancelled') // the day is free again for the tests to come
})

test('an ingredient cannot lose what its treats need of it, and the form keeps what was typed', async ({ page }) => {
  await page.goto('/larder')
  await numbersOf(page, /^Cardamom malt mix/)
  const sheet = page.getByRole('dialog', { name: 'Cardamom malt mix' })
  await sheet.getByRole('spinbutton', { name: 'Weight per milliliter' }).fill('')
  await sheet.getByLabel('Last paid').fill('10.40')
  await sheet.getByRole('button', { name: 'Save' }).click()
  await expect(sheet.getByRole('alert')).toContainText(
    'With this change Cardamom-malt bombs could not be made any more',
  )
  await expect(sheet.getByLabel('Last paid')).toHaveValue('10.40')
  await sheet.getByRole('spinbutton', { name: 'Weight per milliliter' }).fill('0.75')
  await sheet.getByRole('button', { name: 'Save' }).click()
  await expect(sheet).toBeHidden()
})

test('the own temperatures of a chocolate begin as those of its colour', async ({ page }) => {
  await page.goto('/larder')
  await numbersOf(page, /^Milk 38%/)
  const sheet = page.getByRole('dialog')
  await sheet.getByRole('button', { name: 'Add the maker’s temperatures' }).click()
  // Milk is worked at 29 to 30 °C (rules 3.2).
  await expect(sheet.getByLabel('work from, C')).toHaveValue('29')
  await expect(sheet.getByLabel('work to, C')).toHaveValue('30')
  await sheet.getByLabel('work to, C').fill('46')
  await sheet.getByRole('button', { name: 'Save' }).click()
  await expect(
    sheet.getByText('The working temperatures lie above the cooling and below the melting ones'),
  ).toBeVisible()
  await sheet.getByLabel('work to, C').fill('30.5')
  await sheet.getByRole('button', { name: 'Save' }).click()
  await expect(sheet).toBeHidden()
})

test('two people at one ingredient: other fields are merged, the same one is decided', async ({ page }) => {
  const { id } = await anIngredient(page, 'Candied violets')
  const theirs = async (change: object) => {
    const old = await page.request.get(`/api/v1/ingredients/${id}`)
    const { id: _id, revision, paidForShown: _shown, sizes: _sizes, usedIn: _used, ...fields } = await old.json()
    const answer = await page.request.put(`/api/v1/ingredients/${id}`, {
      headers: { 'If-Match': `"${revision}"` },
      data: { ...fields, ...change },
    })
    expect(answer.status(), await answer.text()).toBe(200)
  }
  const stored = async () => (await page.request.get(`/api/v1/ingredients/${id}`)).json()
  await page.goto('/larder')
  const sheet = page.getByRole('dialog')
  await numbersOf(page, /Candied violets/)
  await sheet.getByLabel('Keeps at home for').fill('30')
  await theirs({ paid: '2.50' })
  await sheet.getByRole('button', { name: 'Save' }).click()
  await expect(sheet).toBeHidden()
  expect(await stored()).toMatchObject({ paid: '2.50', fresh: 30 })

  // The same field: nothing is laid over until somebody decides.
  await page.getByRole('button', { name: 'Edit', exact: true }).click()
  await sheet.getByLabel('Keeps at home for').fill('40')
  await theirs({ fresh: 12 })
  await sheet.getByRole('button', { name: 'Save' }).click()
  await expect(sheet.getByText('Someone else changed this too')).toBeVisible()
  expect(await stored()).toMatchObject({ fresh: 12 })
  await sheet.getByRole('button', { name: 'Use theirs' }).click()
  await expect(sheet.getByLabel('Keeps at home for')).toHaveValue('12')
  await sheet.getByLabel('Keeps at home for').fill('50')
  await theirs({ fresh: 13 })
  await sheet.getByRole('button', { name: 'Save' }).click()
  await sheet.getByRole('button', { name: 'Keep mine' }).click()
  await expect(sheet).toBeHidden()
  expect(await stored()).toMatchObject({ fresh: 50, paid: '2.50' })
})
