import { useQueryClient } from '@tanstack/react-query'
import { Button, Input } from 'antd'
import { useState } from 'react'
import { api, ask, Refused, type Schemas } from '../api/client'
import { askAnew } from '../api/topics'
import { Fault, Field } from '../kit/Field'
import { useSay } from '../kit/say'
import { useKitchen } from '../shell/kitchen'
import { canAsk, makePasskey } from './passkey'
import { words } from './words'
import './account.css'

/** Keys that devices keep: each opens the door by itself. */
export function Passkeys({ list, canHave }: { list: Schemas['AccountPasskey'][]; canHave: boolean }) {
  const kitchen = useKitchen()
  const queries = useQueryClient()
  const say = useSay()
  const [name, setName] = useState('')
  const [fault, setFault] = useState<string>()
  async function add() {
    setFault(undefined)
    try {
      await makePasskey(name)
      say.done('passkey', words.passkeyMade(name))
      setName('')
      await askAnew(queries, ['account'])
    } catch (error) {
      setFault(error instanceof Refused ? error.message : words.passkeyNotMade)
    }
  }
  async function remove(id: string) {
    try {
      await ask(api.DELETE('/api/v1/account/passkeys/{id}', { params: { path: { id } } }))
      say.done('passkey', words.passkeyGone)
      await askAnew(queries, ['account'])
    } catch (error) {
      say.refused(error)
    }
  }
  return (
    <section className="settings-part" aria-labelledby="you-passkeys">
      <h2 id="you-passkeys">{words.passkeys}</h2>
      <p className="soft">{canHave && canAsk ? words.passkeysHelp : words.noPasskeys}</p>
      {list.length > 0 && (
        <ul className="lines">
          {list.map((k) => (
            <li key={k.id}>
              <span>
                <b>{k.name}</b>{' '}
                <small className="soft">
                  {words.madeAt(kitchen.moment(k.made))}
                  {k.used && ` · ${words.usedAt(kitchen.moment(k.used))}`}
                </small>
              </span>
              <Button aria-label={words.removePasskey(k.name)} onClick={() => void remove(k.id)}>
                {words.remove}
              </Button>
            </li>
          ))}
        </ul>
      )}
      {canHave && canAsk && (
        <form
          className="narrow"
          noValidate
          onSubmit={(e) => {
            e.preventDefault()
            void add()
          }}
        >
          <Field label={words.passkeyName}>
            <Input value={name} maxLength={100} onChange={(e) => setName(e.target.value)} />
          </Field>
          <Fault>{fault}</Fault>
          <Button htmlType="submit" disabled={!name.trim()}>
            {words.addPasskey}
          </Button>
        </form>
      )}
    </section>
  )
}
