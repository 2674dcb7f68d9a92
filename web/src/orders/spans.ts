/** Spans of days of which orders are asked for. */
export type Span = 'lastMonth' | 'lastWeek' | 'week' | 'nextWeek' | 'month' | 'nextMonth'

const plusDays = (day: string, n: number) =>
  new Date(Date.parse(`${day}T12:00:00Z`) + n * 86_400_000).toISOString().slice(0, 10)

/** The days of a span, as the kitchen's calendar has them: weeks begin on Monday. */
export function daysOf(span: Span | undefined, today: string): { from?: string; to?: string } {
  if (!span) return {}
  const monday = plusDays(today, -((new Date(`${today}T12:00:00Z`).getUTCDay() + 6) % 7))
  const week = (n: number) => ({ from: plusDays(monday, 7 * n), to: plusDays(monday, 7 * n + 6) })
  const month = (n: number) => {
    const [year, at] = today.split('-').map(Number) as [number, number]
    const day = (m: number, d: number) => new Date(Date.UTC(year, at - 1 + m, d, 12)).toISOString().slice(0, 10)
    return { from: day(n, 1), to: day(n + 1, 0) }
  }
  return {
    lastMonth: month(-1),
    lastWeek: week(-1),
    week: week(0),
    nextWeek: week(1),
    month: month(0),
    nextMonth: month(1),
  }[span]
}
