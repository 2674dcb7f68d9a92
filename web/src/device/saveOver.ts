import { Refused } from '../api/refused'
import { merge, onTop } from './merge'

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
 * fields is taken over, and it is saved again. moved hears what there is to be saved by then, over which revision, and
 * what was sent before, ahead of the next try and of BothChanged; what was typed since goes on top of it (onTop).
 * latest is what is stored now, of a refusal that says 412.
 */
export async function saveOver<T extends object, R>(
  begun: Tagged<T>,
  value: T,
  put: (value: T, revision: number) => Promise<R>,
  latest: (refused: Refused) => Promise<Tagged<T> | undefined> | Tagged<T> | undefined,
  moved: (value: T, at: Tagged<T>, sent: T) => void,
): Promise<{ answer: R; before: Tagged<T>; sent: T }> {
  let at = begun
  let mine = value
  for (let tries = 0; ; tries++) {
    try {
      return { answer: await put(mine, at.revision), before: at, sent: mine }
    } catch (error) {
      if (!(error instanceof Refused) || error.status !== 412 || tries > 4) throw error
      const theirs = await latest(error)
      if (!theirs) throw error
      const { both } = merge(at.data, mine, theirs.data)
      const sent = mine
      mine = onTop(at.data, mine, theirs.data)
      at = theirs
      moved(mine, at, sent)
      if (both.length > 0) throw new BothChanged(theirs)
    }
  }
}
