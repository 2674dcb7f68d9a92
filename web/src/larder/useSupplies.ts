import { useQuery } from '@tanstack/react-query'
import { api, ask } from '../api/client'

/** All packaging of the kitchen. */
export const useSupplies = () =>
  useQuery({ queryKey: ['supplies'], queryFn: () => ask(api.GET('/api/v1/supplies', {})) })
