import { page, ctx, b } from './zz.mjs'
const treats = (await (await ctx.request.get('/api/v1/treats')).json()).treats
const id = (n) => treats.find((t) => t.name.includes(n)).id
await page.goto('/treats/' + id('Nougat'))
await page.waitForSelector('.takes .big')
await page.getByText('As a recipe says it').first().click()
await page.waitForTimeout(800)
await page.getByLabel('Chocolate of the shells').fill('120 g')
await page.getByLabel('filling', { exact: true }).fill('270 g')
await page.getByLabel('of the caps').fill('30 g')
await page.getByLabel('So many', { exact: true }).fill('14')
await page.getByRole('button', { name: 'Use it' }).click()
await page.waitForTimeout(1200)
await page.screenshot({ path: '/tmp/p6.png' })
await page.goto('/bench/2026-09-05')
await page.waitForTimeout(1500)
await page.screenshot({ path: '/tmp/p7.png', fullPage: true })
await b.close()
