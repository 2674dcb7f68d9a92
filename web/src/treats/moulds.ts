import type { Schemas } from '../api/client'
import { words } from './words'

/** Which number of moulds counts, and why. */
export function whichMoulds(m: NonNullable<NonNullable<Schemas['BatchCard']['rounds']>['moulds']>) {
  if (m.once) return words.usedUpAtATime(m.used)
  const used = m.used === 1 ? words.oneMouldIsUsedAt : words.mouldsAreUsedAtA(m.used)
  if (m.atMost && m.used === m.atMost) return words.thisTreatUsesNoMore(used)
  if (m.kitchen) return `${used}: ${m.kitchen === 1 ? words.youHaveOne : words.youHave(m.kitchen)}.`
  return words.asThisTreatSaysYou(used)
}
