import { useQuery } from '@tanstack/react-query'
import { api, ask } from '../api/client'

export const useSensors = () => useQuery({ queryKey: ['sensors'], queryFn: () => ask(api.GET('/api/v1/sensors', {})) })
