import type { Schemas } from '../api/client'

export type Draft = Schemas['OrderDraft']
export type State = Schemas['OrdersOrder']['state']

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

/** A move's words: going back says so. */
export const verb = (m: Schemas['OrdersTransition']): string => (m.back ? `Back to ${m.to}` : verbs[m.to])
