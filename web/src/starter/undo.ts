import { useMutation, useQueryClient } from '@tanstack/react-query'
import { api, ask } from '../api/client'
import { askAnew } from '../api/topics'
import { useSay } from '../kit/say'
import { words } from './words'

/** Takes back what the starter set out, as far as nothing uses it. */
export function useTakeBack() {
  const queries = useQueryClient()
  const say = useSay()
  const undo = useMutation({
    mutationFn: () => ask(api.DELETE('/api/v1/starter', {})),
    onSuccess: async ({ kept }) => {
      await askAnew(queries, ['kitchen'])
      say.done('starter', words.back(kept))
    },
    onError: say.refused,
  })
  return { undo, offer: (text: string) => say.done('starter', text, () => undo.mutate()) }
}
