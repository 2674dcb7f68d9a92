import { createStore, del, entries, set } from 'idb-keyval'
import { useEffect, useEffectEvent, useRef, useState, useSyncExternalStore } from 'react'

/**
 * What is typed and not saved yet, kept on this device: it outlives leaving the page, a reload and a browser that is
 * closed. Where the browser keeps nothing (some private windows), all of it works as if nothing had been kept.
 */
export interface Kept<T = unknown> {
  value: T
  title: string // what a person would call it
  to: string // the page on which it is finished
  at: number // ms since the epoch
}

const store = typeof indexedDB === 'undefined' ? undefined : createStore('zestytin-drafts', 'drafts')
const patience = 1_500 // ms; a browser whose storage hangs does not hold up the page
const listeners = new Set<() => void>()
/** Places whose forms are open: what they keep is theirs to save. */
const open = new Map<string, number>()
let known: ReadonlyMap<string, Kept> = new Map()
let owner = ''

const changed = () => {
  for (const l of listeners) l()
}

// While a page goes away nothing that takes time is sure to be finished: what was typed last is put here at once, and
// moved to the others when the next page opens.
const leaving = 'zestytin.leaving'

function keepAtOnce(place: string, kept: Kept) {
  try {
    const all = JSON.parse(localStorage.getItem(leaving) ?? '{}') as Record<string, Kept>
    localStorage.setItem(leaving, JSON.stringify({ ...all, [`${owner}/${place}`]: kept }))
  } catch {
    // too large, or no storage: then what was kept a moment before has to do
  }
}

async function moveIn() {
  try {
    const all = JSON.parse(localStorage.getItem(leaving) ?? '{}') as Record<string, Kept>
    localStorage.removeItem(leaving)
    if (store) await Promise.all(Object.entries(all).map(([key, kept]) => set(key, kept, store)))
  } catch {
    // as above
  }
}

/**
 * Reads what was kept for somebody in one of their kitchens; before that nothing is known. What was kept for them
 * before there could be several is this kitchen's.
 */
export async function openDrafts(person: string, kitchen: string) {
  const who = `${person}@${kitchen}`
  owner = who
  await Promise.race([moveIn(), new Promise((resolve) => setTimeout(resolve, patience))])
  try {
    const late = new Promise<[string, Kept][]>((resolve) => setTimeout(() => resolve([]), patience))
    const all = store ? await Promise.race([entries<string, Kept>(store), late]) : []
    const of = (prefix: string) =>
      all.filter(([key]) => key.startsWith(prefix)).map(([key, k]): [string, Kept] => [key.slice(prefix.length), k])
    const before = of(`${person}/`)
    known = new Map([...before, ...of(`${who}/`)])
    for (const [place, kept] of before) {
      if (!store) break
      await set(`${who}/${place}`, kept, store)
      await del(`${person}/${place}`, store)
    }
  } catch {
    known = new Map()
  }
  changed()
}

export const keptAt = <T>(place: string) => known.get(place) as Kept<T> | undefined

export function keep(place: string, kept: Kept) {
  known = new Map(known).set(place, kept)
  changed()
  if (store) void set(`${owner}/${place}`, kept, store).catch(() => {})
}

export function drop(place: string) {
  if (!known.has(place)) return
  const rest = new Map(known)
  rest.delete(place)
  known = rest
  changed()
  if (store) void del(`${owner}/${place}`, store).catch(() => {})
}

const subscribe = (l: () => void) => {
  listeners.add(l)
  return () => void listeners.delete(l)
}

/** All that is kept, by its place; what is open on the screen left out. */
export const keptAll = (): [string, Kept][] => [...known].filter(([place]) => !open.has(place))

export function useWaiting(): [string, Kept][] {
  useSyncExternalStore(subscribe, () => `${[...known.keys()].join()} ${[...open.keys()].join()}`)
  return keptAll()
}

/** What was kept at a place when its form was opened, for the form's first state. */
export interface Found<T> {
  value: T | undefined
  /** Throws it away; what is typed from now on is kept again. */
  forget: () => void
  /** The form is done with, saved or cancelled: nothing is kept of it any more. */
  over: () => void
  gone: { current: boolean }
}

export function useFound<T>(place: string): Found<T> {
  const [value, setValue] = useState(() => keptAt<T>(place)?.value)
  const gone = useRef(false)
  return {
    value,
    gone,
    forget: () => {
      setValue(undefined)
      drop(place)
    },
    over: () => {
      gone.current = true
      drop(place)
    },
  }
}

/** Keeps what is typed at a place until it is saved, or thrown away. */
export function useKeep<T>(
  place: string,
  about: { title: string; to: string },
  value: T,
  dirty: boolean,
  found: Found<T>,
) {
  const write = useEffectEvent(() => {
    if (dirty && !found.gone.current) keep(place, { ...about, value, at: Date.now() })
    else drop(place)
  })
  const leave = useEffectEvent(() => {
    if (dirty && !found.gone.current) keepAtOnce(place, { ...about, value, at: Date.now() })
  })
  const typed = JSON.stringify(value)
  useEffect(() => {
    const soon = setTimeout(write, 300)
    return () => clearTimeout(soon)
  }, [typed, dirty, place])
  useEffect(() => {
    open.set(place, (open.get(place) ?? 0) + 1)
    changed()
    window.addEventListener('pagehide', leave)
    return () => {
      window.removeEventListener('pagehide', leave)
      const left = (open.get(place) ?? 1) - 1
      if (left > 0) open.set(place, left)
      else open.delete(place)
      changed()
    }
  }, [place])
  // Left in the middle of a word.
  useEffect(() => () => write(), [])
}
