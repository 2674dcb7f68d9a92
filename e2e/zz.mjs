import { chromium } from '@playwright/test'
// node zz.mjs path out w h [js]
const base = 'http://127.0.0.1:18090'
const b = await chromium.launch({ executablePath: '/usr/bin/chromium-headless-shell', args: ['--no-sandbox', '--disable-gpu'] })
const shots = process.argv.slice(2).map((a) => a.split('|'))
const c = await b.newContext({ reducedMotion: 'reduce', timezoneId: 'America/New_York', serviceWorkers: 'block' })
await c.request.post(base + '/api/v1/session', { data: { mail: 'maren@lakeside.example', password: 'three warm tins' } })
const p = await c.newPage()
p.on('pageerror', (e) => console.log('ERR', e.message))
for (const [path, out, w, h, js] of shots) {
  await p.setViewportSize({ width: +w, height: +h })
  await p.goto(base + path)
  await p.waitForLoadState('networkidle').catch(() => {})
  await p.waitForTimeout(600)
  if (js) { await eval(`(async () => { ${js} })()`); await p.waitForTimeout(500) }
  await p.screenshot({ path: out })
  console.log(out, await p.evaluate(() => document.documentElement.scrollWidth))
}
await b.close()
