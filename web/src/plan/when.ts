import { api, askTagged, etag, type Schemas } from '../api/client'

export type View = Schemas['PlanningPlanView']
export type Day = Schemas['PlanningPlanDay']
export type Step = Schemas['PlanningPlanStep']
export type Outcome = Schemas['PlanningOutcome']
export type Change = Schemas['PlanningChange']

export type WorkDays = Schemas['PlanningWorkDays']

export const fetchHours = () => askTagged(api.GET('/api/v1/work-days', {}))
export const putHours = (body: WorkDays, revision: number) =>
  askTagged(api.PUT('/api/v1/work-days', { body, params: { header: { 'If-Match': etag(revision) } } }))

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
  return {
    from: Math.max(Math.floor((Math.min(...from) - 10) / half) * half, 0),
    to: Math.min(Math.ceil((Math.max(...to) + 10) / half) * half, 1440),
  }
}

/** How many people a day's lanes are for. */
export const lanesOf = (d: Day) => Math.max(1, ...d.hours.map((h) => h.hands), ...d.steps.map((s) => s.hand + 1))

/** The days with moved steps back where they stood. */
export function before(days: Day[], moved: Outcome['moved']): Day[] {
  const was = new Map(moved.map((m) => [keyOf(m), m.from]))
  const steps = days.flatMap((d) =>
    d.steps.map((s) => ({ s, at: was.get(keyOf(s)) ?? { day: d.day, start: s.start, hand: s.hand } })),
  )
  return days.map((d) => ({
    ...d,
    steps: steps
      .filter((x) => x.at.day === d.day)
      .map(({ s, at }) => ({ ...s, start: at.start, hand: at.hand }))
      .sort((a, b) => a.start - b.start),
  }))
}

/** How full something is over a span, as corners of an area: the fills of the server from one minute to another. */
export function corners(
  fills: Schemas['PlanningLevel']['fills'],
  from: number,
  to: number,
): { at: number; amount: number }[] {
  const before = fills.findLast((f) => f.at <= from)
  return [{ at: from, amount: before?.amount ?? 0 }, ...fills.filter((f) => f.at > from && f.at < to)]
}
