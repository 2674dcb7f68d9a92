import { useQueryClient } from '@tanstack/react-query'
import { Button } from 'antd'
import { useState } from 'react'
import { api, ask, Refused, type Schemas } from '../api/client'
import { Fault } from '../kit/Field'
import { AnotherKitchen } from './AnotherKitchen'
import { Sure } from './Sure'
import { words } from './words'
import './account.css'

/** Signed in, and in no kitchen: it was taken away, or left. One goes to another, opens one, or deletes the account. */
export default function Nowhere({ session }: { session: Schemas['AccountSession'] }) {
  const queries = useQueryClient()
  const [refused, setRefused] = useState<string>()
  async function tried(how: () => Promise<unknown>) {
    try {
      const now = await how()
      if (now) queries.setQueryData(['session'], now)
      else await queries.invalidateQueries({ queryKey: ['session'] })
    } catch (error) {
      if (!(error instanceof Refused)) throw error
      setRefused(error.message)
    }
  }
  const kitchens = session.kitchens ?? []
  return (
    <main className="door">
      <section className="door-card nowhere">
        <h1>{words.nowhere}</h1>
        <p>{kitchens.length > 0 ? words.nowhereNow : words.nowhereAtAll}</p>
        {kitchens.map((k) => (
          <p key={k.id}>
            <Button
              block
              size="large"
              onClick={() => void tried(() => ask(api.PUT('/api/v1/session/kitchen', { body: { kitchen: k.id } })))}
            >
              {words.goToAs(k.name, words.roles[k.role])}
            </Button>
          </p>
        ))}
        <AnotherKitchen first={kitchens.length === 0} />
        <Fault>{refused}</Fault>
        <p>
          <Button type="link" className="link" onClick={() => void tried(() => ask(api.DELETE('/api/v1/session', {})))}>
            {words.signOutOf(session.person ?? '')}
          </Button>
        </p>
        {kitchens.length === 0 && (
          <Sure
            label={words.deleteAccount}
            why={words.deleteAccountWhy}
            go={words.deleteIt}
            onGo={() => void tried(() => ask(api.DELETE('/api/v1/account', {})))}
          />
        )}
      </section>
    </main>
  )
}
