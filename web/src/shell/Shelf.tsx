import { useQuery } from '@tanstack/react-query'
import { createContext, useContext } from 'react'
import { useLocation } from 'react-router'
import { api, ask, type Schemas } from '../api/client'
import { Flags, type Piece, Tin } from '../kit/Tin'
import { dayLong, dayShort, minutes, useKitchen, whatOf } from './kitchen'
import { words } from './words'
import './shell.css'

/** A change that is being made and not yet saved: it shows in the tins before it is. */
export interface Preview {
  order?: string // whose own planned work it takes the place of
  joins: string[] // batches that it would be made together with
  pieces: { day: string; piece: Piece }[]
  over: { day: string; minutes: number }[]
  handover?: string // the day that is chosen
  choose?: (day: string) => void // touching a tin chooses its day
}

export const PreviewContext = createContext<{ preview: Preview | null; setPreview: (p: Preview | null) => void }>({
  preview: null,
  setPreview: () => {},
})

export const useShelf = () => useQuery({ queryKey: ['shelf'], queryFn: () => ask(api.GET('/api/v1/shelf', {})) })

type Work = Schemas['PlanningShelf']['tins'][number]['work'][number]

export function Shelf({ open }: { open: (day: string) => void }) {
  const { data } = useShelf()
  const { preview } = useContext(PreviewContext)
  const kitchen = useKitchen()
  // Where one works or hands over, a phone has other things to show: the shelf is a strip there.
  const slim = /^\/(bench|handover)/.test(useLocation().pathname)
  const own = (w: Work) => w.for.some((t) => t.order === preview?.order)
  const tins = (data?.tins ?? []).map((tin) => {
    const pieces: Piece[] = tin.work
      .filter(
        (w) =>
          !w.short &&
          !preview?.joins.includes(w.batch) &&
          !(preview && own(w) && preview.pieces.length + preview.over.length > 0),
      )
      .map((w) => ({
        key: w.batch,
        family: w.family,
        chocolate: w.chocolate,
        minutes: w.minutes,
        done: w.done === w.steps,
        own: own(w),
      }))
    const dashed =
      preview?.pieces.filter((p) => p.day === tin.day).map((p) => ({ piece: { ...p.piece, proposed: true } })) ?? []
    const over = tin.over + (preview?.over.filter((o) => o.day === tin.day).reduce((sum, o) => sum + o.minutes, 0) ?? 0)
    return { ...tin, pieces: [...pieces, ...dashed.map((p) => p.piece)], dashed, over }
  })
  const longest = Math.max(...tins.map((t) => t.hands), 60)
  return (
    <nav className={slim ? 'shelf slim' : 'shelf'} aria-label={words.theNextFourteenDays}>
      {tins.map((tin) => {
        const told = [
          ...(tin.hands === 0 ? [] : [words.freeOf(minutes(tin.free), minutes(tin.hands))]),
          ...tin.work.map(
            (w) =>
              `${whatOf(kitchen, w)}, ${minutes(w.minutes)}${w.done === w.steps ? ', done' : w.short ? words.notScheduled : ''}`,
          ),
          ...tin.dashed.map((p) => words.wouldTakeMore(minutes(p.piece.minutes))),
          ...(tin.away > 0 ? [words.onTheRoad(minutes(tin.away))] : []),
          ...(tin.over > 0 ? [words.doNotFit(minutes(tin.over))] : []),
          ...tin.handovers.map((h) => `${h.way} ${kitchen.time(h.at)}, ${h.customer}`),
        ]
        return (
          <button
            key={tin.day}
            type="button"
            className={`day${tin.day === data?.today ? ' today' : ''}${tin.day === preview?.handover ? ' chosen' : ''}`}
            title={[dayLong(tin.day), ...told].join('\n')}
            aria-current={tin.day === data?.today ? 'date' : undefined}
            data-day={tin.day}
            onClick={() => (preview?.choose ? preview.choose(tin.day) : open(tin.day))}
          >
            <Tin
              hands={tin.hands}
              longest={longest}
              pieces={tin.pieces}
              over={tin.over}
              away={tin.away}
              today={tin.day === data?.today}
            />
            <span className="unseen">{preview?.choose ? words.handOverOn : words.runSheetOf} </span>
            <span className="day-name">
              {dayShort(tin.day)}
              <Flags n={tin.handovers.length} />
            </span>
            <span className="day-free">
              {tin.hands === 0 ? (tin.reason ?? words.off) : words.free(minutes(tin.free))}
            </span>
            <span className="unseen"> {told.join('; ')}</span>
          </button>
        )
      })}
    </nav>
  )
}
