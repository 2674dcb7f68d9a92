import dayjs from 'dayjs'
import timezone from 'dayjs/plugin/timezone.js'
import utc from 'dayjs/plugin/utc.js'
import { createContext, useContext } from 'react'
import type { Schemas } from '../api/client'
import { mayGo } from './roles'
import { words } from './words'

dayjs.extend(utc)
dayjs.extend(timezone)

export type Session = Schemas['AccountSession']

/** Money as people write it, with as many decimals as its amount has. */
export const moneyOf = {
  text: (m: Schemas['PriceMoney']) => {
    const digits = m.amount.split('.')[1]?.length ?? 0
    return new Intl.NumberFormat('en', {
      style: 'currency',
      currency: m.currency,
      currencyDisplay: 'narrowSymbol',
      minimumFractionDigits: digits,
      maximumFractionDigits: digits,
    }).format(Number(m.amount))
  },
  sign: (currency: string) =>
    new Intl.NumberFormat('en', { style: 'currency', currency, currencyDisplay: 'narrowSymbol' })
      .formatToParts(0)
      .find((p) => p.type === 'currency')?.value ?? currency,
}

const minuteOf = (at: dayjs.Dayjs) => at.hour() * 60 + at.minute()

/** How this kitchen reads amounts, money and clocks. */
export class Kitchen {
  readonly zone: string

  /** readAt: when the server answered, by this device, which may be wrong but goes on without a connection; ms. */
  constructor(
    readonly session: Session,
    readonly readAt: number,
  ) {
    this.zone = session.timeZone ?? 'UTC'
  }

  get role() {
    return this.session.role ?? 'owner'
  }
  get owns() {
    return this.role === 'owner'
  }
  /** Makers are told no amounts of money: what is shown beside one is left out with it. */
  get seesMoney() {
    return this.role !== 'maker'
  }
  /** Of customers who are called at on a day: to makers they are told once it has come. */
  seesAddresses = (day: string) => this.role !== 'maker' || day <= this.today()
  mayGo = (path: string) => mayGo(this.role, path)
  /** The kitchen among those that one works in. */
  get id() {
    return this.session.kitchens?.find((k) => k.this)?.id ?? ''
  }

  now = () =>
    dayjs(this.session.now)
      .add(Math.max(Date.now() - this.readAt, 0))
      .tz(this.zone)
  today = () => this.now().format('YYYY-MM-DD')
  local = (instant: string) => dayjs(instant).tz(this.zone)

  /** Minutes of a day as this kitchen's clock shows them: 1110 is 6:30 pm, or 18:30. */
  clock = (minute: number) => {
    if (minute === 24 * 60) return words.midnight
    const at = dayjs()
      .startOf('day')
      .hour(Math.floor(minute / 60) % 24)
      .minute(minute % 60)
    return at.format(this.session.clock === 12 ? 'h:mm\u00a0a' : 'HH:mm')
  }

  /** The minute of the day that it is now. */
  minute = () => minuteOf(this.now())

  /** The clock at an instant. */
  time = (instant: string) => this.clock(minuteOf(this.local(instant)))

  /** An instant with its day: Tue 8 Sep, 6:30 pm. */
  moment = (instant: string) => `${dayName(this.local(instant).format('YYYY-MM-DD'))}, ${this.time(instant)}`

  /** The instant of a wall-clock time in the kitchen. */
  instant = (day: string, clock: string) => dayjs.tz(`${day} ${clock}`, this.zone).toISOString()

  amount = (shown: Schemas['MeasureShown']) => (this.session.units === 'us' ? shown.us : shown.metric)
  other = (shown: Schemas['MeasureShown']) => (this.session.units === 'us' ? shown.metric : shown.us)

  money = (m: Schemas['PriceMoney']) => (m.amount === '' ? '' : moneyOf.text(m))
}

export const KitchenContext = createContext<Kitchen | null>(null)

export function useKitchen(): Kitchen {
  const kitchen = useContext(KitchenContext)
  if (!kitchen) throw new Error('no kitchen: this is shown to signed-in people only')
  return kitchen
}

/** 125 is "2 h 5 min". */
export function minutes(n: number): string {
  const hours = Math.floor(n / 60)
  if (hours === 0) return `${n}\u00a0min`
  return n % 60 === 0 ? `${hours}\u00a0h` : `${hours}\u00a0h\u00a0${n % 60}\u00a0min`
}

/** Whom a batch is for, with how many pieces each takes where there are several; without takers it is made ahead. */
export const whom = (takers: Schemas['OrderShareOwner'][]) =>
  takers.length === 0
    ? words.theLarder
    : takers.length === 1
      ? takers[0]!.customer
      : together(takers.map((t) => `${t.customer} (${t.count})`))

/** What a batch is of: so many of a treat, so much of a mix. */
export const whatOf = (kitchen: Kitchen, w: { treat: string; count?: number; amount?: Schemas['MeasureShown'] }) =>
  [w.amount ? kitchen.amount(w.amount) : w.count, w.treat].filter((x) => x !== undefined).join(' ')

/** Tue 8, Wed 9 and Thu 10. */
export const together = (list: string[]) =>
  list.length < 2 ? list.join() : words.and(list.slice(0, -1).join(', '), list.at(-1)!)

/** Opens and closes the scratch pad, wherever one is. */
export const padEvent = 'scratch-pad'

/** A date as people say it: Tue 15 Sep; with its year where that is another than today's. */
export const dayName = (day: string) => dayjs(day).format(sameYear(day) ? 'ddd D MMM' : 'ddd D MMM YYYY')
/** The same on the shelf, where the month is plain: Tue 15. */
export const dayShort = (day: string) => dayjs(day).format('ddd D')
export const dayLong = (day: string) => dayjs(day).format(sameYear(day) ? 'dddd D MMMM' : 'dddd D MMMM YYYY')
const sameYear = (day: string) => Math.abs(dayjs(day).diff(dayjs(), 'month', true)) < 10
export const plusDays = (day: string, n: number) => dayjs(day).add(n, 'day').format('YYYY-MM-DD')

/** In how many days, in words. */
export function inDays(today: string, day: string): string {
  const n = dayjs(day).diff(today, 'day')
  if (n === 0) return words.today
  if (n === 1) return words.tomorrow
  if (n === -1) return words.yesterday
  return n > 0 ? words.inDays(n) : words.daysAgo(-n)
}

export const numberWord = (n: number) => words.numbers[n] ?? String(n)
