import { useQueryClient } from '@tanstack/react-query'
import { useCallback, useEffect, useLayoutEffect, useRef, useState } from 'react'
import { onReached } from '../api/reach'
import { Refused, type Schemas } from '../api/client'
import { newKey } from '../device/register'
import { type Draft, sameDraft, sameField } from './draft'
import { type KeptOrder, send } from './kept'
import { merge } from '../device/merge'
import { words } from './words'

type Order = Schemas['OrdersOrder']

/** What somebody else made of fields that one has changed too: for a person to decide. */
export interface Conflict {
  theirs: Order
  fields: (keyof Draft)[]
}

/**
 * Saves a draft as one goes: a moment after the last change, one request at a time, never over somebody else's change.
 * Where somebody else was faster, what they changed in other fields is taken over and mine is saved again; where they
 * changed the same, it is asked. A new order is made once, as soon as it has a name.
 */
export function useSaving(
  saved: Order | undefined,
  draft: Draft,
  setDraft: (d: Draft) => void,
  latest: Order | undefined, // as it was read last: somebody else may have changed it
  kept: KeptOrder | undefined, // as it was left on this device
  onMade: (o: Order) => void,
) {
  const queries = useQueryClient()
  const [order, setOrder] = useState(saved)
  const [text, setText] = useState(saved ? words.saved : words.notSavedYet)
  const [refused, setRefused] = useState<Refused>()
  const [conflict, setConflict] = useState<Conflict>()
  const [key, setKey] = useState(() => kept?.key ?? newKey()) // under which a new order is made once
  const now = useRef({
    order: saved,
    draft,
    key,
    busy: null as Promise<void> | null,
    made: onMade,
    setDraft,
    stop: false,
  })
  useLayoutEffect(() => {
    now.current.draft = draft
    now.current.key = key
    now.current.made = onMade
    now.current.setDraft = setDraft
  })

  const take = useCallback((o: Order) => {
    now.current.order = o
    setOrder(o)
  }, [])

  const save = useCallback(async () => {
    const at = now.current
    while (at.busy) await at.busy
    if (at.stop || !at.draft.customer.trim() || (at.order && sameDraft(at.order.draft, at.draft))) return
    const sent = at.draft
    const work = async () => {
      try {
        setText(words.saving)
        const before = at.order
        const after = await send({ draft: sent, base: before, key: at.key })
        take(after)
        setRefused(undefined)
        setText(words.saved)
        if (!before) at.made(after)
        else queries.setQueryData(['order', after.id], after)
        void queries.invalidateQueries({ queryKey: ['orders'] })
        void queries.invalidateQueries({ queryKey: ['shelf'] })
      } catch (error) {
        if (!(error instanceof Refused)) throw error
        if (error.status === 412 && at.order) {
          const theirs = error.problem.current as Order
          const { merged, both } = merge(at.order.draft, at.draft, theirs.draft, sameField)
          take(theirs)
          if (both.length === 0) {
            at.setDraft(merged) // what follows saves it
            return
          }
          at.stop = true
          at.setDraft({ ...merged, ...Object.fromEntries(both.map((f) => [f, at.draft[f]])) })
          setConflict({ theirs, fields: both })
        }
        setRefused(error)
        setText(
          error.status === 0
            ? words.notSavedWaitingForThe
            : words.notSaved(error.problem.errors?.[0]?.message ?? error.message),
        )
        // A refused create has saved nothing under its key; the next try is another request.
        if (error.status !== 0) setKey(newKey())
      }
    }
    at.busy = work()
    try {
      await at.busy
    } finally {
      at.busy = null
    }
  }, [queries, take])

  // Back in reach: what could not be saved is saved now.
  const unreachable = refused?.status === 0
  useEffect(() => {
    if (!unreachable) return
    return onReached(() => void save())
  }, [unreachable, save])

  const clean = !order ? !draft.customer.trim() : sameDraft(order.draft, draft)
  useEffect(() => {
    if (clean || conflict) return // what both have changed is decided first, however long that takes
    const later = setTimeout(() => void save(), 500)
    return () => clearTimeout(later)
  }, [draft, clean, save, conflict])

  useEffect(() => {
    // Changed elsewhere, while nothing is being written here: shown as it is now. What is being written is merged when
    // it is saved.
    if (!latest || !order || !clean || latest.revision <= order.revision) return
    const soon = setTimeout(() => {
      take(latest)
      now.current.setDraft(latest.draft)
    })
    return () => clearTimeout(soon)
  }, [latest, order, clean, take])

  useEffect(() => {
    // Leaving the page saves what is not saved yet.
    const leave = () => void save()
    window.addEventListener('pagehide', leave)
    return () => {
      window.removeEventListener('pagehide', leave)
      leave()
    }
  }, [save])

  /** Decides about a field that both have changed. With the last one it is saved. */
  const settle = (field: keyof Draft, whose: 'mine' | 'theirs') => {
    if (!conflict) return
    const left = conflict.fields.filter((f) => f !== field)
    if (whose === 'theirs') setDraft({ ...draft, [field]: conflict.theirs.draft[field] })
    if (left.length > 0) return setConflict({ ...conflict, fields: left })
    setConflict(undefined)
    setRefused(undefined)
    now.current.stop = false
    setText(words.notSavedYet)
  }

  // What was refused and has been taken back since is no fault any more.
  const settled = Boolean(order) && clean && !conflict && text !== words.saving
  return {
    order,
    text: settled ? words.saved : text,
    refused: settled ? undefined : refused,
    conflict,
    settle,
    take,
    clean,
    key,
    flush: save,
    current: () => now.current.order,
  }
}
