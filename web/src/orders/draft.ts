import type { Schemas } from '../api/client'
import { type Kitchen, plusDays } from '../shell/kitchen'

export type Draft = Schemas['OrderDraft']
export type State = Schemas['OrdersOrder']['state']

/** A new order: a week from now, picked up in the afternoon. */
export const blank = (kitchen: Kitchen): Draft => {
  const day = plusDays(kitchen.today(), 7)
  return { customer: '', way: 'pickup', place: 'at the door', from: kitchen.instant(day, '14:00'), to: kitchen.instant(day, '15:00'), lines: [], freeFrom: [] }
}

/** What a person does to move an order on, back or out. */
export const verbs: Record<State, string> = {
  enquiry: 'Back to enquiry',
  quoted: 'It is quoted',
  promised: 'Promise it',
  'in the making': 'Begin making',
  packed: 'It is packed',
  'handed over': 'Handed over',
  settled: 'It is settled',
  cancelled: 'Cancel it',
}

const way: State[] = ['enquiry', 'quoted', 'promised', 'in the making', 'packed', 'handed over', 'settled']

/** The move that is most likely next. */
export const onward = (state: State, moves: State[]): State | undefined => {
  const at = way.indexOf(state)
  if (state === 'enquiry' || state === 'quoted') return 'promised'
  return moves.find((m) => way.indexOf(m) > at)
}

/** A move's words: going back says so. */
export const verb = (from: State, to: State): string => {
  if (from !== 'cancelled' && way.indexOf(to) >= 0 && way.indexOf(to) < way.indexOf(from)) return `Back to ${to}`
  return verbs[to]
}
