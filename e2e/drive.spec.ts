import { readFileSync } from 'node:fs'
import type { Page } from '@playwright/test'
import ICAL from 'ical.js'
import { anOrder, expect, move, newKitchen, test } from './help'

const saturday = '2026-09-05'

/** An order that is delivered on Saturday, packed. */
async function aDelivery(page: Page, customer: string, place: string, from: string, to: string, change = {}) {
  const { id } = await anOrder(page, customer, 'Milk malt bombs', 3, {
    way: 'delivery',
    place,
    phone: '555 0199',
    from: `${saturday}T${from}:00-04:00`,
    to: `${saturday}T${to}:00-04:00`,
    ...change,
  })
  await move(page, id, 'promised', 'in the making', 'packed')
  return id
}

const names = (page: Page) => page.locator('.stop h3')

test('the drives of a day: best order, own order, into the plan, at the doors, and no network on the way', async ({
  page,
  context,
}) => {
  await aDelivery(page, 'Reading circle', 'Reading room, Mill Street', '11:00', '11:30')
  await aDelivery(page, 'Quayside tenants', 'Quay 12', '12:40', '13:30')
  await page.goto('/handover')
  await page.getByRole('link', { name: 'Drive on Sat 5 Sep 3 stops' }).click()
  await expect(page.getByRole('heading', { name: "Saturday's drive" })).toBeVisible()
  await expect(names(page)).toHaveText(['Reading circle', 'Wren family', 'Quayside tenants'])
  await expect(page.getByText('All in time. The other way round misses Wren family')).toBeVisible()
  await expect(page.getByRole('img', { name: /From home to Reading circle, Wren family, Quayside/ })).toBeVisible()
  await expect(page.getByRole('link', { name: 'Ring 555 0199' }).first()).toHaveAttribute('href', 'tel:5550199')
  await expect(page.getByRole('link', { name: 'Map to Quayside tenants' })).toHaveAttribute('href', /^geo:46\.01/)

  // Hotter than forecast: ice, and nothing stays at a door.
  await page.getByLabel('Warmest of the day, in the shade').fill('100')
  await expect(page.getByText(/Chocolate: \d ice packs? in a cool box/)).toBeVisible()
  await expect(page.getByText(/Do not leave it at the door: 9\d/).first()).toBeVisible()

  // By keyboard the quay comes first; the reading room is missed, and it says what would do.
  const quay = page.getByRole('button', { name: /Quayside tenants: move it/ })
  await quay.focus()
  await quay.press('ArrowUp')
  await expect(names(page)).toHaveText(['Reading circle', 'Quayside tenants', 'Wren family'])
  await expect(quay).toBeFocused()
  await quay.press('ArrowUp')
  await expect(names(page)).toHaveText(['Quayside tenants', 'Reading circle', 'Wren family'])
  await expect(page.getByText(/Reading circle would be missed by/)).toBeVisible()
  await expect(page.getByText('The suggested order is in time for all')).toBeVisible()
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(names(page)).toHaveText(['Reading circle', 'Quayside tenants', 'Wren family'])
  // By hand.
  const wren = page.getByRole('listitem', { name: 'Wren family' })
  await wren.getByRole('heading').scrollIntoViewIfNeeded()
  const from = (await quay.boundingBox())!
  const last = (await wren.getByRole('heading').boundingBox())!
  await page.mouse.move(from.x + 10, from.y + 10)
  await page.mouse.down()
  await page.mouse.move(from.x + 10, last.y + 8, { steps: 6 })
  await page.mouse.up()
  await expect(names(page)).toHaveText(['Reading circle', 'Wren family', 'Quayside tenants'])
  await page.getByRole('button', { name: 'Best order again' }).click()
  await expect(page.getByText('Your own order.')).toHaveCount(0)

  // In the plan: person 2 is on the road, in the tin and in the day.
  await page.getByLabel('Who drives').click()
  await page.locator('.ant-select-item-option:visible', { hasText: 'Person 2' }).click()
  await page.getByRole('button', { name: 'Put it in the plan' }).click()
  await expect(page.getByText('In the plan: nobody works at the bench while driving')).toBeVisible()
  const [file] = await Promise.all([page.waitForEvent('download'), page.getByRole('link', { name: 'Print' }).click()])
  expect(
    readFileSync((await file.path())!)
      .subarray(0, 5)
      .toString(),
  ).toBe('%PDF-')
  await page.goto('/plan')
  await expect(page.getByRole('link', { name: /^11:\d\d am to 12:\d\d pm/ })).toBeVisible()

  // On a phone, without a network.
  await page.setViewportSize({ width: 390, height: 844 })
  await page.goto(`/handover/drive/${saturday}`)
  const circle = page.getByRole('listitem', { name: 'Reading circle' })
  const tenants = page.getByRole('listitem', { name: 'Quayside tenants' })
  await expect(circle.getByRole('button', { name: 'Handed over' })).toBeVisible()
  await context.setOffline(true)
  await circle.getByRole('button', { name: 'Handed over' }).click()
  await expect(circle.getByText('Will be sent when there is a network.')).toBeVisible()
  await tenants.getByRole('button', { name: 'Something else…' }).click()
  await tenants.getByRole('radio', { name: 'Nobody there' }).check()
  await tenants.getByLabel('Note').fill('rang twice')
  await tenants.getByRole('button', { name: 'Save' }).click()
  await expect(tenants.getByText('rang twice')).toBeVisible()
  await context.setOffline(false)
  await expect(page.getByText('Will be sent when there is a network.')).toHaveCount(0, { timeout: 30_000 })
  await expect(page.getByText('2 of 3 done')).toBeVisible()
  const { orders } = await (await page.request.get('/api/v1/orders?which=all')).json()
  const state = (who: string) => orders.find((o: { customer: string }) => o.customer === who).state
  expect([state('Reading circle'), state('Quayside tenants')]).toEqual(['handed over', 'packed'])
  await circle.getByRole('button', { name: 'Cancel' }).click()
  await expect(circle.getByRole('button', { name: 'Handed over' })).toBeVisible()
})

test('what is told at a door and is refused says why, and can be let go', async ({ page }) => {
  const id = await aDelivery(page, 'Ferry master', 'Ferry office', '15:00', '15:30')
  await page.route('**/api/v1/events', (route) => route.abort()) // the page does not hear what happens meanwhile
  await page.goto(`/handover/drive/${saturday}`)
  const stop = page.getByRole('listitem', { name: 'Ferry master' })
  await expect(stop.getByRole('button', { name: 'Handed over' })).toBeVisible()
  await move(page, id, 'in the making') // somebody unpacks it meanwhile
  await stop.getByRole('button', { name: 'Handed over' }).click()
  const refused = page.getByRole('alert').filter({ hasText: 'Ferry master' })
  await expect(refused).toContainText('cannot become')
  await refused.getByRole('button', { name: 'Discard' }).click()
  await expect(refused).toHaveCount(0)
})

test.describe('in a new kitchen', () => {
  test.use({ storageState: { cookies: [], origins: [] } })

  test('no map and no address: it is asked where one is', async ({ page }) => {
    await newKitchen(page, 'drive')
    await page.goto(`/handover/drive/${saturday}`)
    await expect(page.getByText('Nothing to deliver on this day.')).toBeVisible()
    await page.goto('/handover/drive/2026-02-30')
    await expect(page.getByRole('alert')).toContainText('2026-02-30')
  })
})

test('two people at one drive: who was slower is told, and nothing of the other is lost', async ({ page }) => {
  const id = await aDelivery(page, 'Choir evening', 'Choir room, Chapel Hill', '18:00', '18:30')
  await page.goto(`/handover/drive/${saturday}`)
  const door = page.getByLabel('Minutes at the door of Choir evening')
  await expect(door).toHaveValue('5')
  // Somebody else says meanwhile that nobody need come home for pickups.
  const drives = `/api/v1/drives/${saturday}`
  const { choices } = await (await page.request.get(drives)).json()
  await page.route('**/api/v1/events', (route) => route.abort()) // and the page does not hear of it
  const answer = await page.request.put(drives, { data: { ...choices, warmest: 12 }, headers: { 'If-Match': '*' } })
  expect(answer.status()).toBe(200)
  await door.fill('20')
  await expect
    .poll(async () => {
      const now = (await (await page.request.get(drives)).json()) as { choices: { doors: object; warmest: number } }
      return [now.choices.doors, now.choices.warmest]
    })
    .toEqual([{ [id]: 20 }, 12])
  await expect(door).toHaveValue('20')
})

test('the drive stands in the calendar that others read', async ({ page }) => {
  const drives = '/api/v1/drives/2026-09-11'
  const { choices } = await (await page.request.get(drives)).json()
  await page.request.put(drives, { data: { ...choices, planned: true }, headers: { 'If-Match': '*' } })
  const file = await (await page.request.get('/api/v1/calendar.ics')).text()
  const events = new ICAL.Component(ICAL.parse(file)).getAllSubcomponents('vevent').map((e) => new ICAL.Event(e))
  const drive = events.find((e) => e.uid === 'drive-2026-09-11-1@zestytin')!
  expect(drive.summary).toBe('Drive: 1 stop')
  expect(drive.description).toContain('Science night, School hall')
  const school = events.find((e) => e.summary.includes('Science night'))!
  expect(drive.startDate.compare(school.startDate)).toBeLessThanOrEqual(0)
  expect(drive.endDate.compare(drive.startDate)).toBeGreaterThan(0)
})

test('a way is typed, and a part is handed over by count: the order says what came back', async ({ page }) => {
  const id = await aDelivery(page, 'Part Perrin', 'Quay 9', '15:00', '15:30')
  for (const to of ['in the making', 'packed']) {
    expect((await page.request.post(`/api/v1/orders/${id}/moves`, { data: { to } })).status()).toBe(200)
  }
  await page.goto(`/handover/drive/${saturday}`)
  const stop = page.getByRole('listitem', { name: 'Part Perrin' })
  const way = stop.getByLabel(/^Minutes on the road to Part Perrin from/)
  await way.fill('23')
  await way.press('Enter')
  await expect(way).toHaveValue('23')
  await expect.poll(async () => Number(await way.getAttribute('placeholder'))).toBeGreaterThanOrEqual(23)
  await way.fill('')
  await way.press('Enter')
  await expect.poll(async () => Number(await way.getAttribute('placeholder'))).toBeLessThan(23)

  await stop.getByRole('button', { name: 'Something else…' }).click()
  await stop.getByRole('radio', { name: 'Handed over in part' }).check()
  const given = stop.getByLabel(/^How many .* were handed over/)
  const count = Number(await given.inputValue())
  await given.fill(String(count - 2))
  await stop.getByLabel('Note').fill('two had cracked')
  await stop.getByRole('button', { name: 'Save' }).click()
  await expect(stop.getByText(new RegExp(`^${count - 2} of ${count} `))).toBeVisible()
  await page.goto(`/orders/${id}`)
  const paid = page.getByRole('region', { name: 'Payments' })
  await expect(
    paid.getByText(new RegExp(`At the door: handed over in part. Not handed over: 2 of ${count} `)),
  ).toBeVisible()
  await expect(paid.getByText('two had cracked')).toBeVisible()
})
