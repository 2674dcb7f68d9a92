import ICAL from 'ical.js'
import { readFile } from 'node:fs/promises'
import { expect, beside, tabTo, test } from './help'

test.use({ storageState: { cookies: [], origins: [] } })

const treats = [
  {
    customer: 'Bombazine Hall',
    treat: 'Cardamom-malt bombs',
    day: '9/10/2026',
    from: '4:15 pm',
    to: '5:00 pm',
    count: '24',
    make: 'start 28',
    note: /3 rounds of 24 cavities/,
    take: 'Mini marshmallows',
  },
  {
    customer: 'Fruma Tarn',
    treat: 'Strawberries with white lines',
    day: '9/11/2026',
    from: '7:45 pm',
    to: '8:30 pm',
    count: '12',
    make: 'start 14',
    note: /spare|comes back/,
    take: 'Strawberries',
  },
  {
    customer: 'Barkley Fenn',
    treat: 'Hazelnut and sour-cherry bark',
    day: '9/10/2026',
    from: '4:15 pm',
    to: '5:00 pm',
    count: '20',
    make: '4 sheets',
    note: /Whole sheets give/,
    take: 'Hazelnuts, chopped',
  },
]

test('a seller takes, makes and hands over an order of each treat by keyboard alone', async ({ page }) => {
  test.setTimeout(120_000)
  await page.goto('/')
  await expect(page.getByText('This is the demo')).toBeVisible()
  await tabTo(page, /^$/) // the mail address
  await page.getByLabel('Email').focus()
  await page.keyboard.type('maren@lakeside.example')
  await page.keyboard.press('Tab')
  await page.keyboard.type('three warm tins')
  await page.keyboard.press('Enter')
  await expect(page.getByRole('heading', { name: /upcoming orders?/ })).toBeVisible()
  await expect(page.locator('.shelf .day')).toHaveCount(14)

  for (const t of treats) {
    await page.locator('body').press('1')
    await expect(page.getByRole('heading', { name: /upcoming orders?/ })).toBeVisible()
    await page.locator('body').press('n')
    await expect(page.getByLabel('Customer')).toBeFocused()
    await page.keyboard.type(t.customer)
    for (const [field, typed] of [
      [/^Handover day/, t.day],
      [/^From$/, t.from],
      [/^To$/, t.to],
    ] as const) {
      await tabTo(page, field)
      await page.keyboard.press('ControlOrMeta+a')
      await page.keyboard.type(typed)
      await page.keyboard.press('Enter')
    }
    await tabTo(page, /^Add a treat$/)
    await page.keyboard.type(t.treat.slice(0, 17))
    await expect(page.getByRole('option', { name: t.treat })).toBeAttached()
    await page.keyboard.press('Enter')
    const count = page.getByLabel(`Count of ${t.treat}`)
    await expect(count).toBeFocused()

    const side = beside(page)
    await expect(side.getByText('12 ' + t.treat).last()).toBeVisible()
    const before = await side.locator('.big').textContent()
    await page.keyboard.press('ControlOrMeta+a')
    await page.keyboard.type(t.count)
    await expect(side.getByText(`${t.count} ${t.treat}`).last()).toBeVisible()
    if (t.count !== '12') await expect(side.locator('.big')).not.toHaveText(before!)
    await expect(side.getByRole('button', { name: t.make })).toBeVisible()
    await expect(side.getByText(t.note).first()).toBeVisible()
    await expect(side.locator('.part', { hasText: 'Ingredients' }).getByText(t.take)).toBeVisible()
    await expect(side.getByText(/It fits\./)).toBeVisible()
    // Before it is saved as promised, it stands dashed in the tins.
    await expect(page.locator('.shelf .proposed').first()).toBeVisible()

    // A figure explains itself when it is touched.
    await tabTo(page, new RegExp(`^${t.make}$`))
    await page.keyboard.press('Enter')
    await expect(page.locator('.why')).toHaveText(
      t.treat.includes('bark') ? /20 bags of 2\.6 oz are 3 lb 5 oz/ : /good at \d+% loss, 95% sure/,
    )
    await page.keyboard.press('Escape')
    await expect(page.locator('.why')).toBeHidden()

    await expect(page.getByRole('status').filter({ hasText: /· Saved$/ })).toBeVisible()
    await tabTo(page, /^Confirm order$/, 'Shift+Tab')
    await page.keyboard.press('Enter')
    await expect(page.getByRole('status').filter({ hasText: '· confirmed' })).toBeVisible()
    await expect(page.locator('.shelf .proposed')).toHaveCount(0)
  }

  // To the day's run sheet by its tin, and the first step done.
  await page.locator('body').press('1')
  await expect(page.getByRole('heading', { name: /upcoming orders?/ })).toBeVisible()
  const { orders } = await (await page.request.get('/api/v1/orders?find=Fruma')).json()
  const first = (await (await page.request.get(`/api/v1/orders/${orders[0].id}`)).json()).days[0].days[0] as string
  const named = new Date(`${first}T12:00:00Z`).toLocaleDateString('en-US', { weekday: 'short', timeZone: 'UTC' })
  await tabTo(page, new RegExp(`^Run sheet of ${named} ${Number(first.slice(8))}`), 'Shift+Tab')
  await page.keyboard.press('Enter')
  await expect(
    page.getByRole('heading', { name: new RegExp(`${named}\\w* ${Number(first.slice(8))} September`) }),
  ).toBeVisible()
  const tick = page.getByRole('checkbox', { name: /for Fruma Tarn: done/ }).first()
  await tabTo(page, /Fruma Tarn: done/)
  await expect(tick).toBeFocused()
  await page.keyboard.press('Space')
  await expect(tick).toBeChecked()
  await expect(page.getByRole('list', { name: 'Timers' })).toContainText('Pick over, wash, dry')

  // Pack it and hand it over; its boxes leave the shelf.
  const boxes = async () =>
    (await (await page.request.get('/api/v1/supplies')).json()).supplies.find(
      (s: { name: string }) => s.name === 'Boxes for 12',
    ).stock.amount
  const stock = await boxes()
  await page.locator('body').press('6')
  const card = page.getByRole('listitem', { name: /Fruma Tarn/ })
  await expect(card).toContainText('making')
  await tabTo(page, /^Fruma Tarn$/)
  await tabTo(page, /^Packed$/)
  await page.keyboard.press('Enter')
  await expect(card).toContainText('packed')
  expect(await boxes()).toBe(stock - 1)
  await tabTo(page, /^Fruma Tarn$/, 'Shift+Tab')
  await tabTo(page, /^Mark as handed over$/)
  await page.keyboard.press('Enter')
  // Something is due: it is paid as it is handed over.
  await expect(page.getByRole('dialog')).toBeVisible()
  await tabTo(page, /^Record payment and hand over$/)
  await page.keyboard.press('Enter')
  await expect(card).toBeHidden()

  // Take the calendar away, and read it with an independent parser.
  await tabTo(page, /^Calendar file$/, 'Shift+Tab')
  const [download] = await Promise.all([page.waitForEvent('download'), page.keyboard.press('Enter')])
  const calendar = new ICAL.Component(ICAL.parse(await readFile(await download.path(), 'utf8')))
  const events = calendar.getAllSubcomponents('vevent').map((e) => new ICAL.Event(e))
  const pickup = events.find((e) => e.summary.includes('Bombazine Hall'))!
  expect(pickup.startDate.toJSDate().toISOString()).toBe('2026-09-10T20:15:00.000Z')
  expect(pickup.endDate.toJSDate().toISOString()).toBe('2026-09-10T21:00:00.000Z')
  expect(events.filter((e) => /^Make 20 Hazelnut/.test(e.summary)).length).toBeGreaterThan(0)
})

test('the keys go to the places, and ? lists them', async ({ page }) => {
  await page.goto('/')
  await page.getByRole('button', { name: 'Enter the demo kitchen' }).click()
  await expect(page.getByRole('heading', { name: /upcoming orders?/ })).toBeVisible()
  for (const [key, heading] of [
    ['2', 'Your treats'],
    ['3', 'Plan'],
    ['4', /September/],
    ['5', 'The larder'],
    ['6', 'Handovers'],
    ['7', 'The till'],
    ['1', /upcoming orders?/],
  ] as const) {
    await page.locator('body').press(key)
    await expect(page.getByRole('heading', { level: 1, name: heading })).toBeVisible()
  }
  await page.locator('body').press('.')
  await expect(page.getByRole('heading', { name: 'Thursday 3 September' })).toBeVisible()
  await page.locator('body').press(']')
  await expect(page.getByRole('heading', { name: 'Friday 4 September' })).toBeVisible()
  await page.locator('body').press('[')
  await expect(page.getByRole('heading', { name: 'Thursday 3 September' })).toBeVisible()
  await page.locator('body').press('Escape')
  await expect(page).toHaveURL(/\/bench$/)
  await page.locator('body').press('/')
  await page.keyboard.type('ilse')
  await page.keyboard.press('Enter')
  await expect(page.getByRole('heading', { name: /Ilse Vantongeren/i })).toBeVisible()
  await page.locator('body').press('?')
  await expect(page.getByRole('dialog', { name: 'Keys' })).toContainText('a new order')
})

test('a kitchen of one’s own begins empty, and says what to do', async ({ page }) => {
  await page.goto('/')
  await page.getByRole('button', { name: 'Create your kitchen' }).click()
  await page.getByLabel('Kitchen name').fill('Harbour sweets')
  await page.getByLabel('Your name').fill('Ada Quill')
  await page.getByLabel('Email').fill('ada@quill.example')
  await page.getByLabel('Password').fill('short')
  await page.getByRole('button', { name: 'Create kitchen' }).click()
  await expect(page.getByText('Use at least 12 characters')).toBeVisible()
  await page.getByLabel('Password').fill('nine copper pans')
  await page.getByRole('button', { name: 'Create kitchen' }).click()
  // The starter is skipped here: everything is made where it belongs.
  await page.getByRole('button', { name: 'Skip, I’ll do it later' }).click()
  await expect(page.getByText('Press New order')).toBeVisible()
  await page.getByRole('link', { name: 'Treats' }).click()
  await expect(page.getByText('press New treat')).toBeVisible()
  // A chocolate, then a treat of it.
  await page.getByRole('link', { name: 'Larder' }).click()
  await page.getByRole('button', { name: 'Add ingredient' }).click()
  await page.getByLabel('Start from a common ingredient').fill('60%')
  await page.getByTitle('Dark chocolate 60%').click()
  await expect(page.getByText('Common values (square: one ounce by definition')).toBeVisible()
  await page.getByLabel('Name', { exact: true }).fill('House dark')
  await page.getByLabel('Last paid').fill('13.00')
  await page.getByRole('button', { name: 'Save' }).click()
  await expect(page.getByText('House dark is saved.')).toBeVisible()
  await page.getByRole('link', { name: 'Treats' }).click()
  await page.getByRole('button', { name: 'New treat' }).click()
  await page.getByRole('dialog').getByLabel('Name').fill('Slate bark')
  await page.getByRole('button', { name: 'bark', exact: true }).click()
  await page.getByRole('button', { name: 'Create treat' }).click()
  await expect(page.getByLabel('Name of the treat')).toHaveValue('Slate bark')
  await expect(beside(page).getByText('House dark').first()).toBeVisible()
  // Work days, and an order that fits into them.
  await page.getByRole('link', { name: 'Plan' }).click()
  await page.getByRole('link', { name: 'Dates that differ, trays and molds' }).click()
  await page.getByRole('button', { name: 'Add hours on Wednesday' }).click()
  await page.getByRole('button', { name: 'Save hours' }).click()
  await expect(page.getByText('Hours saved.')).toBeVisible()
  await page.locator('body').press('n')
  await page.getByLabel('Customer').fill('First customer')
  await page.getByLabel('Add a treat').fill('Slate')
  await page.keyboard.press('Enter')
  await expect(beside(page).getByText(/It fits\. Slate bark Wed 9/)).toBeVisible()
})
