import { useQueryClient } from '@tanstack/react-query'
import { Button } from 'antd'
import { api, ask, type Schemas } from '../api/client'
import { askAnew } from '../api/topics'
import { useSay } from '../kit/say'
import { useKitchen } from '../shell/kitchen'
import { words } from './words'

/** Tells whoever is next on the road in how many minutes one will be there. */
export function OnTheWay({ drop }: { drop: Schemas['HandoverDrop'] }) {
  const kitchen = useKitchen()
  const queries = useQueryClient()
  const say = useSay()
  const now = kitchen.now()
  const left = drop.arrive - now.hour() * 60 - now.minute()
  const minutes = left > 0 && left <= 180 ? left : drop.road // one that is late drives from here
  async function tell() {
    try {
      await ask(
        api.POST('/api/v1/orders/{id}/messages', {
          params: { path: { id: drop.order } },
          body: { kind: 'on-the-way', minutes },
        }),
      )
      say.done('message', words.written)
    } catch (error) {
      say.refused(error)
    }
    await askAnew(queries, ['messages'])
  }
  return (
    <Button className="no-print" onClick={() => void tell()}>
      {words.onTheWay(drop.customer, minutes)}
    </Button>
  )
}
