import { useRef } from 'react'
import { Refused } from '../api/client'
import { useActs } from '../bench/queue'
import { words as bench } from '../bench/words'
import { useSay } from '../kit/say'
import { useKitchen } from '../shell/kitchen'
import { didOf, type Pot, type Touch } from './pot'
import { words } from './words'

/** Says what was done to a bowl. */
export function useDeeds(p: Pick<Pot, 'id' | 'name'>) {
  const kitchen = useKitchen()
  const say = useSay()
  const busy = useRef(false)
  const { act } = useActs()
  const to = `/bench/bowls/${p.id}`
  async function undo(deed: string) {
    const title = words.undoDeed(p.name)
    const outcome = await act({ kind: 'undeed', pot: p.id, deed }, title, to)
    if (outcome instanceof Refused) say.refused(outcome)
    else if (outcome === 'waits') say.done('deed', bench.isKept(title))
  }
  async function note(t: Pick<Touch, 'what' | 'seconds' | 'low' | 'grams'> & { pieces?: number }) {
    if (busy.current) return // a double touch is one
    busy.current = true
    const { what, seconds, low, grams, pieces } = t
    const did = didOf(kitchen, t)
    const deed = { what, seconds, low, grams, pieces }
    const outcome = await act({ kind: 'deed', pot: p.id, deed }, words.deedOf(p.name, did), to)
    busy.current = false
    if (outcome instanceof Refused) say.refused(outcome)
    else say.done('deed', outcome === 'sent' ? words.noted(did) : bench.isKept(did))
  }
  return { note, undo }
}
