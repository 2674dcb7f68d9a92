import type { QueryClient } from '@tanstack/react-query'
import { api, ask, etag, Refused, type Schemas } from '../api/client'
import { askAnew } from '../api/topics'
import { drop, keptAll } from '../device/drafts'
import { type Draft, sameField } from './draft'
import { merge } from '../device/merge'

type Order = Schemas['OrdersOrder']

/** An order as it was typed, with what it was before, and the key under which a new one is made once. */
export interface KeptOrder {
  draft: Draft
  base?: Order
  key: string
}

export const placeOf = (id: string) => `order/${id}`

/**
 * What was kept, on the order as it is now: what was saved just before one left may still be kept as it was typed, and
 * would otherwise be compared with the order as it was before that.
 */
export function caughtUp(kept: KeptOrder | undefined, now: Order | undefined): KeptOrder | undefined {
  if (!kept?.base || !now || kept.base.revision === now.revision) return kept
  const { merged, both } = merge(kept.base.draft, kept.draft, now.draft, sameField)
  return both.length > 0 ? kept : { ...kept, draft: merged, base: now }
}

export const send = (k: KeptOrder): Promise<Order> =>
  k.base
    ? ask(
        api.PUT('/api/v1/orders/{id}', {
          params: { path: { id: k.base.id }, header: { 'If-Match': etag(k.base.revision) } },
          body: k.draft,
        }),
      )
    : ask(api.POST('/api/v1/orders', { params: { header: { 'Idempotency-Key': k.key } }, body: k.draft }))

let busy = false

/**
 * Saves the orders that were kept while there was no connection and are not open now. What is refused, or was changed
 * by somebody else in the same fields, stays for a person to look at.
 */
export async function sendKept(queries: QueryClient) {
  if (busy) return
  busy = true
  try {
    for (const [place, kept] of keptAll()) {
      if (!place.startsWith('order/')) continue
      const k = kept.value as KeptOrder
      if (!k.draft.customer.trim()) continue
      try {
        await send(k).catch(async (error: unknown) => {
          if (!(error instanceof Refused) || error.status !== 412 || !k.base) throw error
          const theirs = error.problem.current as Order
          const { merged, both } = merge(k.base.draft, k.draft, theirs.draft, sameField)
          if (both.length > 0) throw error
          await send({ draft: merged, base: theirs, key: k.key })
        })
        drop(place)
        await askAnew(queries, ['orders'])
      } catch (error) {
        if (!(error instanceof Refused)) throw error
        if (error.status === 0) return // still away
      }
    }
  } finally {
    busy = false
  }
}
