import { useQuery, useQueryClient } from '@tanstack/react-query'
import { Button, Input } from 'antd'
import { type FormEvent, useState } from 'react'
import { useNavigate, useParams } from 'react-router'
import { api, ask, Refused } from '../api/client'
import { Fault, Field } from '../kit/Field'
import { words } from './words'
import './account.css'

const fields = ['name', 'mail', 'password'] as const

/** Where the link of an invitation leads: whoever is signed in joins as that, others with a new account. */
export default function Join() {
  const { secret = '' } = useParams()
  const queries = useQueryClient()
  const navigate = useNavigate()
  const where = useQuery({
    queryKey: ['invitation', secret],
    queryFn: () => ask(api.GET('/api/v1/invitations/{secret}', { params: { path: { secret } } })),
    retry: false,
    staleTime: Infinity,
  })
  const [known, setKnown] = useState(false) // they have an account, and sign in to it
  const [f, setF] = useState({ name: '', mail: '', password: '', code: '' })
  const [second, setSecond] = useState(false)
  const [refused, setRefused] = useState<Refused>()
  const [busy, setBusy] = useState(false)
  const [mailed, setMailed] = useState(false)
  const w = where.data
  async function join(e: FormEvent) {
    e.preventDefault()
    setBusy(true)
    setRefused(undefined)
    try {
      if (known && !w?.you) {
        await ask(
          api.POST('/api/v1/session', { body: { mail: f.mail, password: f.password, code: f.code || undefined } }),
        )
        await where.refetch() // as whom they would join is shown before they do
        return
      }
      const { code: _, ...account } = f
      const session = await ask(
        api.POST('/api/v1/invitations/{secret}', { params: { path: { secret } }, body: w?.you ? {} : account }),
      )
      if (session.mailed) return setMailed(true)
      void navigate('/', { replace: true })
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
  async function signOut() {
    await ask(api.DELETE('/api/v1/session', {}))
    await where.refetch()
  }
  const field = (key: keyof typeof f, label: string, more: { type?: string; autoComplete: string }, help?: string) => (
    <Field label={label} fault={refused?.at(key)} help={help}>
      <Input size="large" name={key} value={f[key]} {...more} onChange={(e) => setF({ ...f, [key]: e.target.value })} />
    </Field>
  )
  return (
    <main className="door">
      <section className="door-card" aria-live="polite">
        <h1>Zesty Tin</h1>
        {where.error && (
          <>
            <p role="alert">{where.error.message}</p>
            <Button type="link" className="link" onClick={() => void navigate('/', { replace: true })}>
              {words.toTheDoor}
            </Button>
          </>
        )}
        {w && (
          <>
            <p>
              {words.joins(w.by, w.kitchen)} <b>{words.roles[w.role]}</b>
            </p>
            <p className="soft">{words.rolesHelp[w.role]}</p>
          </>
        )}
        {w && mailed && <p role="status">{words.lookForJoin}</p>}
        {w?.here && (
          <>
            <p role="status">{words.worksHere(w.you ?? '')}</p>
            <Button type="link" className="link" onClick={() => void navigate('/', { replace: true })}>
              {words.toTheDoor}
            </Button>
          </>
        )}
        {w && !mailed && !w.here && (
          <form onSubmit={(e) => void join(e)} noValidate>
            {!w.you && !known && field('name', words.yourName, { autoComplete: 'name' })}
            {!w.you && field('mail', words.email, { type: 'email', autoComplete: 'username' })}
            {!w.you &&
              field(
                'password',
                words.password,
                { type: 'password', autoComplete: known ? 'current-password' : 'new-password' },
                known ? undefined : words.passwordHelp,
              )}
            {!w.you && known && second && field('code', words.code, { autoComplete: 'one-time-code' })}
            <Fault>{refused && !fields.some((key) => refused.at(key)) ? refused.message : undefined}</Fault>
            <Button type="primary" size="large" htmlType="submit" block loading={busy}>
              {w.you ? words.joinAs(w.you) : known ? words.signIn : words.joinNow}
            </Button>
          </form>
        )}
        {w && !mailed && !w.you && (
          <Button
            type="link"
            className="link"
            onClick={() => {
              setKnown(!known)
              setRefused(undefined)
            }}
          >
            {known ? words.joinAnew : words.joinKnown}
          </Button>
        )}
        {w?.you && !w.here && (
          <Button type="link" className="link" onClick={() => void signOut()}>
            {words.notYou(w.you)}
          </Button>
        )}
      </section>
    </main>
  )
}
