import { defineConfig } from '@playwright/test'
import { mkdtempSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { kitchens, onPhone } from './kitchens'

// The real binary with a demo kitchen for each file of tests, a server of its own for every run: two runs with
// different ports do not meet. The clock is pinned to a Thursday morning.
export const now = '2026-09-03T10:20:00-04:00'
const port = Number(process.env.E2E_PORT ?? 18080)
const data = (process.env.E2E_DATA ??= mkdtempSync(join(tmpdir(), 'zestytin-e2e-')))

const quiet = [
  '--disable-gpu',
  '--disable-quic',
  '--no-first-run',
  '--disable-background-networking',
  '--disable-component-update',
  '--disable-sync',
  '--host-resolver-rules=MAP kitchen.test 127.0.0.1', // an address that is not this computer's own
]

export default defineConfig({
  testDir: '.',
  outputDir: `test-results/${port}`,
  fullyParallel: false,
  workers: Number(process.env.E2E_WORKERS ?? 3),
  retries: 0,
  timeout: 90_000,
  expect: { timeout: 15_000 },
  reporter: [['list']],
  webServer: {
    command: `../bin/zestytin demo --fast --data ${data} --addr 127.0.0.1:${port} --now ${now} --kitchens ${kitchens.length}`,
    url: `http://127.0.0.1:${port}/readyz`,
    timeout: 120_000,
    reuseExistingServer: false,
    gracefulShutdown: { signal: 'SIGTERM', timeout: 15_000 },
  },
  use: {
    baseURL: `http://127.0.0.1:${port}`,
    timezoneId: 'America/New_York',
    actionTimeout: 30_000, // what is not there by then does not come
    serviceWorkers: 'block', // the worker is tried on its own; a page that loads all files takes time
    contextOptions: { reducedMotion: 'reduce' }, // lists that still slide in do not take a click
    trace: process.env.TRACE ? 'retain-on-failure' : 'off',
    // Debian's Chromium without a window's machinery: the same engine, a fifth less time.
    launchOptions: {
      executablePath: process.env.CHROMIUM ?? '/usr/bin/chromium-headless-shell',
      args: process.getuid?.() === 0 ? ['--no-sandbox', ...quiet] : quiet,
    },
  },
  projects: [
    { name: 'laptop', use: { viewport: { width: 1280, height: 800 } }, testIgnore: /screenshots/ },
    {
      name: 'phone',
      use: { viewport: { width: 390, height: 844 }, hasTouch: true, isMobile: true },
      testMatch: onPhone.map((file) => `${file}.spec.ts`),
      grepInvert: /gzipped|documentation/,
    },
    ...(process.env.SCREENSHOTS
      ? [{ name: 'screenshots', use: { viewport: { width: 1280, height: 800 } }, testMatch: /screenshots/ }]
      : []),
  ],
})
