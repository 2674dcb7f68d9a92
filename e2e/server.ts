import { type Browser, expect } from '@playwright/test'
import { type ChildProcess, spawn } from 'node:child_process'
import { mkdtempSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'

/** A server of one's own with a demo kitchen, whose clock runs and which may be killed. */
export class Server {
  readonly base: string
  private readonly data = mkdtempSync(join(tmpdir(), 'zestytin-own-'))
  private process?: ChildProcess

  /** @param offset of its port from that of the others @param speed of its clock @param smtp address of a mail server */
  constructor(
    offset: number,
    private readonly speed: number,
    private readonly smtp?: string,
  ) {
    // Passkeys are for names: where letters are sent, that is how it is reached.
    const host = smtp ? 'localhost' : '127.0.0.1'
    this.base = `http://${host}:${Number(process.env.E2E_PORT ?? 18080) + offset}`
  }

  async serve(now: string) {
    const host = `127.0.0.1:${new URL(this.base).port}`
    const mail = this.smtp ? ['--mail-from', 'post@sweets.example', '--public', this.base, '--demo-kitchen'] : []
    this.process = spawn(
      '../bin/zestytin',
      ['demo', '--fast', '--data', this.data, '--addr', host, '--now', now, '--speed', String(this.speed), ...mail],
      { stdio: 'ignore', env: { ...process.env, ...(this.smtp && { SMTP_URL: this.smtp }) } },
    )
    const ready = async () => (await fetch(`${this.base}/readyz`).catch(() => undefined))?.status
    await expect.poll(ready, { timeout: 90_000 }).toBe(200)
  }

  async stop(how: 'SIGTERM' | 'SIGKILL' = 'SIGTERM') {
    const over = new Promise((resolve) => this.process?.once('exit', resolve))
    this.process?.kill(how)
    await over
  }

  /** A page that is signed in there. */
  async page(browser: Browser, viewport: { width: number; height: number }) {
    const context = await browser.newContext({
      baseURL: this.base,
      viewport,
      storageState: { cookies: [], origins: [] },
    })
    const page = await context.newPage()
    // Tests sign in more often than people do: whoever is told to wait a minute does.
    const signIn = () =>
      page.request.post('/api/v1/session', {
        data: { mail: 'maren@lakeside.example', password: 'three warm tins' },
        headers: { Origin: this.base },
      })
    await expect.poll(async () => (await signIn()).status(), { timeout: 90_000, intervals: [500, 5_000] }).toBe(200)
    return page
  }
}
