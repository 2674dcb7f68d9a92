import { useQueryClient } from '@tanstack/react-query'
import { useCallback, useEffect, useLayoutEffect, useRef, useState } from 'react'
import { onReached } from '../api/reach'
import { api, ask, etag, Refused, type Schemas } from '../api/client'
import type { Draft } from './draft'

type Order = Schemas['OrdersOrder']

const same = (a: Draft, b: Draft) => JSON.stringify(complete(a)) === JSON.stringify(complete(b))

/** A draft in one shape, whatever was left out of it. */
const complete = (d: Draft) => [
  d.customer,
  d.phone ?? '',
  d.mail ?? '',
  d.occasion ?? '',
  d.way,
  d.place ?? '',
  Date.parse(d.from),
  Date.parse(d.to),
  d.lines,
  d.freeFrom,
  d.notes ?? '',
  d.pricing ? [d.pricing.by, Number(d.pricing.value)] : '',
  d.discount ?? '',
  d.distance ?? 0,
  d.cash ?? false,
]

/**
 * Saves a draft as one goes: a moment after the last change, one request at a time, never over somebody else's change.
 * A new order is made once, as soon as it has a name.
 */
export function useSaving(saved: Order | undefined, draft: Draft, onMade: (o: Order) => void) {
  const queries = useQueryClient()
  const [order, setOrder] = useState(saved)
  const [text, setText] = useState(saved ? 'saved' : 'not saved yet')
  const [refused, setRefused] = useState<Refused>()
  const [theirs, setTheirs] = useState<Order>()
  const now = useRef({ order: saved, draft, busy: null as Promise<void> | null, made: onMade, stop: false })
  useLayoutEffect(() => {
    now.current.draft = draft
    now.current.made = onMade
  })
  const key = useRef(crypto.randomUUID())

  const take = useCallback((o: Order) => {
    now.current.order = o
    setOrder(o)
  }, [])

  const save = useCallback(async () => {
    const at = now.current
    while (at.busy) await at.busy
    if (at.stop || !at.draft.customer.trim() || (at.order && same(at.order.draft, at.draft))) return
    const sent = at.draft
    const work = async () => {
      try {
        setText('saving…')
        const before = at.order
        const after = before
          ? await ask(
              api.PUT('/api/v1/orders/{id}', {
                params: { path: { id: before.id }, header: { 'If-Match': etag(before.revision) } },
                body: sent,
              }),
            )
          : await ask(
              api.POST('/api/v1/orders', { params: { header: { 'Idempotency-Key': key.current } }, body: sent }),
            )
        take(after)
        setRefused(undefined)
        setText('Saved')
        if (!before) at.made(after)
        else queries.setQueryData(['order', after.id], after)
        void queries.invalidateQueries({ queryKey: ['orders'] })
        void queries.invalidateQueries({ queryKey: ['shelf'] })
      } catch (error) {
        if (!(error instanceof Refused)) throw error
        if (error.status === 412) {
          at.stop = true
          setTheirs(error.problem.current as Order)
        }
        setRefused(error)
        setText(
          error.status === 0
            ? 'not saved, waiting for the network'
            : `not saved: ${error.problem.errors?.[0]?.message ?? error.message}`,
        )
        // A refused create has saved nothing under its key; the next try is another request.
        if (error.status !== 0) key.current = crypto.randomUUID()
      }
    }
    at.busy = work()
    try {
      await at.busy
    } finally {
      at.busy = null
    }
  }, [queries, take])

  // Back in reach: what could not be saved is saved now.
  const unreachable = refused?.status === 0
  useEffect(() => {
    if (!unreachable) return
    return onReached(() => void save())
  }, [unreachable, save])

  const clean = !order ? !draft.customer.trim() : same(order.draft, draft)
  useEffect(() => {
    if (clean) return
    const later = setTimeout(() => void save(), 500)
    return () => clearTimeout(later)
  }, [draft, clean, save])

  useEffect(() => {
    // Leaving the page saves what is not saved yet.
    const leave = () => void save()
    window.addEventListener('pagehide', leave)
    return () => {
      window.removeEventListener('pagehide', leave)
      leave()
    }
  }, [save])

  const settle = (whose: 'mine' | 'theirs') => {
    if (theirs) take(theirs)
    setTheirs(undefined)
    setRefused(undefined)
    now.current.stop = false
    if (whose === 'theirs') setText('saved')
    else void save()
  }

  return { order, text, refused, theirs, settle, take, flush: save, current: () => now.current.order }
}
