import type { Locator, Page } from '@playwright/test'
import { expect } from './help'

/** A treat of a family, begun in the book. */
export async function begin(page: Page, family: string, name: string) {
  await page.goto('/treats')
  await page.getByRole('button', { name: 'New treat' }).first().click()
  const form = page.getByRole('dialog')
  await form.getByLabel('Name').fill(name)
  await form.getByRole('button', { name: family }).click()
  await form.getByRole('button', { name: 'Create treat' }).click()
  await expect(page.getByRole('textbox', { name: 'Name of the treat' })).toHaveValue(name)
  // Nothing is lost: the sums by hand are of what was ordered.
  await page.locator('[data-path="loss"] input').fill('0')
}

export const press = (on: Page | Locator, name: string | RegExp) => on.getByRole('button', { name }).first().click()

/** Chooses in a list that is found by its label, in a part of the page. */
export async function choose(page: Page, of: Locator, option: string | RegExp) {
  await of.click()
  await page.locator('.ant-select-item-option:visible', { hasText: option }).first().click()
}

/** Chooses an ingredient by typing its name. */
export async function typed(page: Page, of: Locator, name: string) {
  await of.click()
  await page.keyboard.type(name)
  await page.locator('.ant-select-item-option:visible', { hasText: name }).first().click()
}

/** A new design of a treat, with its pieces in a set. */
export async function design(page: Page, name: string, parts: number) {
  const n = await page.locator('.design').count()
  await press(page.locator('.numbers'), 'Add a design')
  const own = page.locator('.design').nth(n)
  await own.getByLabel(`Name of design ${n + 1}`).fill(name)
  await own.getByLabel(`Pieces of ${name} in a set`).fill(String(parts))
  return own
}

/** Something that goes in or on, of a part of the form. */
export async function addition(page: Page, part: Locator, name: string, amount: string, where?: 'in' | 'on') {
  await part.getByRole('button', { name: 'Add an ingredient' }).click()
  await typed(page, part.getByLabel('Which ingredient'), name)
  if (where) await choose(page, part.getByLabel(`Where ${name} goes`), where)
  await part.getByLabel(`Amount of ${name}`).fill(amount)
}

export async function save(page: Page) {
  await expect(page.getByRole('button', { name: 'Save as version 2' })).toBeEnabled()
  await press(page, 'Save as version 2')
  await expect(page.getByRole('status').filter({ hasText: 'version 2' }).first()).toBeVisible()
}

/** What the run sheets say of an order's treats: each step with its amounts, what to look for and the treat's note. */
export async function runSheets(page: Page, order: string) {
  const days = (await (await page.request.get(`/api/v1/orders/${order}`)).json()).days as { days: string[] }[]
  const sheets = await Promise.all(
    [...new Set(days.flatMap((d) => d.days))].map(
      async (day) =>
        (await (await page.request.get(`/api/v1/days/${day}/run-sheet`)).json()).steps as {
          treat: string
          name: string
          amounts: string[]
          look?: string
          treatNote?: string
        }[],
    ),
  )
  return (treat: string) =>
    sheets
      .flat()
      .filter((s) => s.treat === treat)
      .map((s) => [s.name, ...s.amounts, s.look ?? '', s.treatNote ?? ''].join(' | '))
      .join('\n')
}
