import { useQuery, useQueryClient } from '@tanstack/react-query'
import { api, ask, type Schemas } from '../api/client'
import { useSay } from '../kit/say'

type Day = Schemas['OrdersPackDay']

/** The pack list of a day, and how one ticks something of it: seen at once, and by whoever packs along. */
export function usePackDay(day: string) {
  const queries = useQueryClient()
  const say = useSay()
  const key = ['packing', day]
  const list = useQuery({
    queryKey: key,
    queryFn: () => ask(api.GET('/api/v1/days/{day}/packing', { params: { path: { day } } })),
    enabled: day !== '',
  })
  async function tick(order: string, what: string, done: boolean) {
    await queries.cancelQueries({ queryKey: key }) // an answer from before does not take the tick away
    queries.setQueryData<Day>(key, (was) => was && ticked(was, order, what, done))
    try {
      await ask(api.PUT('/api/v1/orders/{id}/pack-ticks', { params: { path: { id: order } }, body: { what, done } }))
    } catch (error) {
      say.refused(error)
    }
    void queries.invalidateQueries({ queryKey: key })
  }
  return { list, tick }
}

function ticked(d: Day, order: string, what: string, done: boolean): Day {
  const set = <T extends { key?: string; done: boolean }>(list: T[]) =>
    list.map((x) => (x.key === what ? { ...x, done } : x))
  return {
    ...d,
    orders: d.orders.map((o) => (o.id === order ? { ...o, lines: set(o.lines), packs: set(o.packs) } : o)),
  }
}
