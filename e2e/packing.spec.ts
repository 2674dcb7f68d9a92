import { readFileSync } from 'node:fs'
import { anOrder, expect, move, test } from './help'

test('an order is packed: boxes to scale, its labels printed, and what is in it', async ({ page }) => {
  const order = await anOrder(page, 'Pack Perrin', 'A dozen strawberries, three ways', 24)
  await move(page, order.id, 'promised', 'in the making')
  await page.goto('/handover')
  await page
    .getByRole('listitem', { name: /Pack Perrin/ })
    .getByRole('link', { name: 'Boxes and labels' })
    .click()
  await expect(page.getByRole('link', { name: /Pack Perrin/ })).toHaveAttribute('aria-current', 'page')
  await expect(page.getByRole('img', { name: /12 pieces in Boxes for 12/ })).toBeVisible()
  await expect(page.getByRole('region', { name: 'Pack list' })).toContainText('2 Boxes for 12')

  const label = page.getByRole('region', { name: 'Label, to scale' })
  const drawn = label.getByRole('img', { name: /label of A dozen strawberries/i })
  await expect(drawn).toContainText('Ingredients:')
  await expect(drawn).toContainText(/Net wt 16\.[34] oz \(1 lb 0\.[34] oz\)\s*46\d g/)
  // To scale: the usual label of a kitchen in inches is 101.6 by 84.6 mm, its figures 3/16 in high at least.
  await expect(drawn).toHaveAttribute('viewBox', '0 0 101.6 84.6')
  await label.getByLabel('Sheet').click()
  await page.locator('.ant-select-item-option:visible', { hasText: '3.9 in × 2.67 in' }).click()
  await expect(drawn).toHaveAttribute('viewBox', '0 0 99.1 67.7')
  await expect(label.getByText('smallest letters 1/16 in')).toBeVisible()
  await label.getByLabel('Sheet').click()
  await page.locator('.ant-select-item-option:visible', { hasText: '4 in × 3.33 in' }).click()
  await label.getByLabel('A line that local rules ask for').fill('Made in a home kitchen')
  await expect(drawn).toContainText('Made in a home kitchen')
  await label.getByLabel('Start at label').fill('6')
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    label.getByRole('link', { name: 'Print 2 labels' }).click(),
  ])
  expect(
    readFileSync((await download.path())!)
      .subarray(0, 5)
      .toString(),
  ).toBe('%PDF-')
  // A small one is refused with its reason; one's own is measured, and kept on this device.
  await label.getByLabel('Sheet').click()
  await page.locator('.ant-select-item-option:visible', { hasText: '2 1/4 in × 1 1/4 in' }).click()
  await expect(label.getByText(/Take a larger label/)).toBeVisible()
  await expect(label.getByRole('link', { name: /^Print/ })).toHaveCount(0)
  await label.getByLabel('Sheet').click()
  await page.locator('.ant-select-item-option:visible', { hasText: 'a sheet of my own' }).click()
  await label.getByLabel('Labels side by side').fill('9')
  await label.getByLabel('Labels side by side').blur()
  await expect(label.getByText(/The labels end at/)).toBeVisible()
  await label.getByLabel('Labels side by side').fill('1')
  await label.getByLabel('Label, width').fill('120')
  await label.getByLabel('Label, height').fill('90')
  await label.getByLabel('Labels one below the other').fill('2')
  await label.getByLabel('Down to the next').fill('95')
  await expect(drawn).toHaveAttribute('viewBox', '0 0 120 90')
  await page.reload()
  await expect(drawn).toHaveAttribute('viewBox', '0 0 120 90')

  // A code for machines beside it: one that is none says why.
  const code = async (kind: string) => {
    await label.getByRole('combobox', { name: 'Code' }).click()
    await page.locator('.ant-select-item-option:visible', { hasText: kind }).click()
  }
  await code('Article number')
  await label.getByLabel('Its digits').fill('4006381333932')
  await expect(label.getByText(/is no article number/)).toBeVisible()
  await label.getByLabel('Its digits').fill('4006381333931')
  await expect(drawn.locator('.mark')).toHaveCount(30) // the bars of EAN-13: 3 x 2 at the guards, 12 x 2 of its digits
  await code('QR code')
  await label.getByLabel('What it says').fill('https://sweets.example')
  await expect.poll(() => drawn.locator('.mark').count()).toBeGreaterThan(100)

  // Packed, one sees what is in it; from there every other order that got some of the same.
  await expect(page.getByText('Known once it is made and packed.')).toBeVisible()
  await page.getByRole('button', { name: 'Packed', exact: true }).click()
  await expect(page.getByText('Pack Perrin: packed.')).toBeVisible()
  await page.goto(`/handover/${order.id}`)
  const inIt = page.getByRole('region', { name: 'What went in' })
  await inIt.getByRole('listitem').filter({ hasText: 'Dark 60%' }).first().getByRole('link').click()
  await expect(page.getByRole('heading', { name: /Where Dark 60% went/ })).toBeVisible()
  await expect(page.getByRole('listitem').filter({ hasText: 'Pack Perrin' })).toBeVisible()
  const [file] = await Promise.all([page.waitForEvent('download'), page.getByRole('link', { name: 'as CSV' }).click()])
  expect(readFileSync((await file.path())!, 'utf8')).toContain('Pack Perrin')
})

test('a mock recall begins at a lot in the larder', async ({ page }) => {
  await page.goto('/larder')
  await page
    .getByRole('button', { name: /^Dark 60%/ })
    .first()
    .click()
  await page
    .getByRole('button', { name: /bought .* good until|bought|counted/ })
    .first()
    .click()
  await page.getByRole('link', { name: 'Where it went' }).first().click()
  await expect(page.getByRole('heading', { name: /Where Dark 60% went/ })).toBeVisible()
  await expect(page.getByText(/orders? got some of it/)).toBeVisible()
})

test('a list of guests becomes tags, and is told beside the mixed boxes', async ({ page }) => {
  const order = await anOrder(page, 'Wedding Weaver', 'A dozen strawberries, three ways', 24)
  await page.goto(`/handover/${order.id}`)
  await page.getByText('Name tags for guests').click()
  await page.getByRole('textbox', { name: 'Guests' }).fill('name;table\nAna Quay;10\nBo Hill;2\n;3\nCy Lake;2')
  await expect(page.getByText('3 guests at 2 tables: 2 (2), 10 (1)')).toBeVisible()
  await expect(page.getByText('Lines that cannot be read: 4.')).toBeVisible()
  const [tags] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: 'Print 3 tags' }).click(),
  ])
  const pdf = readFileSync((await tags.path())!)
  expect(pdf.subarray(0, 5).toString()).toBe('%PDF-')
  // What was pasted is there after a reload: nobody types sixty names twice.
  await page.waitForTimeout(400)
  await page.reload()
  await expect(page.getByRole('textbox', { name: 'Guests' })).toHaveValue(/Cy Lake/)
  await page.getByRole('textbox', { name: 'Guests' }).fill('Ana ᚠ')
  await page.getByRole('button', { name: 'Print 1 tag' }).click()
  await expect(page.getByText(/cannot be printed: no font here has it/)).toBeVisible()
})

test('the pack list of a day: from which tin, for whom, and what is ticked stays so for who packs along', async ({
  page,
}) => {
  await page.goto('/handover')
  await page.getByRole('link', { name: /^To pack for Sat 5 Sep/ }).click()
  const tins = page.getByRole('region', { name: 'From which tin' })
  await expect(tins.getByText(/36 for Wren family/)).toBeVisible()
  const wren = page.getByRole('article', { name: 'Wren family' })
  await expect(wren.getByText(/free from peanut/i)).toBeVisible()
  const kept = () => page.waitForResponse((r) => r.url().endsWith('/pack-ticks') && r.status() === 204)
  await Promise.all([kept(), wren.getByRole('checkbox', { name: /36 Strawberries with white lines/ }).check()])
  await Promise.all([kept(), wren.getByRole('checkbox').last().press('Space')])
  await expect(page.getByText(/^2 of \d+ ticked$/)).toBeVisible()
  await page.reload()
  await expect(wren.getByRole('checkbox', { name: /36 Strawberries with white lines/ })).toBeChecked()
  // On the order's own page the same packaging is ticked.
  await wren.getByRole('link', { name: 'Wren family' }).click()
  await expect(page.getByRole('region', { name: 'Pack list' }).getByRole('checkbox', { checked: true })).toHaveCount(1)
  await page.goto('/handover/packing/2026-09-06')
  await expect(page.getByText('Nothing is handed over on this day.')).toBeVisible()
})
