import type { QueryClient } from '@tanstack/react-query'
import { askAnew, type Topic } from './topics'

/**
 * Hears what changes in the kitchen, wherever it was changed, and asks for that anew. One page of a browser holds the
 * stream and passes on what comes; where pages cannot agree on one (plain http), each has its own. What says itself is
 * given to whoever knows what to do with it, by its name. Ends with the function that it returns.
 */
export function hear(
  queries: QueryClient,
  told: Record<string, (queries: QueryClient, body: string) => void> = {},
): () => void {
  // Several at once, and what this page has changed itself, are asked for once, a moment later.
  const due = new Set<string>()
  let soon: ReturnType<typeof setTimeout> | undefined
  const take = (topic: string) => {
    due.add(topic)
    soon ??= setTimeout(() => {
      const topics = [...due] as Topic[]
      due.clear()
      soon = undefined
      void askAnew(queries, topics, false)
    }, 400)
  }
  const others = new BroadcastChannel('zestytin.changes')
  others.onmessage = (e: MessageEvent<string | { name: string; body: string }>) =>
    typeof e.data === 'string' ? take(e.data) : told[e.data.name]?.(queries, e.data.body)
  let stream: EventSource | undefined
  let over: () => void = () => {}
  const open = () => {
    stream = new EventSource('/api/v1/events')
    stream.onmessage = (e: MessageEvent<string>) => {
      take(e.data)
      others.postMessage(e.data)
    }
    for (const [name, tell] of Object.entries(told))
      stream.addEventListener(name, (e: MessageEvent<string>) => {
        tell(queries, e.data)
        others.postMessage({ name, body: e.data })
      })
    let broken = false
    stream.onerror = () => {
      broken = true
    }
    stream.onopen = () => {
      if (!broken) return
      broken = false // what changed meanwhile was not heard
      take('everything')
      others.postMessage('everything')
    }
  }
  const asked = new AbortController()
  if ('locks' in navigator) {
    void navigator.locks
      .request('zestytin.changes', { signal: asked.signal }, () => {
        open()
        return new Promise<void>((resolve) => {
          over = resolve
        })
      })
      .catch(() => {}) // another page had the stream until the end
  } else open()
  return () => {
    clearTimeout(soon)
    asked.abort()
    over()
    stream?.close()
    others.close()
  }
}
