import type { Schemas } from '../api/client'

export type Draft = Schemas['OrderDraft']
export type State = Schemas['OrdersOrder']['state']

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
