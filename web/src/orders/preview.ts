import { useContext, useEffect, useLayoutEffect, useMemo, useRef } from 'react'
import type { Schemas } from '../api/client'
import { PreviewContext, useShelf } from '../shell/Shelf'

interface Shown {
  order?: string
  planned: boolean // it has its days already
  day?: string // of the handover, as it is chosen
  r?: Schemas['OrderEstimate']
  choose?: (day: string) => void // touching a tin chooses its day
}

/** Shows in the tins where an order would go, until it is promised. */
export function usePreview({ order, planned, day, r, choose }: Shown) {
  const { setPreview } = useContext(PreviewContext)
  const shelf = useShelf()
  const chooser = useRef(choose)
  useLayoutEffect(() => {
    chooser.current = choose
  })
  const chooses = Boolean(choose)
  const over = useMemo(
    () => r?.when.short.map((s) => ({ day: s.day ?? nearest(shelf.data?.tins, day), minutes: s.minutes })) ?? [],
    [r, shelf.data, day],
  )
  useEffect(() => {
    setPreview({
      order,
      handover: day,
      choose: chooses ? (d) => chooser.current?.(d) : undefined,
      over: planned ? [] : over,
      joins: planned || !r ? [] : r.when.batches.flatMap((b) => b.lot ?? []),
      pieces:
        planned || !r
          ? []
          : r.when.batches.flatMap((b) => {
              const card = r.lines[b.line]!.card
              return b.days.map((d) => ({
                day: d.day,
                piece: {
                  key: `new-${b.line}-${b.part ?? 0}-${d.day}`,
                  family: b.family,
                  chocolate: card.look,
                  minutes: d.hands,
                },
              }))
            }),
    })
  }, [order, planned, day, r, over, chooses, setPreview])
  useEffect(() => () => setPreview(null), [setPreview])
}

/** The last day on the shelf that is not after day. */
const nearest = (tins: Schemas['PlanningTin'][] | undefined, day = '') =>
  tins?.findLast((t) => t.day <= day)?.day ?? day
