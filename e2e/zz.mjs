import { chromium } from 'playwright-core'
const base = 'http://127.0.0.1:18090'
const b = await chromium.launch({ executablePath: '/usr/bin/chromium-headless-shell', args: ['--no-sandbox'] })
const c = await b.newContext({ viewport: { width: 1280, height: 800 }, baseURL: base })
const h = { Origin: base }
await c.request.post(base + '/api/v1/session', { data: { mail: 'maren@lakeside.example', password: 'three warm tins' }, headers: h })
const s = await (await c.request.get(base + '/api/v1/ask-page')).json()
await c.request.put(base + '/api/v1/ask-page', { data: { ...s, open: true, delivers: true, hello: 'Everything is made by hand in a small kitchen by the lake.\nAsk early: good chocolate takes its time.' }, headers: { ...h, 'If-Match': '*' } })
const p = await c.newPage()
p.on('console', (m) => ['error', 'warning'].includes(m.type()) && console.log(m.text()))
p.on('pageerror', (e) => console.log('PAGE', e.message))
if (process.argv[3] === 'phone') await p.setViewportSize({ width: 390, height: 844 })
await p.goto(base + process.argv[2]); await p.waitForTimeout(1500)
if (process.argv[5] === 'days') { await p.getByLabel('How many?').first().fill('24'); const t = Date.now(); await p.getByRole('button', { name: 'See possible days' }).click(); await p.waitForLoadState(); console.log(Date.now() - t, 'ms') }
await p.screenshot({ path: '/tmp/z.png', fullPage: process.argv[4] === 'full' })
await b.close()
