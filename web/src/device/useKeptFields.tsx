import { useState } from 'react'
import { useFound, useKeep } from './drafts'
import { Restored } from './Restored'

/** The fields of a small form, kept on this device until it is saved or cancelled. */
export function useKeptFields<T extends { name: string }>(
  place: string,
  title: string, // of what has no name yet
  to: string,
  begun: T,
  revision?: number, // of what is changed
) {
  const found = useFound<{ fields: T; revision?: number }>(place)
  const [f, setF] = useState(found.value?.fields ?? begun)
  const own = found.value?.revision ?? revision
  const dirty = JSON.stringify(f) !== JSON.stringify(begun)
  useKeep(place, { title: f.name.trim() || title, to }, { fields: f, revision: own }, dirty, found)
  return {
    f,
    setF,
    // What came late never puts back what was typed in another field since.
    set: (change: Partial<T>) => setF((was) => ({ ...was, ...change })),
    revision: own,
    over: found.over,
    restored: (
      <Restored
        found={Boolean(found.value) && dirty}
        forget={() => {
          found.forget()
          setF(begun)
        }}
      />
    ),
  }
}
