import type { Schemas } from '../api/client'

export type View = Schemas['PlanningPlanView']
export type Day = Schemas['PlanningPlanDay']
export type Step = Schemas['PlanningPlanStep']
export type Outcome = Schemas['PlanningOutcome']
export type Change = Schemas['PlanningChange']

/** A place in time: minutes of the day, and which person. */
export interface At {
  day: string
  start: number
  hand: number
}

export const keyOf = (s: { batch: string; step: string }) => `${s.batch}/${s.step}`

const half = 30

/** What of a day is drawn: from the half hour before its first work or hours to the one after its last. */
export function rangeOf(d: Day): { from: number; to: number } | null {
  // What was done at another time of the day does not make the tin longer.
  const steps = d.steps.filter((s) => !s.done)
  const from = [...d.hours.map((h) => h.from), ...steps.map((s) => s.start - s.melt - s.wash)]
  const to = [...d.hours.map((h) => h.to), ...steps.map((s) => s.start + s.hands)]
  if (from.length === 0) return null
  return { from: Math.max(Math.floor((Math.min(...from) - 10) / half) * half, 0), to: Math.min(Math.ceil((Math.max(...to) + 10) / half) * half, 1440) }
}

/** How many people a day's lanes are for. */
export const lanesOf = (d: Day) => Math.max(1, ...d.hours.map((h) => h.hands), ...d.steps.map((s) => s.hand + 1))

/** The next day before or after that somebody works on; the same where there is none. */
export function dayBeside(days: Day[], day: string, by: 1 | -1): Day | undefined {
  const i = days.findIndex((d) => d.day === day)
  const rest = by > 0 ? days.slice(i + 1) : days.slice(0, Math.max(i, 0)).reverse()
  return rest.find((d) => d.hours.length > 0)
}

/** At, moved on by keys: minutes, persons, days. It stays within hours that somebody works. */
export function moveBy(days: Day[], at: At, step: Step, by: { minutes?: number; hand?: 1 | -1; day?: 1 | -1 }): At {
  const here = days.find((d) => d.day === at.day)
  if (by.day) {
    const there = dayBeside(days, at.day, by.day)
    return there ? within(there, { ...at, day: there.day }, step) : at
  }
  if (by.hand) {
    const hand = at.hand + by.hand
    if (here && hand >= 0 && hand < lanesOf(here)) return { ...at, hand }
    const there = dayBeside(days, at.day, by.hand)
    return there ? within(there, { ...at, day: there.day, hand: by.hand > 0 ? 0 : lanesOf(there) - 1 }, step) : at
  }
  return { ...at, start: Math.min(Math.max(at.start + (by.minutes ?? 0), 0), 1439) }
}

/** At, or the nearest start on that day at which a step's hands fit into its hours. */
export function within(d: Day, at: At, step: Step): At {
  const hand = Math.min(at.hand, lanesOf(d) - 1)
  const fits = d.hours.filter((h) => h.to - h.from >= step.hands && h.hands > hand)
  const best = fits.map((h) => Math.min(Math.max(at.start, h.from + step.melt), h.to - step.hands)).sort((a, b) => Math.abs(a - at.start) - Math.abs(b - at.start))[0]
  return { ...at, hand, start: best ?? at.start }
}

/** The days with moved steps back where they stood. */
export function before(days: Day[], moved: Outcome['moved']): Day[] {
  const was = new Map(moved.map((m) => [keyOf(m), m.from]))
  const steps = days.flatMap((d) => d.steps.map((s) => ({ s, at: was.get(keyOf(s)) ?? { day: d.day, start: s.start, hand: s.hand } })))
  return days.map((d) => ({ ...d, steps: steps.filter((x) => x.at.day === d.day).map(({ s, at }) => ({ ...s, start: at.start, hand: at.hand })).sort((a, b) => a.start - b.start) }))
}

/** How full something is over a span, as corners of an area: minutes and amounts. */
export function corners(spans: Schemas['PlanningFill'][], from: number, to: number): { at: number; amount: number }[] {
  const cut = [...new Set([from, to, ...spans.flatMap((s) => [s.from, s.to])])].filter((t) => t >= from && t <= to).sort((a, b) => a - b)
  return cut.map((at) => ({ at, amount: spans.filter((s) => s.from <= at && at < s.to).reduce((sum, s) => sum + s.amount, 0) }))
}


