import { useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { api, ask, type Schemas } from '../api/client'
import { askAnew } from '../api/topics'
import { newKey } from '../device/register'
import { useSay } from '../kit/say'
import { words } from './words'

type Where = Schemas['FaultsWhere']

/** Books what is done about it, and takes it back with one touch. */
export function useTake(w: Where) {
  const queries = useQueryClient()
  const say = useSay()
  const [busy, setBusy] = useState(false)
  async function take(cause: string, fix: string, cream: string | undefined, what: string) {
    setBusy(true)
    try {
      const made = await ask(
        api.POST('/api/v1/faults', {
          params: { header: { 'Idempotency-Key': newKey() } },
          body: { ...w, cause, fix, cream },
        }),
      )
      say.done('fault', words.noted(what), () => {
        void ask(api.DELETE('/api/v1/faults/{id}', { params: { path: { id: made.id } } })).then(
          () => askAnew(queries, ['plan', 'larder', 'faults']),
          say.refused,
        )
      })
    } catch (error) {
      say.refused(error)
    }
    setBusy(false)
    await askAnew(queries, ['plan', 'larder', 'faults'])
  }
  return { take, busy }
}
