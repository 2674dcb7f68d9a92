import { useQuery, useQueryClient } from '@tanstack/react-query'
import { Button, Input } from 'antd'
import { useState } from 'react'
import { api, ask, Refused, type Schemas } from '../api/client'
import { askAnew } from '../api/topics'
import { Face } from '../kit/Face'
import { Fault, Field } from '../kit/Field'
import { useSay } from '../kit/say'
import { useKitchen } from '../shell/kitchen'
import { Kitchens } from './Kitchens'
import { Passkeys } from './Passkeys'
import { Password } from './Password'
import { Second } from './Second'
import { SettingsPages } from './SettingsPages'
import { words } from './words'
import './account.css'
import './settings.css'

type Account = Schemas['Account']

/** One's own account: name and address, password, where one is signed in, and what happened. */
export default function You() {
  const account = useQuery({ queryKey: ['account'], queryFn: () => ask(api.GET('/api/v1/account', {})) })
  const { owns } = useKitchen()
  const log = useQuery({
    queryKey: ['security-log'],
    queryFn: () => ask(api.GET('/api/v1/security-log', {})),
    enabled: owns,
  })
  if (!account.data || (owns && !log.data)) return <Face title={words.you} of={owns ? [account, log] : [account]} />
  return (
    <section className="wide settings">
      <h1>{words.you}</h1>
      <SettingsPages />
      <Name key={account.data.name} name={account.data.name} />
      <Mail a={account.data} />
      <Password />
      <Second second={account.data.second} />
      <Passkeys list={account.data.passkeys} canHave={account.data.canHavePasskeys} />
      <Sessions list={account.data.sessions} />
      <Kitchens />
      {log.data && <Log log={log.data} />}
    </section>
  )
}

function Name({ name }: { name: string }) {
  const queries = useQueryClient()
  const say = useSay()
  const [typed, setTyped] = useState(name)
  const [refused, setRefused] = useState<Refused>()
  async function save() {
    try {
      await ask(api.PUT('/api/v1/account/name', { body: { name: typed } }))
      setRefused(undefined)
      await queries.invalidateQueries({ predicate: (q) => ['account', 'session'].includes(String(q.queryKey[0])) })
      say.done('name', words.nameSaved)
    } catch (error) {
      if (!(error instanceof Refused)) throw error
      setRefused(error)
    }
  }
  return (
    <form
      className="settings-part"
      noValidate
      onSubmit={(e) => {
        e.preventDefault()
        void save()
      }}
    >
      <Field label={words.yourName} fault={refused?.at('name')} help={words.yourNameHelp}>
        <Input value={typed} maxLength={100} autoComplete="name" onChange={(e) => setTyped(e.target.value)} />
      </Field>
      {typed !== name && <Button htmlType="submit">{words.save}</Button>}
    </form>
  )
}

/** The address that one signs in with. */
function Mail({ a }: { a: Account }) {
  const queries = useQueryClient()
  const kitchen = useKitchen()
  const say = useSay()
  const [moving, setMoving] = useState(false)
  const [to, setTo] = useState('')
  const [refused, setRefused] = useState<Refused>()
  async function move() {
    try {
      const { sent } = await ask(api.PUT('/api/v1/account/mail', { body: { mail: to } }))
      say.done('mail', sent ? words.letterTo(to) : words.mailChanged)
      setMoving(false)
      setTo('')
      setRefused(undefined)
      await askAnew(queries, ['account'])
    } catch (error) {
      if (!(error instanceof Refused)) throw error
      setRefused(error)
    }
  }
  async function prove() {
    try {
      await ask(api.POST('/api/v1/account/verification', {}))
      say.done('mail', words.letterTo(a.mail))
    } catch (error) {
      say.refused(error)
    }
  }
  return (
    <section className="settings-part" aria-labelledby="you-mail">
      <h2 id="you-mail">{words.email}</h2>
      <p>
        <b>{a.mail}</b> <small className="soft">{a.proven && words.provenAt(kitchen.moment(a.proven))}</small>
      </p>
      {a.mails && !a.proven && (
        <p>
          {words.notProven} <Button onClick={() => void prove()}>{words.prove}</Button>
        </p>
      )}
      {!a.mails && <p className="soft">{words.noLetters}</p>}
      {moving ? (
        <form
          className="narrow"
          noValidate
          onSubmit={(e) => {
            e.preventDefault()
            void move()
          }}
        >
          <Field label={words.newMail} fault={refused?.at('mail')} help={a.mails ? words.newMailHelp : undefined}>
            <Input autoFocus type="email" value={to} autoComplete="email" onChange={(e) => setTo(e.target.value)} />
          </Field>
          <Fault>{refused && !refused.at('mail') ? refused.message : undefined}</Fault>
          <Button htmlType="submit" disabled={!to}>
            {words.change}
          </Button>{' '}
          <Button onClick={() => setMoving(false)}>{words.leaveIt}</Button>
        </form>
      ) : (
        <Button onClick={() => setMoving(true)}>{words.changeMail}</Button>
      )}
    </section>
  )
}

const whereOf = (x: { browser?: string; system?: string; address?: string }) =>
  [words.browserOn(x.browser, x.system), x.address].filter(Boolean).join(' · ')

/** Where one is signed in; each can be ended from here. */
function Sessions({ list }: { list: Account['sessions'] }) {
  const queries = useQueryClient()
  const kitchen = useKitchen()
  const say = useSay()
  async function end(how: () => Promise<unknown>, says: string) {
    try {
      await how()
      await askAnew(queries, ['account'])
      say.done('session', says)
    } catch (error) {
      say.refused(error)
    }
  }
  return (
    <section className="settings-part" aria-labelledby="you-sessions">
      <h2 id="you-sessions">{words.signedInAt}</h2>
      <ul className="lines">
        {list.map((s) => (
          <li key={s.id}>
            <span>
              <b>{whereOf(s)}</b>
              <small className="soft">
                {' '}
                {words.since(kitchen.moment(s.began))} · {s.this ? words.here : words.lastUsed(kitchen.moment(s.seen))}
              </small>
            </span>
            {!s.this && (
              <Button
                aria-label={words.endOf(whereOf(s))}
                onClick={() =>
                  void end(
                    () => ask(api.DELETE('/api/v1/sessions/{id}', { params: { path: { id: s.id } } })),
                    words.sessionEnded,
                  )
                }
              >
                {words.signOut}
              </Button>
            )}
          </li>
        ))}
      </ul>
      {list.length > 1 && (
        <Button onClick={() => void end(() => ask(api.DELETE('/api/v1/sessions', {})), words.sessionsEnded)}>
          {words.signOutOthers}
        </Button>
      )}
    </section>
  )
}

/** What concerns the safety of the kitchen, the last first. */
function Log({ log }: { log: Schemas['AccountSecurityLog'] }) {
  const kitchen = useKitchen()
  const [all, setAll] = useState(false)
  const few = 12
  return (
    <section className="settings-part" aria-labelledby="you-log">
      <h2 id="you-log">{words.log}</h2>
      <p className="soft">{words.logHelp(log.days)}</p>
      <ul className="lines">
        {log.events.slice(0, all ? undefined : few).map((e, i) => (
          <li key={i} className={words.unusual.includes(e.what) ? 'unusual' : undefined}>
            <time>{kitchen.moment(e.at)}</time>
            <span>
              <b>{words.events[e.what]}</b>
              {e.about && `: ${e.about}`}
              <small className="soft">
                {' '}
                {[e.who, (e.browser || e.address) && whereOf(e)].filter(Boolean).join(' · ')}
              </small>
            </span>
          </li>
        ))}
      </ul>
      {log.events.length > few && !all && (
        <Button onClick={() => setAll(true)}>{words.allOf(log.events.length)}</Button>
      )}
    </section>
  )
}
