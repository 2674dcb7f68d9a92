import type { Schemas } from '../api/client'
import { same } from '../device/merge'

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
  customer: 'Customer',
  phone: 'Phone',
  mail: 'Email',
  occasion: 'Occasion',
  way: 'Pickup or delivery',
  place: 'Place',
  from: 'Start of the handover',
  to: 'End of the handover',
  lines: 'Treats',
  freeFrom: 'Free from',
  notes: 'Notes',
  pricing: 'Price',
  discount: 'Discount',
  distance: 'Distance',
  cash: 'Card fee',
}

/** What a person does to move an order on, back or out. */
export const verbs: Record<State, string> = {
  enquiry: 'Back to request',
  quoted: 'Mark as quoted',
  promised: 'Confirm order',
  'in the making': 'Start making',
  packed: 'Mark as packed',
  'handed over': 'Mark as handed over',
  settled: 'Mark as paid and close',
  cancelled: 'Cancel order',
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
export const verb = (m: Schemas['OrdersTransition']): string => (m.back ? `Back to ${stateName[m.to]}` : verbs[m.to])
