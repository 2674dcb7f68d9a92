import { keepPreviousData, useQuery } from '@tanstack/react-query'
import { useMemo } from 'react'
import { api, ask, type Schemas } from '../api/client'
import type { Draft } from './draft'

/**
 * What follows from an order as it is typed. Amounts, cost and price are drawn as soon as they are known; the days,
 * which take longer to find, stay as they were until the plan has been looked at, and the answer that knows them
 * replaces the other. An older question is dropped when a newer one comes.
 */
export function useEstimate(order: string | undefined, draft: Draft) {
  const question = (figures: boolean) => ({
    queryKey: [figures ? 'figures' : 'estimate', order, draft],
    queryFn: ({ signal }: { signal: AbortSignal }) =>
      ask(api.POST('/api/v1/estimates', { body: { order, draft, figures }, signal })),
    retry: false,
    gcTime: 60_000,
  })
  const whole = useQuery({ ...question(false), placeholderData: keepPreviousData })
  const pending = whole.isPending || whole.isPlaceholderData
  const figures = useQuery({ ...question(true), placeholderData: undefined, enabled: pending })
  const early = pending ? figures.data : undefined
  const data = useMemo(() => (early ? before(early, whole.data) : whole.data), [early, whole.data])
  return { data, error: whole.error }
}

/** The figures of a draft, with what the plan said of the one before it. */
const before = (figures: Schemas['OrderEstimate'], last?: Schemas['OrderEstimate']): Schemas['OrderEstimate'] => ({
  ...figures,
  money: { ...figures.money, planned: last?.money.planned },
  when: {
    ...(last?.when ?? figures.when),
    batches: last?.when.batches.filter((b) => figures.lines[b.line]) ?? [],
    pending: true,
  },
})
