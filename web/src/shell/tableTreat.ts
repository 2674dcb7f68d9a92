import { useSyncExternalStore } from 'react'
import type { Schemas } from '../api/client'

/** What the scratch pad worked out and a treat can take. */
export interface Taken {
  shell?: { across: Schemas['MeasureQuantity']; wall: Schemas['MeasureQuantity'] }
  sheet?: { length: Schemas['MeasureQuantity']; width: Schemas['MeasureQuantity']; depth: Schemas['MeasureQuantity'] }
  good?: number
  loss?: number
  centre?: Schemas['MeasureQuantity']
  pool?: Schemas['MeasureQuantity'] // of chocolate in the bowl that is dipped from
  portion?: { ingredient: string; each: Schemas['MeasureQuantity'] }
}

/** The treat that is being edited on the table, as the scratch pad knows it. */
export interface OnTable {
  name: string
  takes: Record<keyof Taken, boolean>
  take: (taken: Taken) => void
}

let laid: OnTable | null = null
const listeners = new Set<() => void>()

const lay = (treat: OnTable | null) => {
  laid = treat
  for (const tell of listeners) tell()
}

const subscribe = (tell: () => void) => {
  listeners.add(tell)
  return () => void listeners.delete(tell)
}

/** The treat on the table, and the way to lay one there. */
export const useTable = () => ({ treat: useSyncExternalStore(subscribe, () => laid), lay })
