import { useQueryClient } from '@tanstack/react-query'
import { Button } from 'antd'
import { api, ask } from '../api/client'
import { useSay } from '../kit/say'
import { useKitchen } from '../shell/kitchen'
import { AnotherKitchen } from './AnotherKitchen'
import { Sure } from './Sure'
import { words } from './words'

/** The kitchens that one works in: one goes from one to another, opens one, leaves one. */
export function Kitchens() {
  const kitchen = useKitchen()
  const queries = useQueryClient()
  const say = useSay()
  async function become(how: () => ReturnType<typeof ask<typeof kitchen.session>>) {
    try {
      queries.setQueryData(['session'], await how())
    } catch (error) {
      say.refused(error)
    }
  }
  if (kitchen.session.toTry) return null
  return (
    <section className="settings-part" aria-labelledby="you-kitchens">
      <h2 id="you-kitchens">{words.kitchens}</h2>
      <ul className="lines">
        {kitchen.session.kitchens?.map((k) => (
          <li key={k.id}>
            <span>
              <b>{k.name}</b>, {words.roles[k.role]} {k.this && <small className="soft">{words.here}</small>}
            </span>
            {!k.this && (
              <Button
                onClick={() => void become(() => ask(api.PUT('/api/v1/session/kitchen', { body: { kitchen: k.id } })))}
              >
                {words.goTo(k.name)}
              </Button>
            )}
            {k.role !== 'owner' && (
              <Sure
                label={words.leaveKitchenNow}
                name={words.leaveKitchen(k.name)}
                why={words.leaveKitchenWhy}
                go={words.leaveKitchen(k.name)}
                onGo={() =>
                  void become(() =>
                    ask(api.DELETE('/api/v1/account/kitchens/{id}', { params: { path: { id: k.id } } })),
                  )
                }
              />
            )}
          </li>
        ))}
      </ul>
      <AnotherKitchen />
    </section>
  )
}
