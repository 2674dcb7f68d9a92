import { useMutation, type UseQueryResult } from '@tanstack/react-query'
import { useState } from 'react'
import { Refused } from '../api/client'
import { Both } from './Both'
import { useFound, useKeep } from './drafts'
import { onTop, same } from './merge'
import { Restored } from './Restored'
import { BothChanged, saveOver, type Tagged } from './saveOver'

/**
 * One stored thing that is edited in a form and saved as a whole. What is typed is kept on this device until it is
 * saved or thrown away, and saved as saveOver does. put gets what save was called with.
 */
export function useDocument<T extends object, R, With = void>(
  place: string,
  about: { title: string; to: string },
  stored: UseQueryResult<Tagged<T>>,
  put: (value: T, revision: number, more: With) => Promise<R>,
  onSaved: (answer: R, before: T) => void,
) {
  const found = useFound<{ value: T; base: Tagged<T> }>(place)
  // What is edited, and what it was when that began; without it what is stored is shown as it is.
  const [edit, setEdit] = useState(found.value)
  const base = edit?.base ?? stored.data
  const value = edit?.value ?? stored.data?.data
  const dirty = Boolean(edit && !same(edit.value, edit.base.data))
  useKeep(place, about, edit, dirty, found)
  const save = useMutation({
    mutationFn: async (more: With) => {
      if (!base || !value) throw new Error('nothing is loaded yet')
      return saveOver(
        base,
        value,
        (mine, revision) => put(mine, revision, more),
        async () => (await stored.refetch()).data,
        (mine, at, sent) => setEdit((now) => ({ value: now ? onTop(sent, now.value, mine) : mine, base: at })),
      )
    },
    onSuccess: ({ answer, before, sent }) => {
      found.forget()
      // What was typed while it was saved goes on, on top of what was saved.
      setEdit((now) =>
        now && !same(now.value, sent) ? { value: now.value, base: { ...before, data: sent } } : undefined,
      )
      onSaved(answer, before.data)
    },
  })
  function drop() {
    setEdit(undefined)
    found.forget()
  }
  function leave() {
    drop()
    save.reset()
  }
  return {
    value,
    dirty,
    refused: save.error instanceof Refused ? save.error : undefined,
    saving: save.isPending,
    set: (next: T) => base && setEdit({ value: next, base }),
    save: save.mutate,
    drop: leave,
    /** Said above the form: that it begins with what was typed earlier, or that somebody else was faster. */
    notice: (
      <>
        <Restored found={Boolean(found.value) && dirty} forget={leave} />
        {save.error instanceof BothChanged && <Both theirs={leave} mine={() => save.mutate(save.variables as With)} />}
      </>
    ),
  }
}
