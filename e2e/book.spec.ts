import { readFile } from 'node:fs/promises'
import type { Page } from '@playwright/test'
import { beside, pick, expect, tabTo, test } from './help'

const open = async (page: Page, name: string) => {
  const { treats } = await (await page.request.get('/api/v1/treats')).json()
  await page.goto(`/treats/${treats.find((t: { name: string }) => t.name.startsWith(name)).id}`)
  await expect(page.getByLabel('Name of the treat')).toHaveValue(new RegExp(name))
  await expect(beside(page).locator('.big')).toBeVisible()
}

test('the section of a treat follows its numbers, for every family', async ({ page }) => {
  test.setTimeout(90_000)
  const drawing = page.getByRole('img', { name: 'Cut through the treat, to scale' })
  for (const [name, label, value] of [
    ['Cardamom-malt bombs', 'Wall', '6 mm'],
    ['A dozen strawberries', 'on a piece', '16 g'],
    ['Sesame pretzel rods', 'Rod diameter', '14 mm'],
    ['Bergamot truffles', 'on a piece', '9 g'],
    ['Pistachio milk bark', 'Depth of chocolate', '1/4 in'],
    ['Brown-butter walnut fudge', 'Rows', '4'],
    ['Nougat cubes', 'Shell, share of the cavity', '55'],
  ] as const) {
    await open(page, name)
    const before = await drawing.innerHTML()
    await page
      .getByRole(label === 'Rows' || label.startsWith('Shell, share') ? 'spinbutton' : 'textbox', {
        name: label,
        exact: true,
      })
      .first()
      .fill(value)
    await expect.poll(() => drawing.innerHTML(), { message: `the drawing of ${name}` }).not.toBe(before)
  }
})

test('a bomb by wall or by weight, as ball or cup; what does not fit is refused with the room there is', async ({
  page,
}) => {
  await open(page, 'Cardamom-malt bombs')
  await expect(page.getByText(/a piece takes 1\.8 oz; the hollow holds 6 1\/2 tbsp, this fills 4 tbsp/)).toBeVisible()
  await page.getByText('weight', { exact: true }).first().click()
  await page.getByRole('textbox', { name: 'Chocolate per piece' }).fill('45 g')
  // Rules 4.5: 44.9 g are a wall of 3 mm.
  await expect(page.getByText('a wall of 0.12 in; the hollow holds')).toBeVisible()
  await page.getByRole('textbox', { name: 'Amount of Cardamom malt mix' }).fill('1/2 cup')
  await expect(beside(page)).toContainText(/fills 2\/3 cup, but only .* fits: it stands over the brim/)
  await page.getByRole('textbox', { name: 'Amount of Cardamom malt mix' }).fill('1 tbsp')
  await expect(beside(page)).not.toContainText('over the brim')
  // A cup wants two coats: the step comes along, and goes with it.
  await page.getByText('cup', { exact: true }).click()
  await expect(page.locator('.ribbon').getByText('Brush bare and thin spots and the rim')).toBeVisible()
  await expect(page.getByRole('textbox', { name: 'Cup, height' })).toBeVisible()
  await page.getByText('ball', { exact: true }).click()
  await expect(page.locator('.ribbon').getByText('Brush bare')).toBeHidden()
  // The reasons stand behind the name of the choice.
  await page.getByRole('button', { name: 'How the mold is coated' }).click()
  await expect(page.locator('.why')).toContainText('fill and drain: Quicker for many')
})

test('counted by the dozen, by rounds, by weight; and what one has', async ({ page }) => {
  await open(page, 'Strawberries with white lines')
  const card = beside(page)
  await pick(page, 'Counted in', 'dozen')
  await expect(page.getByRole('spinbutton', { name: 'How many' })).toHaveValue('2') // 24 pieces said in dozens
  await page.getByRole('spinbutton', { name: 'How many' }).fill('3')
  await expect(card.locator('.big')).toHaveText('36 good')
  await expect(card.getByText('3 dozen are 36 pieces.')).toBeVisible()
  // The slider by keyboard.
  await page.getByRole('slider', { name: 'Quantity slider' }).focus()
  await page.keyboard.press('ArrowRight')
  await expect(card.locator('.big')).toHaveText('48 good')
  await card.getByText('What can I make with what I have?').click()
  await card.getByLabel('I have of').first().fill('3 punnets')
  await card.getByLabel('I have of Dark 60%').fill('900 g')
  await page.keyboard.press('Enter')
  // By hand in the rules' TestWhatOneHas.
  await expect(card.getByText('That makes 54 pieces; Strawberries ends first.')).toBeVisible()
  await card.getByLabel('I have of Dark 60%').fill('2 wheelbarrows')
  await page.keyboard.press('Enter')
  await expect(card.getByRole('alert')).toContainText('“wheelbarrows” is not a unit we know')
})

test('a recipe as people write it becomes a mix, is remembered, and fills truffles', async ({ page }) => {
  await page.goto('/treats')
  await page.getByRole('link', { name: 'Read a recipe' }).click()
  await page
    .getByLabel('Recipe text')
    .fill('400 g dark couverture\n1 cup double cream\n8 oz milk\n2-3 tbsp butter (melted)\npinch of magic')
  const line = (n: number) => page.locator('.read-lines > li').nth(n)
  await expect(line(1)).toHaveClass('settled') // double cream was settled once
  await expect(page.getByText('5 lines read, 4 of them to check.')).toBeVisible()
  await expect(line(2)).toContainText('Ounces of a liquid: by weight (oz), or by volume (fl oz)?')
  const make = page.getByRole('button', { name: 'Make a mix of it' })
  await expect(make).toBeDisabled()
  await pick(page, 'Ingredient of line 1', 'Dark 60%')
  await page.getByRole('button', { name: 'Leave out line 3' }).click()
  await line(3).getByRole('button', { name: 'as written: 2 tbsp' }).click()
  await page.getByRole('button', { name: 'Leave out line 5' }).click()
  await expect(make).toBeEnabled()
  await page.getByLabel('Name of the mix').fill('House ganache')
  await make.click()
  // 400 g, a cup of cream of 238 g and 2/16 of 227 g of butter (rules 4.1): 666.4 g.
  await expect(beside(page).locator('.big')).toHaveText('1 lb 7 1/2 oz')
  // A unit that butter cannot be measured in says what is missing, and offers to enter it.
  await page.getByRole('textbox', { name: 'Amount of Butter' }).fill('3 pieces')
  await expect(page.getByText(/Butter: .*weight per piece is not known/)).toBeVisible()
  await page.getByRole('button', { name: 'Enter it for Butter' }).click()
  const sheet = page.getByRole('dialog', { name: 'Butter' })
  await sheet.getByRole('spinbutton', { name: 'Weight per piece' }).fill('10')
  await sheet.getByRole('button', { name: 'Save' }).click()
  await expect(sheet).toBeHidden()
  await page.getByRole('textbox', { name: 'Amount of Butter' }).fill('3 each')
  await expect(beside(page).locator('.big')).toHaveText('1 lb 7 1/2 oz')
  await page.getByRole('button', { name: 'Add to the book' }).click()
  await expect(page.getByText('House ganache is saved.')).toBeVisible()
  // The same words are known the next time.
  await page.goto('/treats/recipe')
  await page.getByLabel('Recipe text').fill('1 kg dark couverture')
  await expect(line(0)).toHaveClass('settled')
  // And the mix is there for truffles.
  await open(page, 'Bergamot truffles')
  await pick(page, 'Center', 'House ganache')
  await expect(
    beside(page).locator('.part', { hasText: 'Mix' }).getByText('House ganache', { exact: true }),
  ).toBeVisible()
})

test('a cycle of mixes is refused, and nothing is lost', async ({ page }) => {
  await page.goto('/treats')
  await page.getByRole('link', { name: /^Brown butter/ }).click()
  await expect(page.getByText('Used in Walnut fudge')).toBeVisible()
  await page.getByRole('button', { name: 'Add an ingredient or mix' }).click()
  await pick(page, 'Part 2', 'Walnut fudge')
  await expect(
    page.getByText('A mix cannot be made of itself: Brown butter → Walnut fudge → Brown butter.'),
  ).toBeVisible()
  await page.getByRole('button', { name: 'Save' }).click()
  await expect(page.getByLabel('Amount of Walnut fudge')).toBeVisible()
  await page.getByLabel('Leave out Walnut fudge').click()
  await page.getByLabel('Loss').fill('100')
  await expect(page.getByText('Enter a loss between 0 and 95%')).toBeVisible()
})

test('files: a graph of recipes, none, a picture; a treat out and in again', async ({ page }) => {
  await page.goto('/treats/recipe')
  const file = page.getByLabel('Recipe file')
  const json = (text: string) => ({ name: 'recipe.json', mimeType: 'application/json', buffer: Buffer.from(text) })
  await file.setInputFiles(
    json(
      '{"@graph":[{"@type":"WebPage"},{"@type":"Recipe","name":"First","recipeIngredient":["1 cup heavy cream"]},{"@type":"Recipe","name":"Second","recipeIngredient":["2 cups icing sugar","1 egg"]}]}',
    ),
  )
  await expect(page.getByText('2 recipes: choose one. 3 lines read')).toBeVisible()
  await pick(page, 'Which recipe', 'Second')
  await expect(page.locator('.read-lines > li')).toHaveCount(2)
  await file.setInputFiles(json('{"@type":"Person"}'))
  await expect(page.getByRole('alert')).toContainText('There is no recipe in this file')
  await file.setInputFiles({
    name: 'x.png',
    mimeType: 'image/png',
    buffer: Buffer.from([0x89, 0x50, 0x4e, 0x47, 0, 1, 2]),
  })
  await expect(page.getByRole('alert')).toContainText('This is not text')
  await file.setInputFiles({ name: 'x.txt', mimeType: 'text/plain', buffer: Buffer.alloc(1 << 21, '1 cup sugar\n') })
  await expect(page.getByRole('alert')).toContainText('over 1 MB')

  await open(page, 'Nougat cubes')
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('link', { name: 'Treat as a file' }).click(),
  ])
  const text = await readFile(await download.path(), 'utf8')
  expect(download.suggestedFilename()).toBe('nougat-cubes.treat.json')
  await page.goto('/treats')
  await page.getByLabel('Treat’s file').setInputFiles(json(text.replace('zestytin.treat/1', 'something/9')))
  await expect(page.getByRole('alert')).toContainText('This is not a treat’s file'.replace('’', "'"))
  await page.getByLabel('Treat’s file').setInputFiles(json(text.replace('"Nougat cubes"', '"Cubes from afar"')))
  await expect(page.getByLabel('Name of the treat')).toHaveValue('Cubes from afar')
  const [recipe] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('link', { name: 'Recipe (JSON-LD)' }).click(),
  ])
  expect(JSON.parse(await readFile(await recipe.path(), 'utf8'))).toMatchObject({
    '@type': 'Recipe',
    name: 'Cubes from afar',
    recipeYield: '24 pieces',
  })
  const [pdf] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('link', { name: 'Batch card as PDF' }).click(),
  ])
  expect((await readFile(await pdf.path())).subarray(0, 5).toString()).toBe('%PDF-')
})

test('designs, tempering and what changed, by keyboard', async ({ page }) => {
  await open(page, 'A dozen strawberries, three ways')
  const card = beside(page)
  await expect(card.locator('.part', { hasText: 'Designs' }).getByText('Rolled in crumb')).toBeVisible()
  await tabTo(page, /^Pieces of Lake blue in a set$/)
  await page.keyboard.press('ControlOrMeta+a')
  await page.keyboard.type('8')
  // 24 of 4 : 4 : 8 are 6, 6 and 12.
  await expect(card.getByRole('button', { name: '12', exact: true })).toBeVisible()
  await tabTo(page, /^How the coat is tempered$/, 'Shift+Tab')
  await page.keyboard.press('Enter')
  await page.keyboard.type('three')
  await page.getByTitle('three-point').click()
  await expect(card.getByText('Cool, stirring, to 81 to 82 °F (27 to 28 °C).')).toBeVisible()
  await tabTo(page, /^Save as version 2$/)
  await page.keyboard.press('Enter')
  await expect(page.getByText('Saved as version 2')).toBeVisible()
  await tabTo(page, /^What changed, version by version$/)
  await page.keyboard.press('Enter')
  await expect(page.locator('.versions')).toContainText('Design Lake blue: 4 parts → 8 parts')
  await expect(page.locator('.versions')).toContainText('coat, method: new, three-point')
})

test('the scratch pad puts its results into the treat on the table', async ({ page }) => {
  await open(page, 'Milk malt bombs')
  await page.locator('body').press('=')
  const pad = page.getByRole('complementary', { name: 'Scratch pad' })
  await pad.getByRole('button', { name: 'shell' }).click()
  await pick(page, 'Given', 'weight of')
  // A late answer: what was asked before stays to be read, and is not taken for the new one.
  let answer = () => {}
  const held = new Promise<void>((done) => {
    answer = done
  })
  await page.route('**/calculators/shell', async (route) => {
    await held
    await route.continue()
  })
  await pad.getByLabel('Weight').fill('60 g')
  await expect(pad.getByRole('button', { name: 'Take it into Milk malt bombs' })).toBeDisabled()
  answer()
  await pad.getByRole('button', { name: 'Take it into Milk malt bombs' }).click()
  await expect(page.getByText(/a piece takes 2\.1 oz/)).toBeVisible()
  await pad.getByRole('button', { name: 'extras' }).click()
  await pad.getByLabel('Good pieces').fill('60')
  await pad.getByLabel('Loss in percent').fill('3')
  await pad.getByRole('button', { name: 'Take it into Milk malt bombs' }).click()
  await expect(beside(page).getByRole('button', { name: 'start 64' })).toBeVisible() // rules 4.2
  await pad.getByRole('button', { name: 'bowl' }).click()
  await expect(pad.locator('.pad-result')).toHaveText('4 before re-warming')
  await pad.getByLabel('Centers at, in C').fill('40')
  await expect(pad.getByText('as warm as the bowl')).toBeVisible()
})

// Two people at one treat, and at one mix: other fields are merged, also over a reload; the same one is asked.
test('a treat and a mix that somebody else changed meanwhile lose nothing of either', async ({ page }) => {
  const list = async (path: string) => (await (await page.request.get(`/api/v1/${path}`)).json())[path]
  const read = async (path: string) => (await page.request.get(`/api/v1/${path}`)).json()
  const elsewhere = async (path: string, body: (old: Record<string, never>) => object) => {
    const old = await read(path)
    const answer = await page.request.put(`/api/v1/${path}`, {
      headers: { 'If-Match': `"${old.revision}"` },
      data: body(old),
    })
    expect(answer.status(), await answer.text()).toBe(200)
  }
  const waiting = page.getByText('It isn’t saved yet.')
  const asked = page.getByText('Someone else changed this too')

  const { id } = (await list('treats')).find((t: { name: string }) => t.name === 'Sesame pretzel rods')
  const treat = `treats/${id}`
  const change = (fields: object) =>
    elsewhere(treat, (old) => ({ name: old.name, formula: { ...(old.formula as object), ...fields } }))
  await open(page, 'Sesame pretzel rods')
  await page.getByLabel('Loss').fill('9')
  await expect(page.getByText('changed, not saved yet')).toBeVisible()
  await page.waitForTimeout(400) // kept on the device a moment after it was typed
  await change({ keeps: 200 })
  await page.reload() // on top of what was there when it was typed
  await expect(waiting).toBeVisible()
  await expect(page.getByLabel('Loss')).toHaveValue('9.0')
  await page.getByRole('button', { name: /^Save as version/ }).click()
  await expect(page.getByText(/^Saved as version 3/)).toBeVisible()
  const both = (await read(treat)).formula
  expect([both.loss, both.keeps]).toEqual([0.09, 200])

  // The same number.
  await page.getByLabel('Loss').fill('10')
  await change({ loss: 0.2 })
  await page.getByRole('button', { name: /^Save as version/ }).click()
  await expect(asked).toBeVisible()
  await expect(page.getByLabel('Loss')).toHaveValue('10.0')
  await page.getByRole('button', { name: 'Keep mine' }).click()
  await expect(asked).toBeHidden()
  await expect.poll(async () => (await read(treat)).formula.loss).toBe(0.1)
  // Nothing typed here: what somebody else saves is shown.
  await change({ loss: 0.03 })
  await expect(page.getByLabel('Loss')).toHaveValue('3.0', { timeout: 15_000 })

  const mix = `mixes/${(await list('mixes')).find((m: { name: string }) => m.name === 'Walnut fudge').id}`
  const stir = (fields: object) =>
    elsewhere(mix, ({ name, parts, loss, density, method }) => ({ name, parts, loss, density, method, ...fields }))
  await page.goto(`/treats/${mix}`)
  await page.getByLabel('Loss').fill('7')
  await stir({ method: 'Boil, cool, beat.' })
  await page.getByRole('button', { name: 'Save', exact: true }).click()
  await expect(page.getByText('Walnut fudge is saved.')).toBeVisible()
  const stirred = await read(mix)
  expect([stirred.loss, stirred.method]).toEqual([0.07, 'Boil, cool, beat.'])
  await page.getByLabel('Loss').fill('6')
  await stir({ loss: 0.11 })
  await page.getByRole('button', { name: 'Save', exact: true }).click()
  await page.getByRole('button', { name: 'Use theirs' }).click()
  await expect(page.getByLabel('Loss')).toHaveValue('11')
  await expect(asked).toBeHidden()
})

// The answer to a save comes late, and one has typed on: nothing of it is taken back, and it can be saved next.
test('what is typed while a treat, a mix and the settings are saved stays', async ({ page }) => {
  let send = () => {}
  const late = async (path: string) => {
    const held = new Promise<void>((resolve) => (send = resolve))
    await page.unrouteAll()
    await page.route(path, async (route) => {
      if (route.request().method() === 'PUT') await held
      await route.continue()
    })
  }
  await open(page, 'Apricots in lake blue')
  await late('**/api/v1/treats/*')
  await page.getByLabel('Loss').fill('8')
  const save = page.getByRole('button', { name: /^Save as version/ })
  await save.click()
  await page.getByLabel('Name of the treat').fill('Apricots, deep blue')
  await page.getByLabel('Loss').fill('7')
  send()
  await expect(page.getByText(/^Saved as version/)).toBeVisible()
  await expect(page.getByLabel('Name of the treat')).toHaveValue('Apricots, deep blue')
  await expect(page.getByLabel('Loss')).toHaveValue('7')
  await expect(page.getByText('changed, not saved yet')).toBeVisible()
  await save.click()
  await expect(page.getByText('changed, not saved yet')).toBeHidden()
  const { treats } = await (await page.request.get('/api/v1/treats')).json()
  const kept = treats.find((t: { name: string }) => t.name === 'Apricots, deep blue')
  expect(kept.formula.loss).toBe(0.07)

  const { mixes } = await (await page.request.get('/api/v1/mixes')).json()
  await page.goto(`/treats/mixes/${mixes[0].id}`)
  await late('**/api/v1/mixes/*')
  await page.getByLabel('Loss').fill('4')
  await page.getByRole('button', { name: 'Save', exact: true }).click()
  await page.getByLabel('Loss').fill('5')
  send()
  await expect(page.getByText(/ is saved\./)).toBeVisible()
  await expect(page.getByLabel('Loss')).toHaveValue('5')
  await expect(page.getByText('changed, not saved yet')).toBeVisible()

  await page.goto('/kitchen')
  await late('**/api/v1/kitchen')
  const address = page.getByLabel('Address', { exact: true })
  const settings = page.getByRole('button', { name: 'Save', exact: true })
  await address.fill('1 First Lane')
  await settings.click()
  await address.fill('2 Second Lane')
  send()
  await expect(page.getByText('Saved. All figures are updated.').first()).toBeVisible()
  await expect(address).toHaveValue('2 Second Lane')
  await settings.click()
  const stored = async () => (await (await page.request.get('/api/v1/kitchen')).json()).address
  await expect.poll(stored).toBe('2 Second Lane')
})
