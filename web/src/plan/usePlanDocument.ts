import { useQuery, useQueryClient } from '@tanstack/react-query'
import { askAnew } from '../api/topics'
import type { Tagged } from '../device/saveOver'
import { useDocument } from '../device/useDocument'
import { useSay } from '../kit/say'

/** Something of the kitchen on which the plan rests: edited in place, saved, and with an undo for what was saved. */
export function usePlanDocument<T extends object>(
  key: 'work-days' | 'capacity',
  title: string,
  fetch: () => Promise<Tagged<T>>,
  put: (value: T, revision: number) => Promise<Tagged<T>>,
  says: string, // when it is saved
) {
  const queries = useQueryClient()
  const say = useSay()
  const stored = useQuery({ queryKey: [key], queryFn: fetch })
  const saved = (now: Tagged<T>) => {
    queries.setQueryData([key], now)
    return askAnew(queries, ['plan', 'treats'])
  }
  const form = useDocument(key, { title, to: '/plan/hours' }, stored, put, (now, before) => {
    void saved(now).then(() => say.done(key, says, () => void put(before, now.revision).then(saved).catch(say.refused)))
  })
  return { ...form, stored }
}
