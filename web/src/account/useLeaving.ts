import { useQueryClient } from '@tanstack/react-query'
import { api, ask } from '../api/client'
import { askAnew } from '../api/topics'
import { useSay } from '../kit/say'
import { words } from './words'

/** Lets the kitchen go in a week, and keeps it after all. */
export function useLeaving() {
  const queries = useQueryClient()
  const say = useSay()
  async function tried(how: () => Promise<unknown>) {
    try {
      await how()
      await askAnew(queries, ['account'])
    } catch (error) {
      say.refused(error)
    }
  }
  const stay = () =>
    tried(async () => {
      await ask(api.DELETE('/api/v1/kitchen/leaving', {}))
      say.done('leaving', words.kept2)
    })
  const leave = () => tried(() => ask(api.POST('/api/v1/kitchen/leaving', {})))
  return { leave, stay }
}
