import { useQuery } from '@tanstack/react-query'
import { api, ask } from './client'

/** The families, the ways to temper and the temperatures of each colour; they do not change while the page is open. */
export const useFamilies = () => useQuery({ queryKey: ['families'], queryFn: () => ask(api.GET('/api/v1/families', {})), staleTime: Infinity })
