import { useQuery, useQueryClient } from '@tanstack/react-query'
import { Button, Input } from 'antd'
import { type FormEvent, useState } from 'react'
import { useNavigate, useParams } from 'react-router'
import { api, ask, Refused } from '../api/client'
import { Fault, Field } from '../kit/Field'
import { words } from './words'
import './account.css'

/** Where the link of a letter leads. It is done by one touch and not by looking, since mail is read by machines too. */
export default function LinkPage() {
  const { secret = '' } = useParams()
  const queries = useQueryClient()
  const navigate = useNavigate()
  const link = useQuery({
    queryKey: ['account-link', secret],
    queryFn: () => ask(api.GET('/api/v1/account-links/{secret}', { params: { path: { secret } } })),
    retry: false,
    staleTime: Infinity,
  })
  const [password, setPassword] = useState('')
  const [refused, setRefused] = useState<Refused>()
  const [busy, setBusy] = useState(false)
  const [done, setDone] = useState(false)
  async function use(e: FormEvent) {
    e.preventDefault()
    setBusy(true)
    try {
      const session = await ask(
        api.POST('/api/v1/account-links/{secret}', {
          params: { path: { secret } },
          body: link.data?.takesPassword ? { password } : {},
        }),
      )
      setDone(true)
      if (link.data?.kind === 'open') {
        queries.setQueryData(['opened'], true)
        void navigate('/start', { replace: true })
      }
      queries.setQueryData(['session'], session)
    } catch (error) {
      if (!(error instanceof Refused)) throw error
      setRefused(error)
    } finally {
      setBusy(false)
    }
  }
  const toDoor = (
    <Button type="link" className="link" onClick={() => void navigate('/', { replace: true })}>
      {words.toTheDoor}
    </Button>
  )
  const l = link.data
  return (
    <main className="door">
      <section className="door-card" aria-live="polite">
        <h1>Zesty Tin</h1>
        {link.error && (
          <>
            <p role="alert">{link.error.message}</p>
            {toDoor}
          </>
        )}
        {l && done && (
          <>
            <p role="status">{words.links[l.kind].done}</p>
            {toDoor}
          </>
        )}
        {l && !done && (
          <form onSubmit={(e) => void use(e)} noValidate>
            <p>{words.links[l.kind].what(l.kitchen ?? l.mail)}</p>
            {l.takesPassword && (
              <Field label={words.newPassword} fault={refused?.at('password')} help={words.passwordHelp}>
                <Input.Password
                  size="large"
                  autoFocus
                  value={password}
                  autoComplete="new-password"
                  onChange={(e) => setPassword(e.target.value)}
                />
              </Field>
            )}
            <Fault>{refused && !refused.at('password') ? refused.message : undefined}</Fault>
            <Button type="primary" size="large" htmlType="submit" block loading={busy}>
              {words.links[l.kind].touch}
            </Button>
          </form>
        )}
      </section>
    </main>
  )
}
