/**
 * What is said is English as it is written outside of the United States, and spelt as there for a kitchen in it. The
 * server does the same with what it says, by the same list: a test compares them.
 */
const spelling = [
  ['mould', 'mold'],
  ['colour', 'color'],
  ['flavour', 'flavor'],
  ['centre', 'center'],
  ['litre', 'liter'],
  ['metre', 'meter'],
  ['cancelled', 'canceled'],
  ['grey', 'gray'],
  ['favourite', 'favorite'],
  ['spelt', 'spelled'],
] as const

const there = new Map<string, string>(spelling)
const british = new RegExp(spelling.map(([word]) => word).join('|'), 'gi')

/** A text of the application as it is spelt in the United States. */
export const respell = (text: string) =>
  text.replace(british, (found) => {
    const now = there.get(found.toLowerCase())!
    return found[0] === found[0]!.toLowerCase() ? now : now[0]!.toUpperCase() + now.slice(1)
  })

type Said = Record<string, unknown>

const said: { words: Said; written: Said }[] = []
let american = false

/** Words that are spelt as the kitchen spells, once it is known. Components read them while they draw. */
export function say<T extends Said>(words: T): T {
  const one = { words, written: { ...words } }
  said.push(one)
  if (american) spell(one)
  return words
}

/** Spells all that is said as in the United States from now on, or as it is written. */
export function spellAs(us: boolean) {
  if (us === american) return
  american = us
  said.forEach(spell)
}

const spell = ({ words, written }: { words: Said; written: Said }) => {
  for (const [key, value] of Object.entries(written)) words[key] = american ? spelled(value) : value
}

function spelled(value: unknown): unknown {
  if (typeof value === 'string') return respell(value)
  if (Array.isArray(value)) return value.map(spelled)
  if (typeof value === 'function') return sentence(value as (...values: unknown[]) => string)
  if (!value || typeof value !== 'object') return value
  return Object.fromEntries(Object.entries(value).map(([key, v]) => [key, spelled(v)]))
}

/** A sentence around values: names that a person typed are not spelt anew. */
const sentence =
  (say: (...values: unknown[]) => string) =>
  (...values: unknown[]) => {
    const marked = values.map((v, i) => (typeof v === 'string' && v !== '' ? `\u0001${i}\u0001` : v))
    // eslint-disable-next-line no-control-regex -- a mark that nobody types
    return respell(say(...marked)).replace(/\u0001(\d+)\u0001/g, (_, i) => String(values[Number(i)]))
  }
