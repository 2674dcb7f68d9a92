import { readFileSync } from 'node:fs'
import type { Page } from '@playwright/test'
import { expect, test } from './help'

interface Schema {
  $ref?: string
  type?: string | string[]
  properties?: Record<string, Schema>
  items?: Schema
}

const api = JSON.parse(readFileSync(new URL('../docs/openapi.json', import.meta.url), 'utf8')) as {
  components: { schemas: Record<string, Schema> }
}

/** All fields of a shape, by their paths; an amount is one. */
function fieldsOf(name: string, at = ''): string[] {
  const of = (schema: Schema, path: string): string[] => {
    const ref = schema.$ref?.split('/').pop()
    if (ref === 'MeasureQuantity') return [path]
    if (ref) return fieldsOf(ref, path)
    if (schema.items?.$ref) return of(schema.items, `${path}[]`)
    return [path]
  }
  return Object.entries(api.components.schemas[name]!.properties!).flatMap(([key, schema]) =>
    of(schema, at ? `${at}.${key}` : key),
  )
}

/** Said by what is added, not in a field of its own: a family when it is begun, a role by the link that adds it. */
const chosen = ['family', 'coatings[].role', 'finishes[].coatings[].role', 'steps[].id', 'choices']

test('every field of a formula is in the form', async ({ page }) => {
  test.slow()
  const found = new Set<string>()
  const look = async () => {
    const paths = await page
      .locator('[data-path]')
      .evaluateAll((all) =>
        all
          .filter((e) => e.querySelector('input, select, textarea, button, [role=combobox]'))
          .map((e) => e.getAttribute('data-path')!.replace(/\[\d+\]/g, '[]')),
      )
    paths.forEach((p) => found.add(p))
  }
  const numbers = page.locator('.numbers')
  const press = async (...names: (string | RegExp)[]) => {
    for (const name of names) {
      await numbers.getByRole('button', { name }).first().click()
      await look()
    }
  }
  const choose = async (label: string | RegExp) => {
    await numbers.getByText(label, { exact: true }).first().click()
    await look()
  }

  await openTreat(page, 'Cardamom-malt bombs')
  await choose('weight')
  await press('Add the mug size', 'Marble the shell', 'Set a stick in a dab', 'Add lines on top', /^Fill the rest with/)
  await press(/^Tint, flavor, thinner, melting… Shell/, 'Add a tint', 'Add a flavor', 'Add a thinner')
  await press('Add a design', /^Shell of its own/, /^Shell of its own/)
  const own = numbers.locator('.design')
  const addTo = async (part: typeof own) => {
    await part.getByRole('button', { name: 'Add an ingredient' }).click()
    await part.getByLabel('Which ingredient').click()
    await page.keyboard.type('Biscuit crumb')
    await page.locator('.ant-select-item-option:visible', { hasText: 'Biscuit crumb' }).first().click()
    await look()
  }
  await addTo(own)
  await own.getByRole('button', { name: /^Fill the rest/ }).click()
  await look()
  await page.getByText('cup', { exact: true }).first().click()
  await look()

  await openTreat(page, 'Nougat cubes')
  await page.getByRole('button', { name: 'Measure a piece' }).click()
  await look()
  await press('Trim the rim', 'Add a design', /^Fill of its own/)
  await page.getByLabel('Shape of the cavity').click()
  await page.locator('.ant-select-item-option:visible', { hasText: 'loaf' }).click()
  await look()
  await openTreat(page, 'Bergamot truffles')
  await choose('size across')
  await choose('thickness')
  await press('Add a design', /of its own for Design 1/, /^Coat of its own/, /^Lines of its own/)
  await own.getByText('weight').first().click()
  await look()
  await own.getByText('size across').click()
  await look()
  await own.getByText('thickness').click()
  await addTo(own)
  await own.getByRole('button', { name: /^Roll in/ }).click()
  await look()
  await press(/^Roll in/)

  await openTreat(page, 'A dozen strawberries, three ways')
  await page.getByText('Edit steps').click()
  const steps = await page.getByRole('button', { name: /^More of: / }).count()
  for (let i = 0; i < steps; i++) {
    await page
      .getByRole('button', { name: /^More of: / })
      .nth(i)
      .click()
    await look()
  }
  await page
    .getByRole('button', { name: /^More of: / })
    .first()
    .click()
  await page.getByRole('button', { name: 'in a bath…' }).click()
  await look()
  for (const treat of ['Sesame pretzel rods', 'Brown-butter walnut fudge', 'Hazelnut and sour-cherry bark'])
    await openTreat(page, treat)
  await openTreat(page, 'Nougat cubes')
  await page.getByText('Edit steps').click()
  await page
    .getByRole('button', { name: /^More of: / })
    .first()
    .click()
  await look()

  async function openTreat(page: Page, name: string) {
    await page.goto('/treats')
    await page.getByRole('link', { name }).first().click()
    await expect(page.getByRole('complementary', { name: 'Batch card' }).locator('.big')).toBeVisible()
    await look()
  }
  // A centre of a design is never a counted fruit or a rod, and only a marbled shell of it has shares.
  const never = ['finishes[].centre.share', 'finishes[].centre.size', 'finishes[].centre.length']
  const missing = fieldsOf('TreatFormula').filter((f) => !found.has(f) && !chosen.includes(f) && !never.includes(f))
  expect(missing, 'fields of the API that no screen reaches').toEqual([])
  expect([...found].filter((p) => p.startsWith('choices.')).length).toBeGreaterThan(12)
})
