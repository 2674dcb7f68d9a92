import { Button, Input } from 'antd'
import { type FormEvent, useState } from 'react'
import { api, ask, Refused } from '../api/client'
import { Fault, Field } from '../kit/Field'
import { words } from './words'

/** Asks for a letter by which a forgotten password is replaced. Whether there is an account is not told here. */
export function Forgot({ mails, back }: { mails?: boolean; back: () => void }) {
  const [mail, setMail] = useState('')
  const [sent, setSent] = useState(false)
  const [refused, setRefused] = useState<Refused>()
  async function send(e: FormEvent) {
    e.preventDefault()
    try {
      await ask(api.POST('/api/v1/password-resets', { body: { mail } }))
      setSent(true)
    } catch (error) {
      if (!(error instanceof Refused)) throw error
      setRefused(error)
    }
  }
  return (
    <>
      {!mails && <p>{words.noLettersForgot}</p>}
      {sent && <p role="status">{words.linkSent}</p>}
      {mails && !sent && (
        <form onSubmit={(e) => void send(e)} noValidate>
          <Field label={words.email} help={words.forgotHelp}>
            <Input
              autoFocus
              size="large"
              type="email"
              autoComplete="username"
              value={mail}
              onChange={(e) => setMail(e.target.value)}
            />
          </Field>
          <Fault>{refused?.message}</Fault>
          <Button type="primary" size="large" htmlType="submit" block disabled={!mail}>
            {words.sendLink}
          </Button>
        </form>
      )}
      <Button type="link" className="link" onClick={back}>
        {words.backToSignIn}
      </Button>
    </>
  )
}
