import { Refused } from '../api/refused'
import { merge } from './merge'

/** What is stored, with the revision that an edit of it must name. */
export interface Tagged<T> {
  data: T
  revision: number
}

/** Two people changed the same field in different ways: a person decides. */
export class BothChanged<T> extends Error {
  constructor(readonly theirs: Tagged<T>) {
    super('both changed the same')
  }
}

/**
 * Saves what somebody made of a stored thing, never over what somebody else saved meanwhile: what they changed in other
 * fields is taken over, and it is saved again. moved hears what there is to be saved by then, and over which revision,
 * before the next try and before BothChanged is thrown. latest is what is stored now, of a refusal that says 412.
 */
export async function saveOver<T extends object, R>(
  begun: Tagged<T>,
  value: T,
  put: (value: T, revision: number) => Promise<R>,
  latest: (refused: Refused) => Promise<Tagged<T> | undefined> | Tagged<T> | undefined,
  moved: (value: T, at: Tagged<T>) => void,
): Promise<{ answer: R; before: Tagged<T> }> {
  let at = begun
  let mine = value
  for (let tries = 0; ; tries++) {
    try {
      return { answer: await put(mine, at.revision), before: at }
    } catch (error) {
      if (!(error instanceof Refused) || error.status !== 412 || tries > 4) throw error
      const theirs = await latest(error)
      if (!theirs) throw error
      const { merged, both } = merge(at.data, mine, theirs.data)
      mine = { ...merged, ...Object.fromEntries(both.map((f) => [f, mine[f]])) } as T
      at = theirs
      moved(mine, at)
      if (both.length > 0) throw new BothChanged(theirs)
    }
  }
}
