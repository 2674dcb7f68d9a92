import { type QueryClient, useQuery } from '@tanstack/react-query'
import { useEffect, useState } from 'react'
import { api, ask, type Schemas } from '../api/client'
import type { Kitchen } from '../shell/kitchen'
import { words } from './words'

export type Advice = Schemas['PotsAdvice']
export type Touch = Schemas['PotsTouch']
export type Deed = Schemas['PotsDeed']
export type What = Touch['what']

/** A bowl, and when this device heard of it: its clock goes on from there. */
export type Pot = Schemas['PotsPot'] & { heardAt: number }

const keyOf = (id: string) => ['pot', id]

export const usePot = (id: string) =>
  useQuery({
    queryKey: keyOf(id),
    queryFn: async (): Promise<Pot> => ({
      ...(await ask(api.GET('/api/v1/pots/{id}', { params: { path: { id } } }))),
      heardAt: Date.now(),
    }),
    placeholderData: undefined,
    refetchInterval: (q) => (q.state.data && !q.state.data.ended ? 20_000 : false), // where no stream comes through
  })

/** What the stream says of a bowl: what has been read since, and what is to be done now. */
interface Update {
  pot: string
  now: number
  temps?: Schemas['PotsPoint'][]
  grams?: Schemas['PotsPoint'][]
  advice: Advice
}

/** Takes what the stream says into what the page shows; what came before what is known is known already. */
export function heard(queries: QueryClient, body: string) {
  const said = JSON.parse(body) as Update
  queries.setQueryData<Pot>(keyOf(said.pot), (p) => {
    if (!p || p.ended || said.now < p.now - 1) return p
    const after = (list: Schemas['PotsPoint'][], more: Schemas['PotsPoint'][] = []) => {
      const last = list.at(-1)?.at ?? -1
      const fresh = more.filter((x) => x.at > last)
      return fresh.length > 0 ? [...list, ...fresh] : list
    }
    return {
      ...p,
      curve: { temps: after(p.curve.temps, said.temps), grams: after(p.curve.grams, said.grams) },
      advice: said.advice,
      now: said.now,
      heardAt: Date.now(),
    }
  })
}

/** Seconds since the bowl was begun, as they pass. */
export function useSeconds(p: Pot | undefined, every = 250): number {
  const [, draw] = useState(0)
  const on = Boolean(p && !p.ended)
  useEffect(() => {
    if (!on) return
    const timer = setInterval(() => draw((n) => n + 1), every)
    return () => clearInterval(timer)
  }, [on, every])
  if (!p) return 0
  // eslint-disable-next-line react-hooks/purity -- a clock is read while it is drawn
  return p.ended ? p.now : p.now + Math.max(Date.now() - p.heardAt, 0) / 1000
}

/** How a kitchen reads degrees and small weights. */
export function scalesOf(kitchen: Kitchen) {
  const fahrenheit = kitchen.session.degrees === 'F'
  const us = kitchen.session.units === 'us'
  const inUnit = (c: number) => (fahrenheit ? c * 1.8 + 32 : c)
  return {
    degree: fahrenheit ? '°F' : '°C',
    fahrenheit,
    inUnit,
    fromUnit: (n: number) => (fahrenheit ? (n - 32) / 1.8 : n),
    temp: (c: number, digits = 1) => `${inUnit(c).toFixed(digits)}`,
    weightUnit: us ? 'oz' : 'g',
    grams: (g: number) => (us ? (g / 28.349523125).toFixed(2) : String(Math.round(g))),
    fromWeight: (n: number) => (us ? n * 28.349523125 : n),
  }
}

/** A weight with its unit, as this kitchen reads it. */
export const weight = (kitchen: Kitchen, g: number) => {
  const s = scalesOf(kitchen)
  return `${s.grams(g)}\u00a0${s.weightUnit}`
}

/** A while as it is said: 40 s, 3 min. */
export const whileOf = (seconds: number) =>
  seconds < 90 ? words.seconds(Math.max(Math.round(seconds / 5) * 5, 5)) : words.minutes(Math.round(seconds / 60))

/** What was done, in words. */
export function didOf(kitchen: Kitchen, d: Pick<Deed, 'what' | 'seconds' | 'low' | 'grams' | 'pieces'>): string {
  switch (d.what) {
    case 'burst':
      return words.did.burst(Math.round(d.seconds ?? 0), d.low ?? false)
    case 'seeded':
    case 'added':
    case 'took':
    case 'weigh':
      return words.did[d.what](weight(kitchen, d.grams ?? 0))
    case 'dipped':
      return words.did.dipped(d.pieces ?? 0)
    default:
      return words.did[d.what]
  }
}

/** What a touch says. */
export function touchOf(kitchen: Kitchen, t: Touch): string {
  switch (t.what) {
    case 'burst':
      return words.touches.burst(Math.round(t.seconds ?? 0))
    case 'seeded':
    case 'added':
    case 'weigh':
      return words.touches[t.what](t.amount ? kitchen.amount(t.amount) : weight(kitchen, t.grams ?? 0))
    default:
      return words.touches[t.what]
  }
}
