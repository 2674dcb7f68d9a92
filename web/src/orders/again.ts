import { useQuery } from '@tanstack/react-query'
import { api, ask } from '../api/client'
import type { Draft } from './draft'

/** Whom a new order is for, and which earlier one they want again. */
export interface Start {
  customer?: string
  again?: string
}

/**
 * What a new order starts with: what was in the earlier one, at today's prices, and what its customer always wants.
 */
export function useStart(from: Start | null) {
  const order = useQuery({
    queryKey: ['order', from?.again],
    queryFn: () => ask(api.GET('/api/v1/orders/{id}', { params: { path: { id: from!.again! } } })),
    enabled: Boolean(from?.again),
  })
  const name = from?.customer ?? (from?.again ? order.data?.draft.customer : undefined)
  const known = useQuery({
    queryKey: ['customers', 'start', name],
    queryFn: () => ask(api.GET('/api/v1/customers/person', { params: { query: { name: name! } } })),
    enabled: Boolean(name),
  })
  const o = from?.again ? order.data?.draft : undefined
  const c = name ? known.data : undefined
  const draft: Partial<Draft> = {
    ...(o && {
      occasion: o.occasion,
      way: o.way,
      place: o.place,
      distance: o.distance,
      freeFrom: o.freeFrom,
      wishes: o.wishes,
      lines: o.lines.map(({ treat, count, coating, note, freeFrom, wishes }) => ({
        treat,
        count,
        coating,
        note,
        freeFrom,
        wishes,
      })),
    }),
    ...(c && { customer: c.name, phone: c.phone, mail: c.mail, ...withWishes(o ?? {}, c) }),
  }
  return {
    draft,
    ready: (!from?.again || order.isFetched) && (!name || known.isFetched),
    of: [...(from?.again ? [order] : []), ...(name ? [known] : [])],
  }
}

type Asked = Pick<Draft, 'wishes'> & { freeFrom?: string[] }

/** What is asked of an order, with what its customer wants always. */
export function withWishes(draft: Asked, customer: Asked): Pick<Draft, 'freeFrom' | 'wishes'> {
  const wishes = [...new Set([...(draft.wishes ?? []), ...(customer.wishes ?? [])])]
  return {
    freeFrom: [...new Set([...(draft.freeFrom ?? []), ...(customer.freeFrom ?? [])])],
    wishes: wishes.length > 0 ? wishes : undefined,
  }
}
