import { chromium } from 'playwright-core'
const base = process.env.BASE ?? 'http://127.0.0.1:18090'
export const b = await chromium.launch({ executablePath: '/usr/bin/chromium-headless-shell', args: ['--no-sandbox'] })
export const ctx = await b.newContext({ viewport: { width: 1280, height: 800 }, baseURL: base })
export const page = await ctx.newPage()
page.on('pageerror', (e) => console.log('PAGEERROR', e.message.slice(0, 300)))
page.on('console', (m) => m.type() === 'error' && console.log('CONSOLE', m.text().slice(0, 200)))
page.setDefaultTimeout(8000)
const r = await ctx.request.post('/api/v1/session', { data: { mail: 'maren@lakeside.example', password: 'three warm tins' } })
if (!r.ok()) console.log(await r.text())
