import { useQuery } from '@tanstack/react-query'
import { api, ask, type Schemas } from './client'
import list from './families.json'

export type Family = Schemas['TreatFormula']['family']
export type Traits = Schemas['TreatsTraits']

/** In the order of the book. */
export const families = list.map((f) => f.family as Family)

const traits = new Map(list.map((f) => [f.family, f.traits as Traits]))

/** What a family is like: how it is counted, made and drawn. */
export const traitsOf = (family: Family): Traits => traits.get(family)!

/** The families, the ways to temper and the temperatures of each colour; they do not change while the page is open. */
export const useFamilies = () => useQuery({ queryKey: ['families'], queryFn: () => ask(api.GET('/api/v1/families', {})), staleTime: Infinity })
