/** What two people made of the same thing: put together where they changed different fields. */

type Fields = Record<string, unknown>

/** Whether two values are the same, however deep; what is missing and what is undefined are. */
export function same(a: unknown, b: unknown): boolean {
  if (a === b) return true
  if (typeof a !== 'object' || typeof b !== 'object' || a === null || b === null) return (a ?? null) === (b ?? null)
  if (Array.isArray(a) !== Array.isArray(b)) return false
  const keys = new Set([...Object.keys(a), ...Object.keys(b)])
  return [...keys].every((k) => same((a as Fields)[k], (b as Fields)[k]))
}

export interface Merged<T> {
  merged: T // mine where only I changed a field, theirs where only they did; theirs where both did
  both: (keyof T)[] // fields that both changed, in different ways
}

/**
 * Merges two versions of base, field by field. What both made of the same field is for a person to decide. equal tells
 * whether a field has the same value, where that is more than having the same shape.
 */
export function merge<T extends object>(
  base: T,
  mine: T,
  theirs: T,
  equal: (a: unknown, b: unknown, field: keyof T) => boolean = same,
): Merged<T> {
  const merged = { ...theirs }
  const both: (keyof T)[] = []
  const keys = new Set([...Object.keys(base), ...Object.keys(mine), ...Object.keys(theirs)]) as Set<keyof T & string>
  for (const k of keys) {
    if (equal(base[k], mine[k], k) || equal(mine[k], theirs[k], k)) continue
    if (equal(base[k], theirs[k], k)) merged[k] = mine[k]
    else both.push(k)
  }
  return { merged, both }
}

/** What was typed since sent was sent, on top of what came of it: an answer that is late takes nothing back. */
export function onTop<T extends object>(sent: T, now: T, came: T): T {
  const { merged, both } = merge(sent, now, came)
  return { ...merged, ...Object.fromEntries(both.map((f) => [f, now[f]])) }
}
