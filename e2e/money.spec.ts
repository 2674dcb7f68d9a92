import { readFile } from 'node:fs/promises'
import AxeBuilder from '@axe-core/playwright'
import type { Page } from '@playwright/test'
import { anOrder, beside, pick, expect, move, tabTo, test } from './help'

const status = (page: Page, word: string) => page.getByRole('status').filter({ hasText: `· ${word}` })

test('one figure of the price leads, and the others follow', async ({ page }) => {
  const { id } = await anOrder(page, 'Tag Tester', 'Milk malt bombs', 12)
  await page.goto(`/orders/${id}`)
  const price = page.getByRole('textbox', { name: /^Price( leads)?$/ })
  const margin = page.getByRole('textbox', { name: 'Margin' })
  const markup = page.getByRole('textbox', { name: 'Markup' })
  const hour = page.getByRole('textbox', { name: 'Pay per hour' })
  await expect(margin).toHaveValue('20') // the kitchen's own
  await expect(markup).toHaveValue('25') // 0.2 / (1 - 0.2)
  const usual = await price.inputValue()
  await markup.fill('100')
  await expect(margin).toHaveValue('50')
  await expect(price).not.toHaveValue(usual)
  await expect(page.getByText('Markup leads')).toBeVisible()
  await hour.fill('18')
  // 18.00 is what an hour of hands costs in the demo kitchen: nothing is left over.
  await expect(markup).toHaveValue('0')
  await price.fill('100')
  await page.getByLabel('Discount').fill('10%')
  await expect(beside(page).locator('.big')).toHaveText('$90.00')
  await page.getByLabel('Discount').fill('half')
  await expect(page.locator('.price-tag').getByRole('alert').first()).toContainText('is not an amount of money')
  await page.getByLabel('Discount').fill('')
  await page.getByLabel('Miles to drive').fill('12.4274')
  await expect(beside(page).getByText('delivery $7.00')).toBeVisible() // 20 km at 0.35
  await page.getByRole('button', { name: 'Back to your target margin' }).click()
  await expect(margin).toHaveValue(/^(20|20\.\d)$/)
  // A figure says how it came about.
  await page.locator('.price-tag').getByText('Deposit').getByRole('button').click()
  await expect(page.locator('.why').last()).toContainText('30% of')
})

test('what if: sliders on a copy, by keyboard, and the order stays as it is', async ({ page }) => {
  const { id } = await anOrder(page, 'What Iffer', 'Cardamom-malt bombs', 24)
  await page.goto(`/orders/${id}`)
  const before = await beside(page).locator('.big').textContent()
  await beside(page).getByText('What if…').click()
  await page.getByRole('slider', { name: 'Chocolate costs' }).focus()
  for (let i = 0; i < 4; i++) await page.keyboard.press('ArrowRight')
  await expect(beside(page).getByText('+20%')).toBeVisible()
  const row = beside(page).getByRole('row', { name: /^cost/ })
  await expect(row).toContainText('+$')
  await page.getByRole('slider', { name: 'More molds' }).focus()
  for (let i = 0; i < 4; i++) await page.keyboard.press('ArrowRight')
  await expect(beside(page).getByRole('row', { name: /^hands/ })).toContainText('−')
  await expect(beside(page).locator('.big')).toHaveText(before!)
  await beside(page).getByRole('button', { name: 'Reset' }).click()
  await expect(row).toBeHidden()
})

test('a quote goes to the customer, who asks for a change and says yes; the seller sees both', async ({
  page,
  browser,
  baseURL,
}) => {
  const { id } = await anOrder(page, 'Quotella', 'Milk malt bombs', 6, { occasion: 'a tea' })
  await page.goto(`/orders/${id}`)
  await page.getByRole('button', { name: 'Make a quote' }).click()
  await expect(status(page, 'quoted')).toBeVisible()
  const link = await page.getByLabel('Link to the quote').inputValue()
  // The customer: another browser, without a sign-in.
  const other = await browser.newContext({ baseURL, viewport: { width: 390, height: 844 } })
  const customer = await other.newPage()
  await customer.goto(link)
  await expect(customer.getByRole('heading', { name: 'For Quotella, a tea' })).toBeVisible()
  await expect(customer.getByText('6 pieces')).toBeVisible()
  await expect(customer.getByText('milk of 180 to 190 °F (82 to 88 °C)')).toBeVisible()
  const found = await new AxeBuilder({ page: customer })
    .withTags(['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa'])
    .analyze()
  expect(found.violations.map((v) => v.id)).toEqual([])
  const pdf = await customer.request.get(`/api/v1/quotes/${link.split('/q/')[1]}/quote.pdf`)
  expect((await pdf.body()).subarray(0, 5).toString()).toBe('%PDF-')
  await customer.getByText('Request a change').click()
  await customer.getByLabel('What would you like changed?').fill('Without lines, please')
  await customer.getByRole('button', { name: 'Send request' }).click()
  await expect(customer.getByText('You will get a new quote')).toBeVisible()
  await page.reload()
  await expect(page.getByText('Without lines, please')).toBeVisible()
  // By keyboard alone.
  await customer.getByLabel('Your name').focus()
  await customer.keyboard.press('Enter')
  await expect(customer.getByText(/You accepted this quote/)).toBeVisible()
  await page.reload()
  await expect(status(page, 'confirmed')).toBeVisible()
  await expect(page.getByText('Accepted by Quotella')).toBeVisible()
  await page.getByText('History').click()
  await expect(page.getByText(/quoted to confirmed, the customer, by the quote/)).toBeVisible()
  await customer.goto('/q/AAAAAAAAAAAAAAAAAAAAAAAAAA')
  await expect(customer.getByText('This link no longer works')).toBeVisible()
  await other.close()
  await move(page, id, 'cancelled')
})

test('payments: the deposit is proposed, too much is refused, the till says who owes', async ({ page }) => {
  const { id } = await anOrder(page, 'Payer', 'Milk malt bombs', 6, { pricing: { by: 'price', value: '50' } })
  await move(page, id, 'promised')
  await page.goto(`/orders/${id}`)
  const paid = page.getByRole('region', { name: 'Payments' })
  await expect(paid.getByLabel('Amount paid')).toHaveValue('15.00') // 30% of 50
  await paid.getByRole('button', { name: 'Record payment' }).click()
  await expect(paid.getByText('$35.00 due')).toBeVisible()
  await paid.getByLabel('Amount paid').fill('40')
  await paid.getByRole('button', { name: 'Record payment' }).click()
  await expect(paid.getByRole('alert')).toContainText('more than the 35.00 that are owed')
  await page.goto('/till')
  await expect(
    page.getByRole('complementary', { name: 'Due' }).getByRole('listitem').filter({ hasText: 'Payer' }),
  ).toContainText('$35.00')
  await page.getByText('By treat', { exact: true }).click()
  await expect(page.getByRole('row', { name: /Nougat cubes/ })).toContainText('5.0%')
  const [book] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('link', { name: 'The same as a spreadsheet' }).click(),
  ])
  expect((await readFile(await book.path())).subarray(0, 2).toString()).toBe('PK') // a zip, as OOXML is
  await move(page, id, 'cancelled')
  await page.goto(`/orders/${id}`)
  await expect(paid.getByText('$15.00 to refund')).toBeVisible()
  await paid.getByRole('button', { name: 'Take back the deposit of 15.00' }).click()
  await expect(paid).toBeHidden()
})

test('a jar is looked into, counted with a reason, and an opened lot is given less time', async ({ page }) => {
  await page.goto('/larder')
  await page.getByRole('button', { name: /^Sesame seed/ }).click()
  const jar = page.getByRole('complementary', { name: 'Sesame seed' })
  await expect(jar.getByText(/set aside/)).toBeVisible()
  await jar.getByLabel('In stock now').fill('150 g')
  await jar.getByLabel('Reason').fill('spilt')
  await jar.getByRole('button', { name: 'Save count' }).click()
  await expect(page.getByText('Sesame seed: stock corrected.')).toBeVisible()
  await jar.getByText('History').click()
  await expect(jar.getByText('corrected spilt')).toBeVisible()
  await jar.locator('.lot').first().click()
  await jar.getByLabel('Good until, open').fill('2026-09-08')
  await page.keyboard.press('Tab')
  await jar.getByRole('button', { name: 'Save the lot' }).click()
  await expect(jar.getByRole('alert')).toContainText('Say when it was opened first')
  await jar.getByLabel('Opened').fill('2026-09-01')
  await page.keyboard.press('Tab')
  await jar.getByRole('button', { name: 'Save the lot' }).click()
  await expect(jar.getByText('good until 8 Sep 2026, open since 1 Sep')).toBeVisible()
  await jar.getByRole('button', { name: 'Edit packs' }).click()
  await jar.getByRole('button', { name: 'Add a pack' }).click()
  await jar.getByLabel('Size of pack 2').fill('1 kg')
  await jar.getByLabel('Price of pack 2').fill('12.00')
  await jar.getByLabel('Shop of pack 2').fill('Seed merchant')
  await jar.getByRole('button', { name: 'Save the packs' }).click()
  await expect(jar.getByText('Seed merchant')).toBeVisible()
  await jar.getByRole('button', { name: 'Close' }).click()
  await expect(page.getByRole('complementary', { name: 'Needs attention' }).getByText('Expires soon')).toBeVisible()
})

test('a receipt as the slip reads becomes lots; what is doubtful waits for a person', async ({ page }) => {
  await page.goto('/larder')
  await page.getByRole('link', { name: 'Enter a receipt' }).click()
  await page.getByLabel('Shop').fill('Corner shop')
  await page
    .getByLabel('Receipt lines')
    .fill('2 x 250 g sea salt flakes 10.00\ndouble cream 1 pt 3.20\ncrunchy crumb 300 g 3,00\nsomething')
  const book = page.getByRole('button', { name: 'Add to larder' })
  await expect(page.locator('.slip-lines > li')).toHaveCount(4)
  await expect(book).toBeDisabled()
  await page.getByLabel('What line 3 is').click()
  await page.keyboard.type('Biscuit')
  await page.keyboard.press('Enter')
  await expect(page.getByText('Add the price at the end, such as 14.50.')).toBeVisible()
  await page.getByRole('button', { name: 'Leave out line 4' }).click()
  await expect(page.getByText('$16.20')).toBeVisible()
  await tabTo(page, /^Add to larder/)
  await page.keyboard.press('Enter')
  await expect(page.getByText('3 lots are in the larder.')).toBeVisible()
  await page.getByRole('button', { name: /^Biscuit crumb/ }).click()
  await expect(
    page.getByRole('complementary', { name: 'Biscuit crumb' }).getByText('bought 3 Sep, Corner shop').first(),
  ).toBeVisible()
  // The words are known the next time.
  await page.goto('/larder/receipt')
  await page.getByLabel('Receipt lines').fill('crunchy crumb 300 g 3.00')
  await expect(page.locator('.slip-lines > li.settled')).toHaveCount(1)
})

test('receipts from a file: columns are matched, bad rows listed, the good ones kept only when one says so', async ({
  page,
}) => {
  await page.goto('/larder/file')
  await page.locator('input[type=file]').setInputFiles({
    name: 'r.csv',
    mimeType: 'text/csv',
    buffer: Buffer.from('\ufeffThing;Cost;Weight\nCorn starch;1,90;1 lb\nMoon dust;3,00;1 kg\nCorn starch;dear;1 lb\n'),
  })
  await expect(page.getByRole('cell', { name: 'Moon dust' })).toBeVisible()
  await expect(page.getByRole('button', { name: 'Check file' })).toBeDisabled()
  await pick(page, 'What it is', 'Thing')
  await pick(page, 'Size of a pack', 'Weight')
  await page.getByRole('button', { name: 'Check file' }).click()
  await expect(page.getByRole('heading', { name: '1 rows are good, 2 cannot.' })).toBeVisible()
  await expect(page.locator('.bad-rows').getByText('Row 3')).toBeVisible()
  await expect(page.getByText('“dear” is not an amount of money')).toBeVisible()
  await page.getByRole('button', { name: 'Import 1 good rows' }).click()
  await expect(page.getByRole('heading', { name: '1 rows added to the larder.' })).toBeVisible()
  await page
    .locator('input[type=file]')
    .setInputFiles({ name: 'x.csv', mimeType: 'text/csv', buffer: Buffer.from([0x89, 0x50, 0, 1]) })
  await expect(page.getByText('This is not a CSV file')).toBeVisible()
})

test('shopping: ticked off it is in the larder, undone it is on the list again; share, CSV', async ({ page }) => {
  await page.goto('/larder/shopping')
  const farm = page.getByRole('region', { name: 'Farm stand' })
  await expect(farm.getByText(/buy (today|Fri 4 Sep), not before/)).toBeVisible() // by what else is planned
  const tick = farm.getByRole('button', { name: 'Put Strawberries into the basket' })
  await tick.click()
  await expect(farm).toBeHidden()
  const basket = page.getByRole('region', { name: 'In the basket' })
  await expect(basket.getByText('Strawberries').first()).toBeVisible()
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(tick).toBeVisible()
  await expect(basket).toBeHidden()
  // By keyboard.
  await tabTo(page, /^Put Strawberries/)
  await page.keyboard.press('Space')
  await expect(basket.getByText('Strawberries').first()).toBeVisible()
  for (let n = await basket.getByRole('button').count(); n > 0; n--) {
    await basket.getByRole('button').first().click()
    await expect(basket.getByRole('button')).toHaveCount(n - 1)
  }
  await pick(page, 'For how long', 'three days')
  await expect(page.getByText('to Sun 6')).toBeVisible()
  const [csv] = await Promise.all([page.waitForEvent('download'), page.getByRole('link', { name: 'CSV' }).click()])
  expect(await readFile(await csv.path(), 'utf8')).toContain('Farm stand,Strawberries,')
})

test('the till shows what went where, and a treat over time, with the same figures in tables', async ({ page }) => {
  const till = await (await page.request.get('/api/v1/till')).json()
  await page.goto('/till')
  const drawn = (name: RegExp) => page.getByRole('img', { name }).locator('canvas')
  await expect(drawn(/^Bars of what the sales paid for/)).toBeVisible()
  // Something is drawn: the bars are not the paper.
  const colours = await drawn(/^Bars of what/).evaluate((canvas: HTMLCanvasElement) => {
    const { data } = canvas.getContext('2d')!.getImageData(0, 0, canvas.width, canvas.height)
    const found = new Set<string>()
    for (let i = 0; i < data.length; i += 4) if (data[i + 3] === 255) found.add(data.slice(i, i + 3).join())
    return [...found]
  })
  expect(colours).toEqual(expect.arrayContaining(['69,40,24', '200,80,10', '47,107,79'])) // ingredients, time, profit
  const table = page.getByRole('region', { name: 'Where the money went' })
  for (const month of till.months) {
    for (const part of ['ingredients', 'packaging', 'hands']) {
      await expect(table).toContainText(`$${month.spent[part].amount}`)
    }
  }

  await page.getByText('By treat', { exact: true }).click()
  await expect(drawn(/^Bars of cost and profit/)).toBeVisible()
  const treat = till.treats[0]
  await pick(page, 'Treat', treat.name)
  const sales = await (await page.request.get(`/api/v1/treats/${treat.treat}/sales`)).json()
  await expect(drawn(new RegExp(`^${treat.name}: what a piece sold for`))).toBeVisible()
  const months = page.getByRole('region', { name: treat.name })
  await expect(months.getByRole('row')).toHaveCount(sales.months.length + 1)
  await expect(months.getByRole('row').nth(1)).toContainText(`$${sales.months[0].each.amount}`)
})

test('a price list is kept in the treat, and offered in an order', async ({ page }) => {
  const { id } = await anOrder(page, 'List Price', 'Bergamot truffles', 18)
  await page.goto('/treats')
  await page.getByRole('link', { name: /^Bergamot truffles/ }).click()
  await page.getByLabel('Price on your price list').fill('nothing much')
  await page.keyboard.press('Tab')
  await expect(page.getByRole('region', { name: 'Sell' }).getByRole('alert')).toContainText('not an amount of money')
  await page.getByLabel('Price on your price list').fill('30')
  const saved = page.waitForResponse((r) => r.url().endsWith('/list-price') && r.ok())
  await page.keyboard.press('Tab')
  await saved
  await page.goto(`/orders/${id}`)
  await expect(page.getByText('Your price list: $45.00')).toBeVisible() // by hand: 30 for 12 is 45 for 18
})

test('a treat’s ladder, and where it stands in the market', async ({ page }) => {
  await page.goto('/treats')
  await page.getByRole('link', { name: /^Nougat cubes/ }).click()
  const ladder = page.getByRole('table', { name: 'Price of a dozen by how many are made' })
  await expect(ladder.getByRole('row')).toHaveCount(6)
  await expect(page.getByRole('img', { name: /^Price and cost of a dozen/ }).locator('canvas')).toBeVisible()
  await page.getByLabel('Lowest local price per dozen').fill('20')
  await page.getByLabel('Highest local price per dozen').fill('10')
  await page.keyboard.press('Tab')
  await expect(page.getByText('cannot be below the lowest')).toBeVisible()
  await page.getByLabel('Highest local price per dozen').fill('40')
  await page.keyboard.press('Tab')
  await expect(
    page
      .getByRole('img', {
        name: /a dozen: others ask \$20.00 to \$40.00|a dozen is (above|below) all that you have seen: others ask \$20.00 to \$40.00/,
      })
      .first(),
  ).toBeVisible()
})

test('the terms of the kitchen change every price', async ({ page }) => {
  const { id } = await anOrder(page, 'Term Tester', 'Milk malt bombs', 12)
  await page.goto('/kitchen')
  await page.getByText('.95', { exact: true }).click()
  await page.getByLabel(/^Minimum order/).fill('lots')
  await page.getByRole('button', { name: 'Save' }).click()
  await expect(page.getByRole('alert')).toContainText('“lots” is not an amount of money')
  await page.getByLabel(/^Minimum order/).fill('20')
  await page.getByLabel(/^Sales tax/).fill('8')
  await page.getByRole('button', { name: 'Save' }).click()
  await expect(page.getByText('Saved. All figures are updated.')).toBeVisible()
  await page.goto(`/orders/${id}`)
  await expect(beside(page).locator('.big')).toHaveText(/\.95$/)
  await expect(page.locator('.tag-lines').getByText('tax')).toBeVisible()
  await page.goto('/kitchen')
  await page.getByText('as they come', { exact: true }).click()
  await page.getByLabel(/^Sales tax/).fill('0')
  await page.getByRole('button', { name: 'Save' }).click()
  await expect(page.getByText('Saved. All figures are updated.').last()).toBeVisible()
})

test('how a batch came out is kept on the bench, and the till sets it against what was expected', async ({ page }) => {
  const { id } = await anOrder(page, 'Outcome', 'Nougat cubes', 12)
  await move(page, id, 'promised', 'in the making', 'packed', 'handed over')
  const { days } = await (await page.request.get(`/api/v1/orders/${id}`)).json()
  await page.goto(`/bench/${days[0].day}`)
  await page.getByLabel('Good pieces of Nougat cubes for Outcome').fill('13')
  await page.getByLabel('Minutes of Nougat cubes for Outcome').fill('50')
  await page.getByRole('button', { name: 'Save' }).click()
  await expect(page.getByText('Nougat cubes: result saved.')).toBeVisible()
  await page.goto('/till')
  await page.getByText('By treat', { exact: true }).click()
  await expect(page.getByRole('row', { name: /Nougat cubes/ })).toContainText(/really 50.min of/)
})
