import type { Schemas } from '../api/client'
import { same } from '../device/merge'
import { words } from './words'

export type Draft = Schemas['OrderDraft']
export type State = Schemas['OrdersOrder']['state']

/** Whether a field of two drafts says the same: instants in any form, figures as numbers, nothing as nothing. */
export function sameField(a: unknown, b: unknown, field: keyof Draft): boolean {
  if (field === 'from' || field === 'to') return Date.parse(String(a)) === Date.parse(String(b))
  if (field === 'pricing') {
    const [p, q] = [a, b] as Draft['pricing'][]
    return p?.by === q?.by && Number(p?.value ?? 0) === Number(q?.value ?? 0)
  }
  return same(a || null, b || null)
}

/** Whether two drafts say the same. */
export const sameDraft = (a: Draft, b: Draft) =>
  ([...new Set([...Object.keys(a), ...Object.keys(b)])] as (keyof Draft)[]).every((k) => sameField(a[k], b[k], k))

/** What the fields of an order are called. */
export const fieldName: Record<keyof Draft, string> = {
  customer: words.customer,
  phone: words.phone,
  mail: words.email,
  occasion: words.occasion2,
  way: words.pickupOrDelivery,
  place: words.place,
  from: words.startOfTheHandover,
  to: words.endOfTheHandover,
  lines: words.treats,
  freeFrom: words.freeFrom,
  wishes: words.isToSuit,
  notes: words.notes,
  pricing: words.price2,
  discount: words.discount2,
  distance: words.distance,
  cash: words.cardFee2,
  sets: words.mixedBoxes,
}

/** What a person does to move an order on, back or out. */
export const verbs: Record<State, string> = {
  enquiry: words.backToRequest,
  quoted: words.markAsQuoted,
  promised: words.confirmOrder,
  'in the making': words.startMaking,
  packed: words.markAsPacked,
  'handed over': words.markAsHandedOver,
  settled: words.markAsPaidAndClose,
  cancelled: words.cancelOrder,
}

/** What a state is called. The stored names are older, and part of the API. */
export const stateName: Record<State, string> = {
  enquiry: 'request',
  quoted: 'quoted',
  promised: 'confirmed',
  'in the making': 'making',
  packed: 'packed',
  'handed over': 'handed over',
  settled: 'closed',
  cancelled: 'cancelled',
}

/** A move's words: going back says so. */
export const verb = (m: Schemas['OrdersTransition']): string => (m.back ? words.backTo(stateName[m.to]) : verbs[m.to])
