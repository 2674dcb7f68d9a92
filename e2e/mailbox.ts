import { expect } from '@playwright/test'
import { type ParsedMail, simpleParser } from 'mailparser'
import type { AddressInfo } from 'node:net'
import { SMTPServer } from 'smtp-server'

/** A mail server that keeps what it is given. */
export class Mailbox {
  readonly letters: ParsedMail[] = []
  private readonly server = new SMTPServer({
    disabledCommands: ['STARTTLS', 'AUTH'],
    onData: (stream, _session, done) => {
      simpleParser(stream).then((l) => {
        this.letters.push(l)
        done()
      }, done)
    },
  })

  /** Its address, once it listens. */
  async open(): Promise<string> {
    await new Promise<void>((resolve) => this.server.listen(0, '127.0.0.1', resolve))
    return `smtp-plain://127.0.0.1:${(this.server.server.address() as AddressInfo).port}`
  }

  close = () => new Promise<void>((resolve) => this.server.close(resolve))

  /** A letter to somebody about something, waited for. */
  async letter(to: string, subject: string) {
    const is = () => this.letters.some((l) => l.subject === subject && [l.to ?? []].flat().some((a) => a.text === to))
    await expect.poll(is, { timeout: 30_000, message: `a letter to ${to}: ${subject}` }).toBe(true)
  }

  /** The link in the last letter to somebody about something, waited for. */
  async link(to: string, subject: string): Promise<string> {
    let found: string | undefined
    await expect
      .poll(
        () => {
          const letter = this.letters.findLast(
            (l) => l.subject === subject && [l.to ?? []].flat().some((a) => a.text === to),
          )
          found = /http\S+\/link\/\S+/.exec(letter?.text ?? '')?.[0]
          return found
        },
        { timeout: 30_000, message: `a letter to ${to}: ${subject}` },
      )
      .toBeTruthy()
    return found!
  }
}
