import AxeBuilder from '@axe-core/playwright'
import { pick, expect, tabTo, test } from './help'

test('the scratch pad opens over any place with =, and reckons as one types', async ({ page }) => {
  await page.goto('/till')
  await expect(page.getByRole('heading', { name: 'The till' })).toBeVisible()
  await page.locator('body').press('=')
  const pad = page.getByRole('complementary', { name: 'Scratch pad' })
  await expect(pad).toBeFocused()
  const result = pad.locator('.pad-result')

  await tabTo(page, /^convert$/)
  await page.keyboard.press('Enter')
  await expect(result).toHaveText('355 mL · 1 1/2 cups')
  await pick(page, 'Ingredient', 'Mini marshmallows')
  await expect(pad.getByText(/74\.\d+ g/)).toBeVisible() // 1 1/2 cups at 50 g a cup (rules 4.1) are 75 g
  await pick(page, 'Ingredient', 'Strawberries')
  await expect(pad.getByText('The density of Strawberries is not known')).toBeVisible()
  await pad.getByLabel('Amount').fill('2 thimbles')
  await expect(pad.getByText('“thimbles” is not a unit we know')).toBeVisible()

  await pad.getByRole('button', { name: 'recipe' }).click()
  await pad.getByLabel('Lines of a recipe').fill('2-3 tbsp butter (melted)\none 14-oz can condensed milk\n8 oz milk')
  await expect(pad.locator('.pad-lines li')).toHaveText([
    /2 to 3 tbsp butter melted/,
    /14 oz condensed milk/,
    /8 oz milk.*by weight \(oz\), or by volume/,
  ])
  await tabTo(page, /^extras$/, 'Shift+Tab')
  await page.keyboard.press('Enter')
  await expect(result).toHaveText('start 56') // rules 4.2
  await pad.getByLabel('Good pieces').fill('100')
  await expect(result).toHaveText('start 114')

  await pad.getByRole('button', { name: 'shell' }).click()
  await expect(result).toHaveText('1.8 oz') // rules 4.5: 51.5 g
  await pad.getByLabel('Wall').fill('2 in')
  await expect(pad.getByText('The wall leaves no hollow')).toBeVisible()

  await pad.getByRole('button', { name: 'sheet' }).click()
  await expect(result).toHaveText('11 1/2 oz, × 1.89') // rules 4.5: 329 g, and 623 g on the other
  await pad.getByRole('button', { name: 'ganache' }).click()
  await expect(
    pad.getByText(/8 3\/4 oz chocolate \(56.8%\), 4 1\/4 oz cream \(27.3%\), 2 1\/2 oz liqueur \(15.9%\): 40 pieces\./),
  ).toBeVisible()
  await pad.getByRole('button', { name: 'seed' }).click()
  await expect(pad.getByText(/28% of it/)).toBeVisible() // rules 4.3
  await pad.getByRole('button', { name: 'cooling' }).click()
  await expect(result).toHaveText('ready in 12 min') // by hand: at 32 C after 18 minutes, 6 are gone
  await pad.getByRole('button', { name: 'altitude' }).click()
  await expect(result).toHaveText('106.6 °C') // rules 4.6: water at 1609 m boils at 94.6 C
  const found = await new AxeBuilder({ page })
    .include('.pad')
    .withTags(['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa'])
    .analyze()
  expect(found.violations.map((v) => `${v.id}: ${v.nodes.map((n) => n.target.join(' ')).join(' | ')}`)).toEqual([])
  await page.keyboard.press('Escape')
  await expect(pad).toBeHidden()
})
