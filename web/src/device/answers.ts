import { dehydrate, type DehydratedState, hydrate, type QueryClient } from '@tanstack/react-query'
import { clear, createStore, get, set } from 'idb-keyval'

/**
 * The last answers of the server, kept on this device: they are shown when the application is opened while the kitchen
 * cannot be reached, and only then. They are the signed-in person's; signing out throws them away.
 */
const store = typeof indexedDB === 'undefined' ? undefined : createStore('zestytin-answers', 'answers')
const shape = 1 // what is kept in another shape is not read
const longest = 14 * 24 * 3600_000 // ms

/** Only what a person reads; not what is computed while one types. */
const read = new Set([
  ...['session', 'starter', 'orders', 'order', 'shortfalls', 'treats', 'treat', 'mixes', 'mix', 'shelf', 'plan'],
  ...[
    'work-days',
    'capacity',
    'run-sheet',
    'ingredients',
    'supplies',
    'stock',
    'shopping',
    'till',
    'kitchen',
    'allergens',
    'drives',
    'road-map',
    'timers',
    'pots',
    'pot',
  ],
])

/** Keeps what was answered, a few seconds after the last answer. */
export function keepAnswers(queries: QueryClient): () => void {
  let later: ReturnType<typeof setTimeout> | undefined
  const write = () => {
    later = undefined
    const answers = dehydrate(queries, {
      shouldDehydrateQuery: (q) =>
        q.state.status === 'success' && q.state.data !== undefined && read.has(String(q.queryKey[0])),
      shouldDehydrateMutation: () => false,
    })
    if (store) void set('last', { shape, at: Date.now(), answers }, store).catch(() => {})
  }
  const over = queries.getQueryCache().subscribe((e) => {
    if (e.type === 'updated' && e.action.type === 'success') later ??= setTimeout(write, 2_000)
  })
  return () => {
    clearTimeout(later)
    over()
  }
}

/** Puts the kept answers where nothing was answered yet; false where there are none. */
export async function recallAnswers(queries: QueryClient): Promise<boolean> {
  try {
    const kept = store && (await get<{ shape: number; at: number; answers: DehydratedState }>('last', store))
    if (!kept || kept.shape !== shape || Date.now() - kept.at > longest) return false
    hydrate(queries, kept.answers)
    return true
  } catch {
    return false
  }
}

export const forgetAnswers = async () => {
  try {
    if (store) await clear(store)
  } catch {
    // there is nothing to forget where nothing can be kept
  }
}
