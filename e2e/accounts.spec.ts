import type { Browser, Page } from '@playwright/test'
import { createHmac } from 'node:crypto'
import { expect, test } from './help'
import { Mailbox } from './mailbox'
import { Server } from './server'

// A server of their own that sends letters, and a mailbox in which they arrive.
const mailbox = new Mailbox()
let server: Server
test.beforeAll(async () => {
  test.setTimeout(120_000)
  server = new Server(13, 1, await mailbox.open())
  await server.serve('2026-09-03T10:20:00-04:00')
})
test.afterAll(async () => {
  await server.stop()
  await mailbox.close()
})

const maren = 'maren@lakeside.example'
const screen = { width: 1280, height: 800 }
async function visitor(browser: Browser): Promise<Page> {
  const context = await browser.newContext({
    baseURL: server.base,
    viewport: screen,
    storageState: { cookies: [], origins: [] },
  })
  return context.newPage()
}
const kitchenIsOpen = (page: Page) => expect(page.getByRole('navigation', { name: 'Places' })).toBeVisible()
async function signIn(page: Page, mail: string, password: string) {
  await page.goto('/')
  await page.getByLabel('Email').fill(mail)
  await page.getByLabel('Password').fill(password)
  await page.keyboard.press('Enter')
}

/** The code of a second step, by RFC 6238. */
async function codeOf(page: Page, secret: string, steps = 0) {
  const now = Date.parse((await (await page.request.get('/api/v1/session')).json()).now as string)
  const bits = [...secret.replaceAll(' ', '')].map((c) =>
    'ABCDEFGHIJKLMNOPQRSTUVWXYZ234567'.indexOf(c).toString(2).padStart(5, '0'),
  )
  const key = Buffer.from(
    bits
      .join('')
      .match(/.{8}/g)!
      .map((b) => Number.parseInt(b, 2)),
  )
  const counter = Buffer.alloc(8)
  counter.writeBigUInt64BE(BigInt(Math.floor(now / 30_000) + steps))
  const hash = createHmac('sha1', key).update(counter).digest()
  return String((hash.readUInt32BE(hash.at(-1)! & 15) & 0x7fffffff) % 1e6).padStart(6, '0')
}

test('a kitchen is opened by a letter', async ({ browser }) => {
  const page = await visitor(browser)
  await page.goto('/')
  await page.getByRole('button', { name: 'Create your kitchen' }).click()
  await page.getByLabel('Kitchen name').fill('Harbour sweets')
  await page.getByLabel('Your name').fill('Ada')
  await page.getByLabel('Email').fill('ada@harbour.example')
  await page.getByLabel('Password').fill('kettle orbit plum')
  await page.keyboard.press('Enter')
  await expect(page.getByRole('status').filter({ hasText: 'Look into your mail' })).toBeVisible()
  const link = await mailbox.link('ada@harbour.example', 'Open your kitchen')
  await page.goto(link)
  await expect(page.getByText('Open your kitchen, Harbour sweets?')).toBeVisible()
  await page.getByRole('button', { name: 'Open it' }).press('Enter')
  await expect(page).toHaveURL(/\/start$/)
  await page.goto(link)
  await expect(page.getByRole('alert')).toContainText('has been used already')
  await page.getByRole('button', { name: 'To the kitchen' }).click()
  await kitchenIsOpen(page)
})

test('a visitor tries a kitchen for a day', async ({ browser }) => {
  const page = await visitor(browser)
  await page.goto('/')
  await page.getByRole('button', { name: 'Try a kitchen' }).press('Enter')
  await kitchenIsOpen(page)
  const going = page.getByRole('status').filter({ hasText: 'This kitchen is for you to try. It goes on Fri 4 Sep' })
  await expect(going).toBeVisible()
  await expect(page.getByText('Wren family').first()).toBeVisible()
  await page.goto('/kitchen/data')
  await expect(page.getByRole('button', { name: 'Delete it in a week' })).toHaveCount(0)
})

test('all of a kitchen goes into another one, and the first one goes', async ({ browser }) => {
  const page = await server.page(browser, screen)
  await page.goto('/kitchen/data')
  const [file] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('link', { name: 'Fetch all data (zip)' }).press('Enter'),
  ])
  const path = await file.path()
  // Not into one that is used.
  const chosen = async (p: Page, what: Parameters<Page['setInputFiles']>[1]) => {
    const [chooser] = await Promise.all([
      p.waitForEvent('filechooser'),
      p.getByRole('button', { name: 'Choose a file' }).click(),
    ])
    await chooser.setFiles(what)
  }
  await chosen(page, path)
  await expect(page.getByText('a file is never mixed into it')).toBeVisible()

  const other = await visitor(browser)
  await other.goto('/')
  await other.getByRole('button', { name: 'Create your kitchen' }).click()
  await other.getByLabel('Kitchen name').fill('Quay kitchen')
  await other.getByLabel('Your name').fill('Ida')
  await other.getByLabel('Email').fill('ida@quay.example')
  await other.getByLabel('Password').fill('kettle orbit plum')
  await other.keyboard.press('Enter')
  await other.goto(await mailbox.link('ida@quay.example', 'Open your kitchen'))
  await other.getByRole('button', { name: 'Open it' }).press('Enter')
  await expect(other).toHaveURL(/\/start$/)
  await other.goto('/kitchen/data')
  await chosen(other, {
    name: 'notes.zip',
    mimeType: 'application/zip',
    buffer: Buffer.from('Dear kitchen'),
  })
  await expect(other.getByText('This is not a whole zip file')).toBeVisible()
  await chosen(other, path)
  await expect(other.getByText(/^Taken in: \d+ orders, \d+ treats/)).toBeVisible()
  await other.goto('/orders')
  await expect(other.getByText('Wren family').first()).toBeVisible()

  // The first one is to go; a touch on any page keeps it.
  await page.getByRole('button', { name: 'Delete it in a week' }).press('Enter')
  const going = page.getByRole('status').filter({ hasText: /goes on Thu 10 Sep/ })
  await expect(going).toBeVisible()
  await page.goto('/orders')
  await going.getByRole('button', { name: 'Keep it' }).press('Enter')
  await expect(going).toHaveCount(0)
})

test('an address is proven, moved, and taken back by whoever had it', async ({ browser }) => {
  const page = await server.page(browser, screen)
  await page.goto('/kitchen/you')
  await page.getByRole('button', { name: 'Send a letter to find out' }).click()
  const other = await visitor(browser)
  await other.goto(await mailbox.link(maren, 'Is this your address?'))
  await other.getByRole('button', { name: 'Yes, it is mine' }).press('Enter')
  await expect(other.getByRole('status')).toHaveText('Thank you: letters reach you.')
  await expect(page.getByText(/^proven, Thu 3 Sep/)).toBeVisible() // heard without asking

  // Somebody at an open browser moves it. Ten minutes after signing in they are asked who they are.
  await server.stop()
  await server.serve('2026-09-03T10:40:00-04:00')
  await page.reload()
  await page.getByRole('button', { name: 'Use another email' }).click()
  await page.getByLabel('New email').fill('new@lakeside.example')
  await page.keyboard.press('Enter')
  const again = page.getByRole('dialog', { name: 'Is it still you?' })
  await again.getByLabel('Password').fill('wrong')
  await page.keyboard.press('Enter')
  await expect(again.getByText('not your present password')).toBeVisible()
  await again.getByLabel('Password').fill('three warm tins')
  await page.keyboard.press('Enter')
  await expect(again).toHaveCount(0)
  await expect(page.getByText('A letter is on its way to new@lakeside.example')).toBeVisible()
  await other.goto(await mailbox.link('new@lakeside.example', 'Is this your new address?'))
  await other.getByRole('button', { name: 'Yes, change it' }).press('Enter')
  await expect(page.getByText('new@lakeside.example', { exact: true })).toBeVisible()

  await other.goto(await mailbox.link(maren, 'Your address was changed'))
  await other.getByLabel('New password').fill('four')
  await other.keyboard.press('Enter')
  await expect(other.getByRole('alert')).toContainText('at least 12 characters', { ignoreCase: true })
  await other.getByLabel('New password').fill('four warm tins again')
  await other.keyboard.press('Enter')
  await expect(other.getByRole('status')).toContainText('It is yours again')
  await expect(page.getByRole('button', { name: 'Sign in', exact: true })).toBeVisible({ timeout: 20_000 }) // signed out
  await signIn(other, maren, 'four warm tins again')
  await kitchenIsOpen(other)

  // A forgotten password, by keyboard, back to the first one.
  await page.getByRole('button', { name: 'Forgot your password?' }).press('Enter')
  await page.getByLabel('Email').fill(maren)
  await page.keyboard.press('Enter')
  await expect(page.getByRole('status')).toContainText('If there is an account with this email')
  await page.goto(await mailbox.link(maren, 'A new password'))
  await page.getByLabel('New password').fill('three warm tins')
  await page.keyboard.press('Enter')
  await expect(page.getByRole('status')).toContainText('Your password is set')
  await page.getByRole('button', { name: 'To the kitchen' }).press('Enter')
  await signIn(page, maren, 'three warm tins')
  await kitchenIsOpen(page)
  await page.goto('/kitchen/you')
  await expect(page.getByRole('listitem').filter({ hasText: 'Change of email taken back' })).toBeVisible()
})

test('a second step at the door, and where one is signed in', async ({ browser }) => {
  const page = await server.page(browser, screen)
  await page.goto('/kitchen/you')
  await page.getByRole('button', { name: 'Set it up' }).press('Enter')
  await expect(page.getByRole('img', { name: 'QR code for your authenticator' })).toBeVisible()
  const secret = (await page.locator('.outline code').textContent())!
  await page.getByLabel('Code', { exact: true }).fill('000000')
  await page.keyboard.press('Enter')
  await expect(page.getByText('This code is not right')).toBeVisible()
  await page.getByLabel('Code', { exact: true }).fill(await codeOf(page, secret))
  await page.keyboard.press('Enter')
  const paper = page.getByRole('list', { name: 'Codes on paper' }).getByRole('listitem')
  await expect(paper).toHaveCount(10)
  const [onPaper] = await paper.allTextContents()

  const other = await visitor(browser)
  await signIn(other, maren, 'three warm tins')
  await expect(other.getByText('Type the six figures')).toBeVisible()
  await other.getByLabel('Code').fill(onPaper!.toLowerCase())
  await other.keyboard.press('Enter')
  await kitchenIsOpen(other)
  const third = await visitor(browser)
  await signIn(third, maren, 'three warm tins')
  await third.getByLabel('Code').fill(onPaper!)
  await third.keyboard.press('Enter')
  await expect(third.getByRole('alert')).toContainText('was used already')
  await third.getByLabel('Code').fill(await codeOf(third, secret, 1)) // the clock of the telephone is a little fast
  await third.keyboard.press('Enter')
  await kitchenIsOpen(third)

  // Two others are signed in by now; one is signed out, then all.
  await page.reload()
  await expect(page.getByText('9 codes on paper are left.')).toBeVisible()
  const signOut = page.getByRole('button', { name: /^Sign out: / })
  const before = await signOut.count()
  await signOut.first().click()
  await expect(signOut).toHaveCount(before - 1)
  await page.getByRole('button', { name: 'Sign out everywhere else' }).click()
  await expect(signOut).toHaveCount(0)
  for (const p of [other, third])
    await expect(p.getByRole('button', { name: 'Sign in', exact: true })).toBeVisible({ timeout: 20_000 })
  await page.getByRole('button', { name: 'Switch it off' }).click()
  await expect(page.getByRole('button', { name: 'Set it up' })).toBeVisible()
})

test('a passkey is made, opens the door, and opens nothing any more', async ({ browser }) => {
  test.setTimeout(180_000)
  const page = await server.page(browser, screen)
  const device = await page.context().newCDPSession(page)
  await device.send('WebAuthn.enable')
  await device.send('WebAuthn.addVirtualAuthenticator', {
    options: {
      protocol: 'ctap2',
      transport: 'internal',
      hasResidentKey: true,
      hasUserVerification: true,
      isUserVerified: true,
      automaticPresenceSimulation: true,
    },
  })
  await page.goto('/kitchen/you')
  await page.getByLabel('What you call this device').fill('Bench tablet')
  await page.keyboard.press('Enter')
  const key = page.getByRole('listitem').filter({ hasText: 'Bench tablet' }).first()
  await expect(key).toContainText('made Thu 3 Sep')
  await mailbox.letter(maren, 'A passkey was added')
  // The device has one already, and makes no second for the same person.
  await page.getByLabel('What you call this device').fill('Again')
  await page.keyboard.press('Enter')
  await expect(page.getByText('The device made none')).toBeVisible()

  await page.request.delete('/api/v1/session', { headers: { Origin: server.base } })
  await page.goto('/')
  await page.getByRole('button', { name: 'Sign in with a passkey' }).press('Enter')
  await kitchenIsOpen(page)
  await page.goto('/kitchen/you')
  await expect(key).toContainText('last used Thu 3 Sep')
  await page.getByRole('button', { name: 'Remove Bench tablet' }).click()
  await expect(page.getByRole('button', { name: 'Remove Bench tablet' })).toHaveCount(0)
  await page.request.delete('/api/v1/session', { headers: { Origin: server.base } })
  await page.goto('/')
  await page.getByRole('button', { name: 'Sign in with a passkey' }).press('Enter')
  await expect(page.getByText('This passkey was not taken')).toBeVisible()
})

test('what gives much away is asked for again, and noted', async ({ browser }) => {
  test.setTimeout(180_000)
  const page = await server.page(browser, screen)
  await page.goto('/till')
  const download = () => page.waitForEvent('download')
  const orders = page.getByRole('link', { name: 'Export orders (CSV)' })
  let [file] = await Promise.all([download(), orders.click()])
  expect(file.suggestedFilename()).toBe('zesty-tin-orders.csv')
  await server.stop()
  await server.serve('2026-09-03T11:20:00-04:00')
  await page.reload()
  await orders.click()
  const again = page.getByRole('dialog', { name: 'Is it still you?' })
  await again.getByLabel('Password').fill('three warm tins')
  ;[file] = await Promise.all([download(), page.keyboard.press('Enter')])
  expect(file.suggestedFilename()).toBe('zesty-tin-orders.csv')
  await page.goto('/kitchen/you')
  await expect(page.getByRole('listitem').filter({ hasText: 'Taken out: orders.csv' })).toHaveCount(2)
})
