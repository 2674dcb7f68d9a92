import { useMutation, type UseQueryResult } from '@tanstack/react-query'
import { Button } from 'antd'
import { useState } from 'react'
import { Refused } from '../api/client'
import { useFound, useKeep } from './drafts'
import { merge, same } from './merge'
import { Restored } from './Restored'

/** What is stored, with the revision that an edit of it must name. */
export interface Tagged<T> {
  data: T
  revision: number
}

const words = {
  both: 'Someone else changed this too, so your changes aren’t saved yet.',
  theirs: 'Use theirs',
  mine: 'Keep mine',
}

/**
 * One stored thing that is edited in a form and saved as a whole. What is typed is kept on this device until it is
 * saved or thrown away. Where somebody else saved first, what they changed in other fields is taken over and mine is
 * saved again; where they changed the same field, a person decides.
 */
export function useDocument<T extends object, R, With = void>(
  place: string,
  about: { title: string; to: string },
  stored: UseQueryResult<Tagged<T>>,
  put: (value: T, revision: number, more: With) => Promise<R>,
  onSaved: (answer: R, before: T, revision: number) => void,
) {
  const found = useFound<{ value: T; base: Tagged<T> }>(place)
  // What is edited, and what it was when that began; without it what is stored is shown as it is.
  const [edit, setEdit] = useState(found.value)
  const [both, setBoth] = useState<Tagged<T>>() // what they made of it, where both changed the same field
  const base = edit?.base ?? stored.data
  const value = edit?.value ?? stored.data?.data
  const dirty = Boolean(edit && !same(edit.value, edit.base.data))
  useKeep(place, about, edit, dirty, found)
  function drop() {
    setEdit(undefined)
    setBoth(undefined)
    found.forget()
  }

  const save = useMutation({
    mutationFn: async (more: With) => {
      if (!base || !value) throw new Error('nothing is loaded yet')
      setBoth(undefined)
      let at = base
      let mine = value
      for (let tries = 0; ; tries++) {
        try {
          return { answer: await put(mine, at.revision, more), before: at }
        } catch (error) {
          if (!(error instanceof Refused) || error.status !== 412 || tries > 4) throw error
          const theirs = (await stored.refetch()).data
          if (!theirs) throw error
          const { merged, both } = merge(at.data, mine, theirs.data)
          mine = { ...merged, ...Object.fromEntries(both.map((f) => [f, mine[f]])) } as T
          at = theirs
          setEdit({ value: mine, base: at })
          if (both.length > 0) {
            setBoth(theirs)
            throw error
          }
        }
      }
    },
    onSuccess: ({ answer, before }) => {
      drop()
      onSaved(answer, before.data, before.revision)
    },
  })
  const refused = save.error instanceof Refused ? save.error : undefined
  return {
    value,
    dirty,
    refused: both ? undefined : refused,
    saving: save.isPending,
    set: (next: T) => base && setEdit({ value: next, base }),
    save: save.mutate,
    drop: () => {
      drop()
      save.reset()
    },
    /** Said above the form: that it begins with what was typed earlier, or that somebody else was faster. */
    notice: (
      <>
        <Restored found={Boolean(found.value) && dirty} forget={drop} />
        {both && (
          <p className="found" role="alert">
            {words.both} <Button onClick={drop}>{words.theirs}</Button>{' '}
            <Button onClick={() => save.mutate(save.variables as With)}>{words.mine}</Button>
          </p>
        )}
      </>
    ),
  }
}
