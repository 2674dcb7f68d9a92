import { type QueryClient, useQueryClient } from '@tanstack/react-query'
import { api, ask, Refused, type Schemas } from '../api/client'
import { askAnew } from '../api/topics'
import { drop, keep, keptAll, type Kept, useWaiting as useKeptHere } from '../device/drafts'
import { words } from './words'

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
 * What is told at a door while the kitchen cannot be reached is kept on this device, as the person's who told it, and
 * sent as soon as it can be. Of one drop only the last word counts. An answer that was lost does no harm: telling it
 * twice is telling it once.
 */
const prefix = 'drop/'
const placeOf = (w: Waiting) => `${prefix}${w.order}/${w.refused ? 'refused' : (w.outcome?.outcome ?? 'none')}`
const isOurs = ([place]: [string, Kept]) => place.startsWith(prefix)

const put = (w: Waiting) =>
  keep(placeOf(w), {
    value: w,
    title: words.told(w.customer, words.outcomes[w.outcome?.outcome ?? ''] ?? words.cancel),
    to: `/handover/drive/${w.day}`,
    at: Date.now(),
  })

const tell = (w: Waiting) => {
  const params = { path: { day: w.day, id: w.order } }
  return ask(
    w.outcome
      ? api.PUT('/api/v1/drives/{day}/drops/{id}', { params, body: w.outcome })
      : api.DELETE('/api/v1/drives/{day}/drops/{id}', { params }),
  )
}

const sending = new Set<string>()
/** Sends one; it is kept where the kitchen cannot be reached, and where it refuses with what it says. */
async function send(w: Waiting, queries: QueryClient) {
  const place = placeOf(w)
  if (sending.has(place)) return
  sending.add(place)
  try {
    await tell(w)
    drop(place)
    await askAnew(queries, ['orders', 'drives'])
  } catch (error) {
    if (!(error instanceof Refused) || error.status === 0 || error.status >= 500) return // another time
    drop(place)
    put({ ...w, refused: error.message })
  } finally {
    sending.delete(place)
  }
}

const all = () =>
  keptAll()
    .filter(isOurs)
    .map(([, kept]) => kept.value as Waiting)

/** Sends what waits, from wherever one is. */
export const sendDrops = (queries: QueryClient) =>
  Promise.all(
    all()
      .filter((w) => !w.refused)
      .map((w) => send(w, queries)),
  )

/** What waits to be sent, and how to add to it. */
export function useWaiting() {
  const queries = useQueryClient()
  const waiting = useKeptHere()
    .filter(isOurs)
    .map(([, kept]) => kept.value as Waiting)
  function add(w: Waiting) {
    all()
      .filter((x) => x.order === w.order)
      .forEach((x) => drop(placeOf(x)))
    put(w)
    return send(w, queries)
  }
  return { waiting, add, drop: (w: Waiting) => drop(placeOf(w)) }
}
