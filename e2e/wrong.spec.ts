import { anOrder, expect, move, test } from './help'

// Bombs that are promised, and the page of their first step.
test('from what is seen to what is booked, and back, by keyboard', async ({ page }) => {
  const made = await anOrder(page, 'Rosa Vale', 'Milk malt bombs', 12)
  await move(page, made.id, 'promised')
  const order = await (await page.request.get(`/api/v1/orders/${made.id}`)).json()
  const day = order.days[0].days[0]
  const sheet = await (await page.request.get(`/api/v1/days/${day}/run-sheet`)).json()
  const step = sheet.steps.find((s: { batch: string }) => s.batch === order.days[0].batch)
  await page.goto(`/bench/wrong?batch=${step.batch}&step=${step.step}&day=${day}`)
  await expect(page.getByRole('heading', { name: 'What do you see?' })).toBeVisible()
  await page.getByRole('textbox', { name: 'At how many' }).fill('2')
  await page.getByRole('button', { name: 'Cracked on the way out of the mold' }).press('Enter')

  // One question narrows it down; what follows has amounts and says what it books.
  const question = page.getByRole('group', { name: 'Is it thinner there than elsewhere?' })
  await question.getByRole('button', { name: 'Yes' }).press('Enter')
  const likely = page.getByRole('article', { name: 'The rim is thin.' })
  await expect(likely).toContainText('Brush chocolate over the spot from inside')
  await expect(likely).toContainText('Next time: Brush the rim')
  const remelt = likely.getByRole('listitem').filter({ hasText: 'Melt them down' })
  await expect(remelt).toContainText('back to the pot')
  await expect(remelt).toContainText(/good ones are left, and 12 are wanted/)

  const doIt = remelt.getByRole('button', { name: 'Do this' })
  await expect(doIt).toBeEnabled() // the answer to the question has come
  await doIt.press('Enter')
  const noted = page.getByRole('listitem').filter({ hasText: 'The rim is thin. back to the pot' })
  await expect(noted).toBeVisible()
  const stock = async () => {
    const all = await (await page.request.get('/api/v1/stock')).json()
    return all.items.find((i: { name: string }) => i.name === 'Milk 38%').stock.amount as number
  }
  const after = await stock()
  await noted.getByRole('button', { name: /^Take back/ }).press('Enter')
  await expect(noted).toHaveCount(0)
  expect(await stock()).toBeLessThan(after)
})

test('found by what one sees, where nothing is on record', async ({ page }) => {
  await page.goto('/orders')
  await expect(page.getByRole('heading', { level: 1 })).toBeVisible()
  await page.keyboard.press('/')
  await page.keyboard.type('streaks')
  await page.getByRole('option', { name: /White streaks or dust/ }).click()
  await expect(page.getByRole('heading', { name: /White streaks or dust/ })).toBeVisible()
  await page.getByText('Coating', { exact: true }).click()
  await expect(page.getByRole('article').first()).toContainText('It set too slowly')
  await expect(page.getByRole('button', { name: 'Do this' })).toHaveCount(0)
  await page.goto('/bench/logbook')
  await expect(page.getByRole('heading', { name: 'Logbook' })).toBeVisible()
  await page.keyboard.press('=')
  await page.getByRole('link', { name: /Something is wrong/ }).click()
  await expect(page.getByRole('heading', { name: 'What do you see?' })).toBeVisible()
})

test('what was made is in the logbook: corrected, with a photo, and found', async ({ page }) => {
  await page.goto('/bench/logbook')
  const line = page.locator('.log-line').filter({ hasText: 'Nougat cubes' })
  await expect(line).toContainText('White streaks or dust')
  await line.locator('summary').press('Enter')
  const minutes = line.getByRole('textbox', { name: /^Minutes, Box/ })
  await minutes.fill('33')
  const saved = page.waitForResponse((r) => r.request().method() === 'PUT' && r.url().includes('/results/') && r.ok())
  await line.getByRole('button', { name: 'Save' }).click()
  await saved
  await expect(minutes).toHaveValue('33')
  await page.reload()
  await line.locator('summary').click()
  await expect(minutes).toHaveValue('33')

  // A photo: what is none is refused, and nothing is lost.
  const photo = line.locator('input[type=file]')
  await photo.setInputFiles({ name: 'x.png', mimeType: 'image/png', buffer: Buffer.from('no picture') })
  await expect(page.getByText('send a JPEG or a PNG')).toBeVisible()
  await photo.setInputFiles({ name: 'y.png', mimeType: 'image/png', buffer: onePixel })
  await expect(line.getByRole('img', { name: 'Photo of Nougat cubes' })).toBeVisible()
  await line.getByRole('button', { name: 'Remove the photo' }).click()
  await expect(line.getByRole('img', { name: 'Photo of Nougat cubes' })).toHaveCount(0)

  await page.getByRole('searchbox', { name: 'Find in the logbook' }).fill('nobody at all')
  await expect(page.getByText('Nothing of that is in the logbook')).toBeVisible()
  await page.keyboard.press('Escape')
  await page.locator('body').press('/')
  await page.getByRole('combobox', { name: 'Find anything' }).fill('Nougat')
  await page.getByRole('option', { name: /made .* for Tamsin/ }).click()
  await expect(page.locator('.log-line').first()).toContainText('Nougat cubes')
})

// A PNG of one pixel.
const onePixel = Buffer.from(
  'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==',
  'base64',
)
