import type { QueryClient } from '@tanstack/react-query'

/** What rests on what: by what was changed, the first parts of the keys of queries. */
const rests: Record<string, string[]> = {
  orders: [
    'orders',
    'drives',
    'order',
    'order-messages',
    'events',
    'packing',
    'shortfalls',
    'shelf',
    'till',
    'payments',
    'starter',
    'plan',
    'run-sheet',
    'outlook',
  ],
  plan: [
    'fault',
    'faults',
    'logbook',
    'lessons',
    'shelf',
    'packing',
    'drives',
    'plan',
    'run-sheet',
    'outlook',
    'orders',
    'order',
    'shortfalls',
    'work-days',
    'capacity',
    'hours',
  ],
  treats: [
    'lessons',
    'treats',
    'treat',
    'mixes',
    'mix',
    'versions',
    'changes',
    'starter',
    'ingredient',
    'item',
    'orders',
    'order',
  ],
  larder: ['ingredients', 'ingredient', 'supplies', 'stock', 'item', 'shopping', 'starter', 'mixes', 'slip', 'recipe'],
  customers: ['customers'],
  drives: ['drives'],
  events: ['events'],
  packing: ['packing'],
  messages: ['messages', 'order-messages', 'drives'],
  pots: ['pots', 'pot', 'sensors'],
  timers: ['timers'],
  account: ['account', 'security-log', 'session'],
  faults: ['fault', 'faults'],
}

/** Figures that are computed anew from all of it. */
const figures = ['estimate', 'figures', 'what-if', 'reliefs', 'card', 'ladder', 'weigh', 'stock', 'item', 'shopping']

export type Topic =
  | 'orders'
  | 'plan'
  | 'treats'
  | 'larder'
  | 'customers'
  | 'drives'
  | 'events'
  | 'packing'
  | 'messages'
  | 'pots'
  | 'timers'
  | 'faults'
  | 'account'
  | 'kitchen'

/**
 * What was changed is asked for anew, with all that rests on it; on the numbers of the kitchen rests everything.
 * Figures of a draft that is being typed are left alone where somebody else changed something: the next key asks.
 */
export function askAnew(queries: QueryClient, topics: Topic[], withFigures = true) {
  const known = topics.map((t) => rests[t])
  if (known.some((keys) => !keys)) return queries.invalidateQueries()
  const keys = new Set([...known.flatMap((k) => k ?? []), ...(withFigures ? figures : [])])
  return queries.invalidateQueries({ predicate: (q) => keys.has(String(q.queryKey[0])) })
}
