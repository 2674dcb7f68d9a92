import { useSyncExternalStore } from 'react'

/** Whether the kitchen's server answers. It is known from what was asked last; while it does not, it is tried again. */
let reached = true
let trying: ReturnType<typeof setInterval> | undefined
const listeners = new Set<() => void>()

const set = (next: boolean) => {
  if (reached === next) return
  reached = next
  clearInterval(trying)
  if (!next) trying = setInterval(knock, 3_000)
  for (const l of listeners) l()
}

async function knock() {
  try {
    const answer = await fetch('/readyz', { cache: 'no-store' })
    if (answer.ok) set(true)
  } catch {
    // still away
  }
}

/** Called with every answer, and with every one that did not come. */
export const answered = (came: boolean) => set(came)

addEventListener('online', () => void knock())

const subscribe = (listener: () => void) => {
  listeners.add(listener)
  return () => void listeners.delete(listener)
}

export const useReached = () => useSyncExternalStore(subscribe, () => reached)

/** Calls back when the server is reached again. */
export const onReached = (again: () => void) =>
  subscribe(() => {
    if (reached) again()
  })
