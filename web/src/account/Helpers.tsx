import { useQuery, useQueryClient } from '@tanstack/react-query'
import { Button, Input, Select } from 'antd'
import { useState } from 'react'
import { api, ask, Refused, type Schemas } from '../api/client'
import { Face } from '../kit/Face'
import { Fault, Field } from '../kit/Field'
import { copy } from '../kit/address'
import { useSay } from '../kit/say'
import { useKitchen } from '../shell/kitchen'
import type { Role } from '../shell/roles'
import { SettingsPages } from './SettingsPages'
import { words } from './words'
import './account.css'
import './settings.css'

type All = Schemas['AccountHelpers']
const roles: Role[] = ['owner', 'maker', 'bookkeeper']
const choices = roles.map((value) => ({ value, label: words.roles[value] }))

/** Who works in the kitchen and as what, and links by which others join. */
export default function Helpers() {
  const queries = useQueryClient()
  const say = useSay()
  const list = useQuery({ queryKey: ['account', 'helpers'], queryFn: () => ask(api.GET('/api/v1/helpers', {})) })
  const change: Change = async (how, says, undo) => {
    try {
      const now = await how()
      queries.setQueryData(['account', 'helpers'], now)
      say.done('helpers', says, undo && (() => void undo()))
    } catch (error) {
      say.refused(error)
    }
  }
  if (!list.data) return <Face title={words.helpers} of={[list]} />
  return (
    <section className="wide settings">
      <h1>{words.helpers}</h1>
      <SettingsPages />
      <section className="settings-part" aria-labelledby="helpers-people">
        <h2 id="helpers-people">{words.whoWorksHere}</h2>
        <dl className="roles">
          {roles.map((r) => (
            <div key={r}>
              <dt>{words.roles[r]}</dt>
              <dd>{words.rolesHelp[r]}</dd>
            </div>
          ))}
        </dl>
        <ul className="lines">
          {list.data.people.map((p) => (
            <Person key={p.id} p={p} change={change} />
          ))}
        </ul>
      </section>
      <Invitations list={list.data.invitations} />
    </section>
  )
}

/** Changes who works here, and says so; undo takes it back. */
type Change = (how: () => Promise<All>, says: string, undo?: () => Promise<void>) => Promise<void>

function Person({ p, change }: { p: All['people'][number]; change: Change }) {
  const kitchen = useKitchen()
  const path = { path: { id: p.id } }
  const as = (role: Role) =>
    change(
      () => ask(api.PUT('/api/v1/helpers/{id}/role', { params: path, body: { role } })),
      words.worksAs(p.name, words.roles[role]),
    )
  return (
    <li>
      <span>
        <b>{p.name}</b> {p.you && words.thatIsYou}
        <small className="soft">
          {' '}
          {p.mail}
          {p.joined && ` · ${words.since(kitchen.moment(p.joined))}`}
        </small>
      </span>
      <Select
        aria-label={words.roleOf(p.name)}
        value={p.role}
        options={choices}
        popupMatchSelectWidth={false}
        onChange={(role: Role) => void as(role)}
      />
      {!p.you && (
        <Button
          aria-label={words.removeHelper(p.name)}
          onClick={() =>
            void change(
              () => ask(api.DELETE('/api/v1/helpers/{id}', { params: path })),
              words.helperGone(p.name),
              () => as(p.role),
            )
          }
        >
          {words.remove}
        </Button>
      )}
    </li>
  )
}

/** Links that are open, and a new one. A link is shown when it is made, and never again. */
function Invitations({ list }: { list: All['invitations'] }) {
  const kitchen = useKitchen()
  const queries = useQueryClient()
  const say = useSay()
  const [role, setRole] = useState<Role>('maker')
  const [name, setName] = useState('')
  const [made, setMade] = useState<Schemas['AccountInvitation']>()
  const [refused, setRefused] = useState<Refused>()
  const [busy, setBusy] = useState(false)
  const anew = () => queries.invalidateQueries({ queryKey: ['account', 'helpers'] })
  async function make() {
    setBusy(true)
    try {
      setMade(await ask(api.POST('/api/v1/helper-links', { body: { role, name } })))
      setName('')
      setRefused(undefined)
      await anew()
    } catch (error) {
      if (!(error instanceof Refused)) throw error
      setRefused(error)
    } finally {
      setBusy(false)
    }
  }
  async function end(id: string) {
    try {
      await ask(api.DELETE('/api/v1/helper-links/{id}', { params: { path: { id } } }))
      if (made?.id === id) setMade(undefined)
      await anew()
      say.done('helpers', words.linkEnded)
    } catch (error) {
      say.refused(error)
    }
  }
  const link = made && (kitchen.session.public || location.origin) + made.path
  return (
    <section className="settings-part" aria-labelledby="helpers-links">
      <h2 id="helpers-links">{words.invite}</h2>
      <p>{words.inviteHelp}</p>
      <form
        className="narrow"
        noValidate
        onSubmit={(e) => {
          e.preventDefault()
          void make()
        }}
      >
        <Field label={words.inviteAs}>
          <Select aria-label={words.inviteAs} value={role} options={choices} onChange={setRole} />
        </Field>
        <Field label={words.inviteWhom} fault={refused?.at('name')} help={words.inviteWhomHelp}>
          <Input value={name} maxLength={100} autoComplete="off" onChange={(e) => setName(e.target.value)} />
        </Field>
        <Fault>{refused && !refused.at('name') ? refused.message : undefined}</Fault>
        <Button htmlType="submit" loading={busy}>
          {words.makeLink}
        </Button>
      </form>
      {link && (
        <p className="made-link" role="status">
          <span>{words.passItOn(words.roles[made.role], kitchen.moment(made.until))}</span>
          <code>{link}</code>
          <Button onClick={() => void copy(link).then((done) => done && say.done('helpers', words.copied))}>
            {words.copy}
          </Button>
        </p>
      )}
      {list.length > 0 && (
        <ul className="lines">
          {list.map((i) => (
            <li key={i.id}>
              <span>
                <b>{i.name || words.somebody}</b>, {words.roles[i.role]}
                <small className="soft"> {words.worksUntil(kitchen.moment(i.until))}</small>
              </span>
              <Button aria-label={words.endLinkOf(i.name || words.somebody)} onClick={() => void end(i.id)}>
                {words.endLink}
              </Button>
            </li>
          ))}
        </ul>
      )}
    </section>
  )
}
