import type { Browser, Page } from '@playwright/test'
import { expect, test } from './help'
import { Server } from './server'

// An hour at the bowl passes in some minutes.
const server = new Server(9, 12)
const tablet = (browser: Browser) => server.page(browser, { width: 800, height: 1280 })

test.beforeAll(async () => {
  test.setTimeout(120_000)
  await server.serve('2026-09-03T10:20:00-04:00')
})
test.afterAll(() => server.stop())

// Two tablets at one bench.
test('the day goes on without a network, and a contradiction is told', async ({ browser }) => {
  test.setTimeout(120_000)
  const page = await tablet(browser)
  const other = await tablet(browser)
  await page.goto('/bench/2026-09-05')
  await other.goto('/bench/2026-09-05')
  const step = page.getByRole('article', { name: 'Current step' })
  const row = (p: typeof page, n: number) =>
    p
      .getByRole('list', { name: /^Run sheet/ })
      .locator('li:has(.tick)')
      .nth(n)
  const ticked = (p: typeof page, n: number) => row(p, n).getByRole('checkbox')
  await expect(step).toBeVisible()
  const first = (await step.getByRole('heading').textContent())!

  // Looked at by keys, without ticking anything.
  await page.locator('body').press('k')
  await expect(page.getByRole('article', { name: 'Step', exact: true })).toContainText(/step 2 of \d+/)
  await page.locator('body').press('j')
  await expect(step.getByRole('heading')).toHaveText(first)

  // The evening as one tin.
  const evening = page.getByRole('img', { name: /steps are done, all are by/ })
  await expect(evening).toHaveAccessibleName(new RegExp(`^0 of \\d+ steps.*Now: ${first.slice(0, 8)}`))

  // Without a network: a tick by its key, a note and a timer of one's own.
  await page.context().setOffline(true)
  await page.locator('body').press('d')
  await expect(page.getByText(`Ticked: ${first}. No connection: it is kept`)).toBeVisible()
  await expect(ticked(page, 0)).toBeChecked()
  await expect(evening).toHaveAccessibleName(/^1 of \d+ steps/)
  await expect(row(page, 0)).toContainText('waiting to be sent')
  await expect(step.getByRole('heading')).not.toHaveText(first)
  await step.getByRole('button', { name: '+ A note' }).click()
  await step.getByRole('textbox', { name: 'What you noticed at this step' }).fill('Two were soft')
  await page.keyboard.press('Enter')
  await expect(step.getByText('Two were soft')).toBeVisible()
  await page.getByRole('button', { name: '+ A timer' }).click()
  await page.getByRole('textbox', { name: 'What waits' }).fill('Cherries drain')
  await page.getByRole('button', { name: 'Set', exact: true }).click()
  await expect(page.getByRole('list', { name: 'Timers' })).toContainText('Cherries drain · waiting to be sent')
  await expect(ticked(other, 0)).not.toBeChecked()

  // Meanwhile the other one has ticked the same step, and taken it back: the late tick is told, not taken.
  const saved = () =>
    other.waitForResponse((r) => r.request().method() === 'PUT' && r.url().includes('/steps/') && r.ok())
  for (const is of [true, false]) {
    const put = saved()
    await other.locator('.tick').first().click()
    await put
    await expect(ticked(other, 0)).toBeChecked({ checked: is })
  }
  await page.context().setOffline(false)
  await page.evaluate(() => window.dispatchEvent(new Event('online')))
  await expect(page.getByRole('status').filter({ hasText: 'took this tick back at' })).toBeVisible({ timeout: 40_000 })
  await expect(ticked(page, 0)).not.toBeChecked()
  await expect(other.getByRole('list', { name: 'Timers' })).toContainText('Cherries drain')
  await expect(other.getByText('waiting to be sent')).toHaveCount(0)
  await expect(page.getByText('waiting to be sent')).toHaveCount(0)
  await page.getByRole('button', { name: /^Throw away Ticked/ }).click()
  await expect(page.getByText('took this tick back at')).toHaveCount(0)

  // The note and the timer have come; either of the two may stop it.
  await other.getByRole('button', { name: 'Stop the timer: Cherries drain' }).click()
  await expect(page.getByText('Cherries drain')).toHaveCount(0)
  await page.getByRole('button', { name: 'Next ›' }).click()
  await expect(page.getByRole('article', { name: 'Step', exact: true }).getByText('Two were soft')).toBeVisible()

  // Ticked with a network: a timer of what then waits, for both; taken back, it is gone.
  await page.getByRole('button', { name: 'To the current step' }).click()
  await page.getByRole('button', { name: 'Done', exact: true }).click()
  await expect(other.getByRole('list', { name: 'Timers' })).toContainText(first)
  await expect(ticked(other, 0)).toBeChecked() // the sheet and the timers are told each on its own
  await other.locator('.tick').first().click()
  await expect(page.getByRole('list', { name: 'Timers' })).toHaveCount(0)
})

test('a bowl is begun without a network, and its thermometer is taken meanwhile', async ({ browser }) => {
  test.setTimeout(120_000)
  const one = await tablet(browser)
  const two = await tablet(browser)
  const begin = async (page: Page, name: string) => {
    await page.getByLabel('What it is called').fill(name)
    await page.getByLabel('How much in all').fill('16')
    await page.getByRole('button', { name: 'Begin', exact: true }).click()
  }
  for (const page of [one, two]) {
    await page.goto('/bench/bowls/new')
    await expect(page.getByText('Bowl thermometer (simulated)')).toBeVisible()
  }
  await two.context().setOffline(true)
  await begin(two, 'Dark for the loaves')
  await expect(two.getByRole('heading', { level: 1 })).toHaveText('Dark for the loaves')
  await expect(two.getByText('kept on this device: there is no connection')).toBeVisible()
  await two.getByLabel('What does it say?').fill('113')
  await two.keyboard.press('Enter')
  await expect(two.locator('.pot-figure')).toHaveText('113 °F')
  await two.getByRole('button', { name: 'Something else was done' }).click()
  await two.getByLabel('How much').fill('25')
  await two.getByRole('button', { name: 'Add', exact: true }).click()
  await expect(two.getByText('heated 25 s', { exact: true })).toBeVisible()

  // Meanwhile the other one takes the thermometer.
  await begin(one, 'Dark for the pralines')
  await expect(says(one)).toHaveText(/Heat for \d+ s/)
  await one.goto('/bench')
  await expect(one.getByRole('link', { name: /Dark for the pralines/ })).toBeVisible()
  await expect(one.getByRole('link', { name: /Dark for the loaves/ })).toHaveCount(0)

  // The network is back: it is begun as it was, without the thermometer, and that is said.
  await two.context().setOffline(false)
  await two.evaluate(() => window.dispatchEvent(new Event('online')))
  await expect(
    two.getByRole('status').filter({ hasText: 'begun without the thermometer and the scale: at another bowl by now' }),
  ).toBeVisible({
    timeout: 40_000,
  })
  await expect(two.getByTestId('temperature')).toHaveText('113.0')
  await expect(two.getByText('heated 25 s', { exact: true })).toBeVisible()
  await expect(one.getByRole('link', { name: /Dark for the loaves/ })).toHaveCount(1)
  await two.getByRole('button', { name: /^Throw away Begun: Dark for the loaves/ }).click()
  await expect(two.getByText('at another bowl by now')).toHaveCount(0)

  // Both are over: the thermometer is free again.
  await one.getByRole('link', { name: /Dark for the pralines/ }).click()
  for (const page of [one, two]) {
    await page.getByRole('button', { name: 'The bowl is over' }).click()
    await page.getByRole('button', { name: 'Save' }).click()
    await expect(page.getByRole('heading', { name: 'How it set was not noted' })).toBeVisible()
  }
})

test('one practises on a bowl that is not there, and nothing of the kitchen is touched', async ({ browser }) => {
  const page = await tablet(browser)
  const written: string[] = []
  page.on('request', (r) => r.method() !== 'GET' && written.push(new URL(r.url()).pathname))
  await page.goto('/bench/practice')
  await page.getByRole('button', { name: /Temper a bowl of dark/ }).click()
  const practice = page.getByRole('region', { name: 'Practice' })
  await expect(practice.getByRole('heading', { level: 1 })).toHaveText(/Heat for \d+ s/)
  await page.getByText('60 ×').click()
  await practice.getByRole('button', { name: /^Start/ }).click()
  await expect(practice.getByText(/heated \d+ s/)).toBeVisible()
  // Left alone it comes to nothing: that is told with its reasons, and its curve stays.
  await expect(page.getByRole('button', { name: /^Start/ })).toBeVisible()
  await page.getByText('without advice').click()
  await expect(page.getByRole('button', { name: /^Start/ })).toHaveCount(0)
  await page.getByRole('button', { name: 'I am done' }).click()
  await expect(page.getByRole('heading', { name: /^\d+ of 100 points/ })).toBeVisible()
  await expect(practice.getByText('No smear was tested')).toBeVisible()
  await expect(practice.getByRole('img')).toBeVisible()
  await page.getByRole('button', { name: 'Once more' }).click()
  await expect(practice.getByText(/heated \d+ s/)).toHaveCount(0)
  expect([...new Set(written)]).toEqual(['/api/v1/calculators/practice'])
})

const says = (page: Page) => page.getByRole('region', { name: 'Bowl' }).getByRole('heading', { level: 1 })
const large = (page: Page) => page.locator('.pot-touch.large .done-button')

test('a temper by two people: one loses the network, and the server is killed in the middle', async ({ browser }) => {
  test.setTimeout(240_000)
  const one = await tablet(browser)
  const two = await tablet(browser)

  // A bowl with the simulated thermometer of the demo kitchen, which is the only one that is free.
  await one.goto('/bench')
  await one.getByRole('link', { name: 'Begin a bowl' }).click()
  await one.getByLabel('What it is called').fill('Dark for the truffles')
  await one.getByLabel('How much in all').fill('16')
  await expect(one.getByText('Bowl thermometer (simulated)')).toBeVisible()
  await one.getByRole('button', { name: 'Begin', exact: true }).click()
  await expect(says(one)).toHaveText(/Heat for \d+ s/)

  // To be read from two metres.
  const size = async (of: string) =>
    Number.parseFloat(await one.locator(of).evaluate((e) => getComputedStyle(e).fontSize))
  expect(await size('[data-testid=temperature]')).toBeGreaterThanOrEqual(96)
  expect(await size('.pot-says h1')).toBeGreaterThanOrEqual(40)

  await two.goto(one.url())
  await expect(says(two)).toHaveText(/Heat for \d+ s/)
  await large(one).click()
  await expect(two.getByRole('region', { name: 'What was done' }).getByText(/heated \d+ s/)).toBeVisible()

  // Burst after burst, each when the last is stirred in, until the seed is called for: both hear it.
  const touches = async (name: RegExp, until: RegExp) => {
    await expect(async () => {
      if (until.test((await says(one).textContent()) ?? '')) return
      const t = large(one)
      if ((await t.count()) && name.test((await t.textContent()) ?? ''))
        await t.click({ timeout: 1000 }).catch(() => {})
      expect(await says(one).textContent()).toMatch(until)
    }).toPass({ timeout: 60_000, intervals: [300] })
  }
  await touches(/^Start/, /of seed now/)
  await expect(says(two)).toHaveText(/of seed now/)

  // One is without a network while the seed goes in, and catches up.
  await two.context().setOffline(true)
  await large(one).click()
  await expect(one.getByText(/^seed in/)).toBeVisible()
  await expect(two.getByText(/^seed in/)).toHaveCount(0)
  await two.context().setOffline(false)
  await expect(two.getByText(/^seed in/)).toBeVisible({ timeout: 30_000 })
  await touches(/^$/, /smear test|Warm it/)

  // The server dies, and another goes on: the same bowl, the same curve.
  const began = await one.evaluate(async (path) => (await (await fetch(path)).json()).began, api(one))
  const before = await readings(one)
  await server.stop('SIGKILL')
  const now = new Date(Date.parse(began) + (before.at(-1)!.at + 20) * 1000).toISOString()
  await server.serve(now)
  await expect.poll(async () => (await readings(one)).length, { timeout: 30_000 }).toBeGreaterThan(before.length)
  const after = await readings(one)
  expect(after.slice(0, before.length)).toEqual(before)

  await touches(/^(Start|The smear is made|It has set glossy)/, /Work from it/)
  await expect(says(two)).toHaveText(/Work from it|Warm it/)

  // What is taken back is taken back on both.
  await one.getByRole('button', { name: 'Take back: set glossy' }).click()
  await expect(says(two)).not.toHaveText('Work from it')
  await expect(two.getByText('set glossy', { exact: true })).toHaveCount(0)

  // It is over: its curve stays, and it can be taken up again.
  await one.getByRole('button', { name: 'The bowl is over' }).click()
  await one.getByText('Well', { exact: true }).click()
  await one.getByLabel('Left in the bowl, weighed').fill('4.5')
  await one.getByRole('button', { name: 'Save' }).click()
  await expect(one.getByRole('heading', { name: 'It set well' })).toBeVisible()
  await expect(two.getByRole('heading', { name: 'It set well' })).toBeVisible()
  await expect(one.getByText('4.50 oz')).toBeVisible()
  await one.getByRole('link', { name: 'Back to the run sheet' }).click()
  await expect(one.getByRole('link', { name: /Dark for the truffles.*Over since/ })).toBeVisible()

  // A real thermometer: its link is shown once, and what it posts there is heard.
  await one.getByRole('link', { name: 'Thermometers and scales' }).click()
  await one.getByRole('button', { name: 'Add a thermometer' }).click()
  await one.getByLabel('Name').fill('Garage probe')
  await one.getByRole('button', { name: 'Add', exact: true }).click()
  const link = await one.getByRole('textbox', { name: 'Its secret link' }).inputValue()
  const posted = await fetch(link, {
    method: 'POST',
    headers: { 'Content-Type': 'application/json' },
    body: '{"readings": [{"value": 88.2, "unit": "F"}]}',
  })
  expect(posted.status).toBe(200)
  await one.reload()
  await expect(one.getByRole('listitem').filter({ hasText: 'Garage probe' })).toContainText('said 88.2 °F')
  await expect(one.getByRole('textbox', { name: 'Its secret link' })).toHaveCount(0)
})

const api = (page: Page) => `/api/v1/pots/${page.url().split('/').at(-1)}`

/** The curve as the server tells it. */
const readings = (page: Page): Promise<{ at: number; value: number }[]> =>
  page.evaluate(async (path) => (await (await fetch(path)).json()).curve.temps, api(page))
