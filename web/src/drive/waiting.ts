import { createStore, get, set } from 'idb-keyval'
import { useCallback, useEffect, useSyncExternalStore } from 'react'
import { api, ask, Refused, type Schemas } from '../api/client'

export type Outcome = Schemas['HandoverOutcome']
/** What was told of a drop, and what the kitchen said of it where it refused. */
export interface Waiting {
  day: string
  order: string
  customer: string
  outcome: Outcome | null // null: to be driven to after all
  refused?: string
}

/*
 * What is told at a door while the kitchen cannot be reached is kept on this device, in the order in which it was told,
 * and sent as soon as it can be. An answer that was lost does no harm: telling it twice is telling it once.
 */
const store = typeof indexedDB === 'undefined' ? undefined : createStore('zestytin-drops', 'drops')
let list: Waiting[] = []
const heard = new Set<() => void>()
const write = (next: Waiting[]) => {
  list = next
  if (store) void set('waiting', next, store).catch(() => {})
  heard.forEach((f) => f())
}
const loaded = store
  ? get<Waiting[]>('waiting', store)
      .then((kept) => write([...(kept ?? []), ...list]))
      .catch(() => {})
  : Promise.resolve()

/** Nothing of it is anybody else's who uses this device. */
export const forgetWaiting = () => write([])

const tell = (w: Waiting) => {
  const params = { path: { day: w.day, id: w.order } }
  return ask(
    w.outcome
      ? api.PUT('/api/v1/drives/{day}/drops/{id}', { params, body: w.outcome })
      : api.DELETE('/api/v1/drives/{day}/drops/{id}', { params }),
  )
}

let sending: Promise<void> | undefined
/** Sends what waits, one after the other; done is told of each that has arrived. */
const send = (done: () => void) =>
  (sending ??= loaded
    .then(async () => {
      for (;;) {
        const next = list.find((w) => !w.refused)
        if (!next) return
        try {
          await tell(next)
          write(list.filter((w) => w !== next))
          done()
        } catch (error) {
          if (!(error instanceof Refused) || error.status === 0 || error.status >= 500) return // another time
          write(list.map((w) => (w === next ? { ...w, refused: error.message } : w)))
        }
      }
    })
    .finally(() => (sending = undefined)))

/** What waits to be sent, and how to add to it; done is told when something has arrived. */
export function useWaiting(done: () => void) {
  const waiting = useSyncExternalStore(
    (f) => {
      heard.add(f)
      return () => heard.delete(f)
    },
    () => list,
  )
  useEffect(() => {
    const again = () => void send(done)
    again()
    window.addEventListener('online', again)
    const nowAndThen = setInterval(again, 20_000)
    return () => {
      window.removeEventListener('online', again)
      clearInterval(nowAndThen)
    }
  }, [done])
  const add = useCallback(
    async (w: Waiting) => {
      await loaded
      write([...list.filter((x) => x.order !== w.order), w])
      await send(done)
    },
    [done],
  )
  const drop = useCallback((w: Waiting) => write(list.filter((x) => x !== w)), [])
  return { waiting, add, drop }
}
