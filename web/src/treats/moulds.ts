import type { Schemas } from '../api/client'

/** Which number of moulds counts, and why. */
export function whichMoulds(m: NonNullable<NonNullable<Schemas['BatchCard']['rounds']>['moulds']>) {
  const used = m.used === 1 ? 'One mould is used at a time' : `${m.used} moulds are used at a time`
  if (m.atMost && m.used === m.atMost) return `${used}: this treat uses no more.`
  if (m.kitchen) return `${used}: ${m.kitchen === 1 ? 'you have one' : `you have ${m.kitchen}`}.`
  return `${used}, as this treat says. You haven’t counted your moulds yet.`
}
