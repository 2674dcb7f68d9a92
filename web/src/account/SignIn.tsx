import { useQueryClient } from '@tanstack/react-query'
import { Button, Input } from 'antd'
import { type FormEvent, useState } from 'react'
import { useNavigate } from 'react-router'
import { api, ask, Refused, type Schemas } from '../api/client'
import { Fault, Field } from '../kit/Field'
import { guessedCountry, guessedZone } from '../kit/places'
import { Forgot } from './Forgot'
import { canAsk, signInByPasskey } from './passkey'
import { PlaceFields } from './PlaceFields'
import { words } from './words'
import './account.css'

interface Door {
  demo?: Schemas['AccountSignIn']
  mails?: boolean
  toTry?: boolean // a kitchen can be tried
  passkeys?: boolean // this address can have passkeys
}

/** The door: sign in, or open a kitchen of one's own. */
export default function SignIn({ demo, mails, toTry, passkeys }: Door) {
  const queries = useQueryClient()
  const navigate = useNavigate()
  const [opening, setOpening] = useState(false)
  const [forgot, setForgot] = useState(false)
  const [mailed, setMailed] = useState(false)
  const [trying, setTrying] = useState(false)
  const [noKey, setNoKey] = useState<string>() // why no passkey was taken
  const [second, setSecond] = useState(false) // a code is asked for
  const [busy, setBusy] = useState(false)
  const [refused, setRefused] = useState<Refused>()
  const [f, setF] = useState({
    mail: '',
    password: '',
    code: '',
    name: '',
    kitchen: '',
    country: guessedCountry(),
    timeZone: guessedZone(),
  })
  const field = (
    key: keyof typeof f,
    label: string,
    more: { type?: string; autoComplete: string; autoFocus?: boolean },
  ) => {
    const fault = refused?.at(key)
    return (
      <Field label={label} fault={fault}>
        <Input
          size="large"
          value={f[key]}
          name={key}
          {...more}
          status={fault ? 'error' : undefined}
          aria-invalid={Boolean(fault)}
          onChange={(e) => setF({ ...f, [key]: e.target.value })}
        />
      </Field>
    )
  }
  async function submit(e: FormEvent | null, as?: Schemas['AccountSignIn']) {
    e?.preventDefault()
    setBusy(true)
    setRefused(undefined)
    try {
      const { code, ...opened } = f
      const session = opening
        ? await ask(api.POST('/api/v1/kitchens', { body: opened }))
        : await ask(
            api.POST('/api/v1/session', {
              body: as ?? { mail: f.mail, password: f.password, code: code || undefined },
            }),
          )
      if (session.mailed) return setMailed(true)
      if (opening) {
        queries.setQueryData(['opened'], true) // a new kitchen begins with the starter
        void navigate('/start', { replace: true })
      }
      queries.setQueryData(['session'], session)
    } catch (error) {
      if (!(error instanceof Refused)) throw error
      const why = error.problem.code
      if (why === 'account.code-needed' || why === 'account.wrong-code') setSecond(true)
      setRefused(why === 'account.code-needed' ? undefined : error)
    } finally {
      setBusy(false)
    }
  }
  async function byPasskey() {
    setNoKey(undefined)
    try {
      queries.setQueryData(['session'], await signInByPasskey())
    } catch (error) {
      setNoKey(error instanceof Refused ? error.message : words.passkeyNotUsed)
    }
  }
  async function tryOut() {
    setTrying(true)
    try {
      queries.setQueryData(['session'], await ask(api.POST('/api/v1/try-outs', {})))
    } catch (error) {
      if (!(error instanceof Refused)) throw error
      setRefused(error)
    } finally {
      setTrying(false)
    }
  }
  return (
    <main className="door">
      <section className="door-card">
        <svg viewBox="0 0 220 120" className="door-tin" aria-hidden="true">
          <rect x="6" y="18" width="208" height="96" rx="24" className="tin-rim" />
          <rect x="18" y="30" width="184" height="72" rx="15" className="tin-inside" />
          <rect x="23" y="35" width="62" height="62" rx="9" fill="#452818" />
          <rect x="89" y="35" width="34" height="62" rx="9" fill="#8A5733" />
          <rect x="89" y="35" width="34" height="62" rx="9" fill="url(#zt-dots)" />
          <rect x="127" y="35" width="26" height="62" rx="9" fill="#F3E5C6" stroke="#A58E62" />
          <rect x="158" y="36" width="39" height="60" rx="9" className="dashed" />
        </svg>
        <h1>Zesty Tin</h1>
        <p className="soft">{words.ordersBatchesAndDaysOf}</p>
        {mailed && <p role="status">{words.lookIntoYourMail}</p>}
        {forgot && <Forgot mails={mails} back={() => setForgot(false)} />}
        {!forgot && !mailed && (
          <form onSubmit={(e) => void submit(e)} noValidate>
            {opening && field('kitchen', words.kitchenName, { autoComplete: 'organization' })}
            {opening && field('name', words.yourName, { autoComplete: 'name' })}
            {field('mail', words.email, { type: 'email', autoComplete: 'username' })}
            {field('password', words.password, {
              type: 'password',
              autoComplete: opening ? 'new-password' : 'current-password',
            })}
            {second && !opening && (
              <>
                <p role="status">{words.codeNeeded}</p>
                {field('code', words.code, { autoComplete: 'one-time-code', autoFocus: true })}
              </>
            )}
            {opening && (
              <PlaceFields at={f} set={(change) => setF({ ...f, ...change })} refused={refused} size="large" />
            )}
            {refused && !Object.keys(f).some((key) => refused.at(key)) && (
              <p className="fault" role="alert">
                {refused.message}
              </p>
            )}
            <Button type="primary" size="large" htmlType="submit" loading={busy} block>
              {opening ? words.createKitchen : words.signIn}
            </Button>
          </form>
        )}
        {!opening && !forgot && !mailed && (
          <Button type="link" className="link" onClick={() => setForgot(true)}>
            {words.forgot}
          </Button>
        )}
        {passkeys && canAsk && !opening && !forgot && !mailed && (
          <div className="by-passkey">
            <Button block size="large" onClick={() => void byPasskey()}>
              {words.byPasskey}
            </Button>
            <Fault>{noKey}</Fault>
          </div>
        )}
        {toTry && !opening && !forgot && !mailed && (
          <div className="demo-door">
            <p>{words.tryHelp}</p>
            <Button loading={trying} onClick={() => void tryOut()}>
              {words.tryIt}
            </Button>
          </div>
        )}
        {demo && !opening && (
          <div className="demo-door">
            <p>
              {words.thisIsTheDemo} <b>{demo.mail}</b>
              {words.password2} <b>{demo.password}</b>
            </p>
            <Button onClick={() => void submit(null, demo)} loading={busy}>
              {words.enterTheDemoKitchen}
            </Button>
          </div>
        )}
        <Button
          type="link"
          className="link"
          onClick={() => {
            setOpening(!opening)
            setForgot(false)
            setMailed(false)
            setRefused(undefined)
          }}
        >
          {opening ? words.iAlreadyHaveAKitchen : words.createYourKitchen}
        </Button>
      </section>
    </main>
  )
}
