import { type QueryClient, useQueryClient } from '@tanstack/react-query'
import { useMemo } from 'react'
import { api, ask, Refused, type Schemas } from '../api/client'
import { askAnew, type Topic } from '../api/topics'
import { drop, keep, keptAll, type Kept, useWaiting } from '../device/drafts'
import { newKey } from '../device/register'
import { useKitchen } from '../shell/kitchen'
import { deviceName } from './device'
import { words } from './words'

/** What is done at the bench, as it is told to the kitchen. */
export type Act =
  | { kind: 'tick'; batch: string; step: string; done: boolean; everywhere: boolean }
  | { kind: 'lose'; batch: string; step: string; pieces: number }
  | { kind: 'note'; batch: string; step: string; id: string; text: string }
  | { kind: 'unnote'; id: string }
  | { kind: 'timer'; id: string; name: string; place: string; seconds: number; everywhere: boolean }
  | { kind: 'stop'; id: string }
  | { kind: 'pot'; begin: Schemas['PotsBegin'] & { id: string }; advice?: string[] }
  | { kind: 'deed'; pot: string; deed: Omit<Schemas['PotsDeedFields'], 'at'> }
  | { kind: 'undeed'; pot: string; deed: string }
  | { kind: 'end'; pot: string; end: Schemas['PotsEnded'] }
  | { kind: 'reading'; pot: string; value: number; unit: 'C' | 'F' }

/** An act that waits to be sent, or was refused when it was. */
export interface Waits {
  act: Act
  at: string // when it was done
  key: string
  title: string
  to: string
  refused?: string
  sent?: boolean // it is on its way
  place?: string // where it is kept
}

/*
 * What is done at the bench while the kitchen cannot be reached is kept on this device and sent in its order as soon as
 * it can be. Each can be sent twice: an answer that was lost does no harm. What the kitchen refuses then stays, with
 * what it says, until a person throws it away.
 */
const prefix = 'bench/'
const isOurs = ([place]: [string, Kept]) => place.startsWith(prefix)
const all = (): [string, Waits][] =>
  keptAll()
    .filter(isOurs)
    .map(([place, kept]): [string, Waits] => [place, kept.value as Waits])
    .sort(([a], [b]) => (a < b ? -1 : 1))

function put(place: string, w: Waits) {
  keep(place, { value: w, title: w.refused ? `${w.title}: ${w.refused}` : w.title, to: w.to, at: Date.now() })
}

/** Tells one act. Late is what was not told at once: then its time goes along. */
function tell({ act, at, key }: Waits, late: boolean): Promise<unknown> {
  const when = late ? at : undefined
  const header = { 'Idempotency-Key': key }
  switch (act.kind) {
    case 'tick':
      return ask(
        api.PUT('/api/v1/batches/{id}/steps/{step}', {
          params: { path: { id: act.batch, step: act.step } },
          body: { done: act.done, at: when, device: deviceName(), everywhere: act.everywhere },
        }),
      )
    case 'lose':
      return ask(
        api.POST('/api/v1/batches/{id}/steps/{step}/losses', {
          params: { path: { id: act.batch, step: act.step }, header },
          body: { pieces: act.pieces },
        }),
      )
    case 'note':
      return ask(
        api.POST('/api/v1/batches/{id}/steps/{step}/notes', {
          params: { path: { id: act.batch, step: act.step } },
          body: { id: act.id, text: act.text, at: when },
        }),
      )
    case 'unnote':
      return ask(api.DELETE('/api/v1/step-notes/{id}', { params: { path: { id: act.id } } }))
    case 'timer':
      return ask(
        api.POST('/api/v1/timers', {
          body: {
            id: act.id,
            name: act.name,
            place: act.place,
            seconds: act.seconds,
            everywhere: act.everywhere,
            device: deviceName(),
            at: when,
          },
        }),
      )
    case 'stop':
      return ask(api.DELETE('/api/v1/timers/{id}', { params: { path: { id: act.id } } }))
    case 'pot':
      return ask(api.POST('/api/v1/pots', { params: { header }, body: { ...act.begin, at: when } }))
    case 'deed':
      return ask(
        api.POST('/api/v1/pots/{id}/deeds', {
          params: { path: { id: act.pot }, header },
          body: { ...act.deed, at: when },
        }),
      )
    case 'undeed':
      return ask(api.DELETE('/api/v1/pots/{id}/deeds/{was}', { params: { path: { id: act.pot, was: act.deed } } }))
    case 'end':
      return ask(api.PUT('/api/v1/pots/{id}/end', { params: { path: { id: act.pot } }, body: act.end }))
    case 'reading':
      return ask(
        api.POST('/api/v1/pots/{id}/readings', {
          params: { path: { id: act.pot }, header },
          body: { kind: 'probe', value: act.value, unit: act.unit, at: when },
        }),
      )
  }
}

/** What is asked for anew after an act. */
const topics: Record<Act['kind'], Topic[]> = {
  tick: ['plan', 'orders', 'timers'],
  lose: ['plan'],
  note: ['plan'],
  unnote: ['plan'],
  timer: ['timers'],
  stop: ['timers'],
  pot: ['pots'],
  deed: ['pots'],
  undeed: ['pots'],
  end: ['pots'],
  reading: ['pots'],
}

export type Outcome = 'sent' | 'waits' | Refused

const fresh = new Set<string>() // told for the first time
const told = new Set<string>() // that the kitchen has, and the page not yet

/** Whether an act may be shown twice: on what was asked for before it, and on what already has it. */
const twice: Record<Act['kind'], boolean> = {
  tick: true,
  lose: false,
  note: true,
  unnote: true,
  timer: true,
  stop: true,
  pot: false,
  deed: false,
  undeed: false,
  end: false,
  reading: false,
}
const outcomes = new Map<string, (o: Outcome) => void>()
let sending: Promise<void> = Promise.resolve()

/** Tells whoever did it what became of it; what has to wait is shown so from now on. */
function settle(place: string, w: Waits, outcome: Outcome) {
  if (fresh.delete(place) && outcome === 'waits') {
    drop(place)
    put(`${place}/waits`, w)
  }
  outcomes.get(place)?.(outcome)
  outcomes.delete(place)
}

/** Whether something is on its way, or there already: nobody need be told that it waits. */
export const underway = (place: string) => fresh.has(place) || told.has(place)

/** Tells what had to wait. A bowl whose thermometer or scale another one has by now is begun without, and so said. */
async function tellLate(place: string, w: Waits, missed: string[] = []): Promise<unknown> {
  try {
    return await tell(w, true)
  } catch (error) {
    if (w.act.kind !== 'pot' || !(error instanceof Refused)) throw error
    const of = (['probe', 'scale'] as const).find((x) => error.at(x) !== undefined)
    if (!of) throw error
    const without = [...missed, words.instruments[of]]
    put(`${place}/refused`, { ...w, refused: words.begunWithout(without) })
    return tellLate(
      place,
      { ...w, key: newKey(), act: { ...w.act, begin: { ...w.act.begin, [of]: undefined } } },
      without,
    )
  }
}

/** Sends what waits, one after the other; where the kitchen cannot be reached the rest waits too. */
async function flush(queries: QueryClient) {
  const changed = new Set<Topic>()
  const shown: string[] = [] // what is shown as it will be, until it is asked for anew
  for (const [place, w] of all()) {
    if (w.refused || told.has(place)) continue
    const late = !fresh.has(place)
    let outcome: Outcome = 'sent'
    try {
      await (late ? tellLate(place, w) : tell(w, late))
      if (twice[w.act.kind]) {
        told.add(place)
        shown.push(place)
      } else drop(place)
      topics[w.act.kind].forEach((t) => changed.add(t))
    } catch (error) {
      if (!(error instanceof Refused)) throw error
      outcome = error.status === 0 || error.status >= 500 || error.status === 401 ? 'waits' : error
      if (outcome !== 'waits') {
        topics[w.act.kind].forEach((t) => changed.add(t))
        drop(place)
        if (late) put(`${place}/refused`, { ...w, refused: error.message }) // else whoever did it is told at once
      }
    }
    settle(place, w, outcome)
    if (outcome === 'waits') {
      for (const [other, x] of all()) if (fresh.has(other)) settle(other, x, 'waits')
      break
    }
  }
  if (changed.size > 0) void seen(queries, [...changed], shown)
}

/** What the kitchen has is asked for anew; what is done meanwhile need not wait for that. */
async function seen(queries: QueryClient, changed: Topic[], shown: string[]) {
  try {
    await askAnew(queries, changed)
  } finally {
    for (const place of shown) {
      drop(place)
      told.delete(place)
    }
  }
}

export const sendActs = (queries: QueryClient) => (sending = sending.catch(() => {}).then(() => flush(queries)))

let count = 0

/** Does things at the bench, and what of it waits to be sent. */
export function useActs() {
  const queries = useQueryClient()
  const kitchen = useKitchen()
  const kept = useWaiting().filter(isOurs)
  const stamp = kept.map(([place, k]) => `${place} ${k.title}`).join('\n')
  // eslint-disable-next-line react-hooks/exhaustive-deps -- stamp is all that of it that can change
  const waiting = useMemo(() => all().map(([place, w]) => ({ ...w, place, sent: underway(place) })), [stamp])
  /** Resolves when the kitchen has it, with why it refused it, or when it has to wait. */
  async function act(a: Act, title: string, to: string): Promise<Outcome> {
    const place = `${prefix}${Date.now()}-${String(count++).padStart(4, '0')}`
    fresh.add(place)
    put(place, { act: a, at: kitchen.now().toISOString(), key: newKey(), title, to })
    const outcome = new Promise<Outcome>((resolve) => outcomes.set(place, resolve))
    void sendActs(queries)
    return outcome
  }
  return { waiting, act }
}

type Sheet = Schemas['BenchRunSheet']

/** A run sheet as it is with what waits to be sent. */
export function withWaiting(sheet: Sheet, waiting: Waits[]): Sheet {
  const ours = waiting.filter(
    (w) => !w.refused && (w.act.kind === 'tick' || w.act.kind === 'lose' || w.act.kind === 'note'),
  )
  if (ours.length === 0) return sheet
  return {
    ...sheet,
    steps: sheet.steps.map((s) => {
      let now = s
      for (const { act, at } of ours) {
        if (!('batch' in act) || act.batch !== s.batch || act.step !== s.step) continue
        if (act.kind === 'tick') now = { ...now, doneAt: act.done ? (now.doneAt ?? at) : undefined }
        if (act.kind === 'lose') now = { ...now, broken: now.broken + act.pieces }
        if (act.kind === 'note' && !now.notes?.some((n) => n.id === act.id))
          now = { ...now, notes: [...(now.notes ?? []), { id: act.id, text: act.text, at, who: words.waits }] }
      }
      return now
    }),
  }
}

/** Whether something of a step waits to be sent. */
export const waitsAt = (waiting: Waits[], s: { batch: string; step: string }) =>
  waiting.some(
    ({ act, refused, sent }) => !refused && !sent && 'batch' in act && act.batch === s.batch && act.step === s.step,
  )
