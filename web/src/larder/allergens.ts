import { useQuery } from '@tanstack/react-query'
import { api, ask } from '../api/client'
import { useKitchen } from '../shell/kitchen'

/** What one can ask to be free from: what the kitchen's law has declared, and what else the larder holds. */
export function useAllergens(): string[] {
  const law = useKitchen().session.law
  const all = useQuery({
    queryKey: ['allergens'],
    queryFn: () => ask(api.GET('/api/v1/allergens', {})),
    staleTime: Infinity,
  })
  const larder = useQuery({ queryKey: ['ingredients'], queryFn: () => ask(api.GET('/api/v1/ingredients', {})) })
  return (all.data?.allergens ?? [])
    .filter((a) => (law === 'eu' ? a.eu : a.us) || larder.data?.ingredients.some((i) => i.allergens.includes(a.name)))
    .map((a) => a.name)
}
