import { useQuery } from '@tanstack/react-query'
import { api, ask, type Schemas } from './client'
import { say } from '../kit/tongue'
import book from './families.json'

export type Family = Schemas['TreatFormula']['family']
/** What a piece of work is drawn as. */
export type Motif = Family | 'mix'
export type Traits = Schemas['TreatsTraits']

/** In the order of the book. */
export const families = book.families.map((f) => f.family as Family)

const traits = new Map(book.families.map((f) => [f.family, say({ ...f.traits }) as Traits]))

/** What a family is like: how it is counted, made and drawn. */
export const traitsOf = (family: Family): Traits => traits.get(family)!

type Quantity = Schemas['MeasureQuantity']
type Starting = {
  [k in keyof typeof book.starting]: (typeof book.starting)[k] extends { unit: string }
    ? Quantity
    : (typeof book.starting)[k]
}

/** What the numbers of a treat begin with, until they are typed over. */
export const starting = book.starting as Starting

/** The families, the ways to temper and the temperatures of each colour; they do not change while the page is open. */
export const useFamilies = () =>
  useQuery({ queryKey: ['families'], queryFn: () => ask(api.GET('/api/v1/families', {})), staleTime: Infinity })
