import { useMutation, useQueryClient } from '@tanstack/react-query'
import { App } from 'antd'
import { useRef, useState } from 'react'
import { Refused } from '../api/client'
import { amountsRead } from '../kit/AmountInput'
import { askAnew } from '../api/topics'
import { Both } from './Both'
import { useFound, useKeep } from './drafts'
import { newKey } from './register'
import { Restored } from './Restored'
import { onTop } from './merge'
import { BothChanged, saveOver, type Tagged } from './saveOver'
import { words } from './words'

interface Form<T, R> {
  place: string // under which it is kept on this device
  title: string // of what has no name yet
  to: string
  begun: T // an empty form, or the fields of what is changed
  revision?: number // of what is changed
  /** The fields of an answer. */
  fieldsOf: (answer: R) => T
  create: (fields: T, key: string) => Promise<R>
  put: (fields: T, revision: number) => Promise<R>
  done: (made: R) => void
}

/**
 * The fields of a form on a sheet, for something new or something stored: kept on this device until they are saved or
 * cancelled, and saved as saveOver does.
 */
export function useSheetForm<T extends { name: string }, R extends { revision: number }>(form: Form<T, R>) {
  const queries = useQueryClient()
  const { message } = App.useApp()
  const key = useRef(newKey()) // what is new is made once, however often it is sent
  const found = useFound<{ fields: T; base?: Tagged<T> }>(form.place)
  const [begun] = useState<{ fields: T; base?: Tagged<T> }>({
    fields: form.begun,
    base: form.revision === undefined ? undefined : { data: form.begun, revision: form.revision },
  })
  const [edit, setEdit] = useState(found.value ?? begun)
  // What is typed last may still be read, by the server, when one saves: the saving waits for it and takes what came.
  const latest = useRef(edit)
  const change = (to: (was: typeof edit) => typeof edit) => {
    latest.current = to(latest.current)
    setEdit(latest.current)
  }
  const f = edit.fields
  const dirty = JSON.stringify(f) !== JSON.stringify(edit.base?.data ?? begun.fields)
  useKeep(form.place, { title: f.name.trim() || form.title, to: form.to }, edit, dirty, found)
  const save = useMutation({
    mutationFn: async () => {
      await amountsRead()
      const { fields, base } = latest.current
      if (!base) return form.create(fields, key.current)
      const { answer } = await saveOver(
        base,
        fields,
        form.put,
        (refused) => {
          const theirs = refused.problem.current as R
          return { data: form.fieldsOf(theirs), revision: theirs.revision }
        },
        (fields, base, sent) => change((now) => ({ fields: onTop(sent, now.fields, fields), base })),
      )
      return answer
    },
    onSuccess: async (made) => {
      await askAnew(queries, ['larder', 'treats'])
      void message.success(words.sheetForm.saved(f.name))
      found.over()
      form.done(made)
    },
    onError: (error) => {
      // A refused create has saved nothing under its key; what was out of reach may have.
      if (error instanceof Refused && error.status !== 0) key.current = newKey()
    },
  })
  const refused = save.error instanceof Refused ? save.error : undefined
  const marked = refused?.problem.errors?.some((e) => e.location && e.location !== 'body')
  return {
    f,
    // What came late never puts back what was typed in another field since.
    set: (x: Partial<T>) => change((was) => ({ ...was, fields: { ...was.fields, ...x } })),
    save: () => save.mutate(),
    over: found.over,
    refused,
    fault: (path: string) => refused?.at(path),
    /** Above the fields: that it begins with what was typed earlier, or that somebody else was faster. */
    notice: (
      <>
        <Restored
          found={Boolean(found.value) && dirty}
          forget={() => {
            found.forget()
            change(() => begun)
          }}
        />
        {save.error instanceof BothChanged && edit.base && (
          <Both
            theirs={() => {
              change((was) => ({ ...was, fields: was.base!.data }))
              save.reset()
            }}
            mine={() => save.mutate()}
          />
        )}
      </>
    ),
    /** Below them: a refusal that is of no field. */
    rest:
      refused && !marked ? (
        <p className="fault" role="alert">
          {refused.message}
        </p>
      ) : null,
  }
}
