import { useQueryClient } from '@tanstack/react-query'
import { api, ask } from '../api/client'
import { askAnew } from '../api/topics'
import { useSay } from '../kit/say'
import type { Change, Outcome } from './when'

/** Changes the plan, says what it did, and undoes it on a word. Everything that shows a plan is read anew. */
export function useChange() {
  const queries = useQueryClient()
  const say = useSay()
  async function undo(id: string): Promise<Outcome | undefined> {
    try {
      const done = await ask(api.POST('/api/v1/plan/changes/{id}/undo', { params: { path: { id } } }))
      await askAnew(queries, ['plan'])
      say.done('plan', done.says)
      return done
    } catch (error) {
      say.refused(error)
    }
  }
  /** What came of a change; undefined where it was refused, which is said. */
  async function change(body: Change): Promise<Outcome | undefined> {
    try {
      const done = await ask(api.POST('/api/v1/plan/changes', { body }))
      await askAnew(queries, ['plan'])
      say.done('plan', done.says, () => void undo(done.change))
      return done
    } catch (error) {
      say.refused(error)
    }
  }
  return { change, undo }
}
