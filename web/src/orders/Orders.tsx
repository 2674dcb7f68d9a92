import { keepPreviousData, useInfiniteQuery } from '@tanstack/react-query'
import { Button } from 'antd'
import dayjs from 'dayjs'
import { useDeferredValue, useState } from 'react'
import { Link, useNavigate } from 'react-router'
import { stateName } from './draft'
import { api, ask, type Schemas } from '../api/client'
import { Face } from '../kit/Face'
import { lookOf } from '../kit/chocolate'
import { Glyph, Sign } from '../kit/glyphs'
import { inDays, useKitchen } from '../shell/kitchen'
import { OrderEstimate } from './Estimate'
import { FilterRow, filters, noFilter, useFilter } from './Filter'
import './orders.css'
import './order.css'
import { words } from './words'

export type Row = Schemas['OrdersRow']

/** What is in an order, drawn as the compartments of a small tin. */
export function Contents({ lines }: { lines: Row['lines'] }) {
  if (lines.length === 0) return <span className="soft">{words.emptySoFar}</span>
  return (
    <span className="contents">
      {lines.map((l, i) => {
        const look = lookOf(l.chocolate ?? { kind: 'real', colour: 'dark' })
        return (
          <span
            key={i}
            title={`${l.count} ${l.name}`}
            style={{ background: look.fill, color: look.ink, borderColor: look.edge }}
            className={`c-${look.word}`}
          >
            <Glyph family={l.family} size={16} /> {l.count}
            <span className="unseen"> {l.name}</span>
          </span>
        )
      })}
    </span>
  )
}

/** One line on what state an order is in. */
export function stateNote(o: Row): { text: string; kind?: 'trouble' | 'fine' } {
  if (o.answer) return { text: o.answer, kind: 'trouble' }
  if (o.fits === false) return { text: words.doesntFitYet, kind: 'trouble' }
  if (o.fits) return { text: words.wouldFit, kind: 'fine' }
  if (o.state === 'in the making') return { text: words.ofStepsDone(o.done, o.steps) }
  if (o.state === 'packed') return { text: words.readyForHandover }
  return { text: o.freeFrom.length > 0 ? `${o.freeFrom.join(', ')}-free` : '' }
}

export default function Orders() {
  const kitchen = useKitchen()
  const navigate = useNavigate()
  const [past, setPast] = useState(false)
  const [at, setAt] = useState<string>()
  const [filter, setFilter] = useState(noFilter)
  const asked = useFilter(filter, useDeferredValue(filter.find))
  const orders = useInfiniteQuery({
    queryKey: ['orders', past ? 'behind' : 'ahead', asked],
    queryFn: ({ pageParam, signal }) =>
      ask(
        api.GET('/api/v1/orders', {
          params: { query: { which: past ? 'behind' : 'ahead', after: pageParam, ...asked } },
          signal,
        }),
      ),
    initialPageParam: undefined as string | undefined,
    getNextPageParam: (last) => (last.more ? last.orders.at(-1)?.id : undefined),
    placeholderData: keepPreviousData,
  })
  const shown = orders.isPlaceholderData && !filters(filter) ? [] : (orders.data?.pages.flatMap((p) => p.orders) ?? [])
  const { ahead = 0, enquiries = 0, sums } = orders.data?.pages[0] ?? {}
  const unfit = shown.filter((o) => o.fits === false).length
  const looked = shown.find((o) => o.id === at) ?? shown.find((o) => o.fits === false) ?? shown[0]
  const days = grouped(shown, (o) => kitchen.local(o.from).format('YYYY-MM-DD'))
  if (!orders.data) return <Face title={words.orders} of={[orders]} />
  return (
    <>
      <section className="work">
        <header className="work-head">
          <h1>
            {past
              ? words.pastOrders
              : !orders.data
                ? words.orders
                : words.upcoming(ahead || words.no, ahead === 1 ? words.order4 : words.orders2)}
          </h1>
          <p className="soft">
            {!past && enquiries > 0 && words.toAnswer(enquiries, enquiries === 1 ? words.request : words.requests)}
            {!past && unfit > 0 && (
              <>
                {enquiries > 0 && ' · '}
                <b className="trouble">
                  {unfit} {unfit === 1 ? words.doesnt : words.dont} {words.fitYet}
                </b>
              </>
            )}
          </p>
          <Button type="primary" size="large" onClick={() => void navigate('/orders/new')} title={words.newOrderN}>
            {words.newOrder} <kbd>n</kbd>
          </Button>
        </header>
        <nav className="order-places" aria-label={words.orders}>
          <Button
            type="link"
            className="link"
            onClick={() => {
              setPast(!past)
              setFilter(noFilter)
            }}
          >
            {past ? words.upcomingOrders : words.pastOrders}
          </Button>
          <Link to="/customers">{words.customers}</Link>
          <Link to="/events">{words.events}</Link>
          <Link to="/messages">{words.messages}</Link>
        </nav>
        {(shown.length > 3 || filters(filter)) && <FilterRow f={filter} set={setFilter} past={past} />}
        {sums && filters(filter) && (
          <p className="order-sums" role="status">
            {words.sums(sums.orders, sums.pieces, kitchen.money(sums.agreed), sums.open)}
          </p>
        )}
        {orders.isSuccess && !orders.isPlaceholderData && shown.length === 0 && (
          <p className="empty">
            {filters(filter) ? words.noMatch : past ? words.ordersThatAreHandedOver : words.yourOrdersAppearHereBy}
          </p>
        )}
        <div className="by-day">
          {[...days].map(([day, list]) => (
            <section key={day} className="handover-day" aria-label={dayjs(day).format('dddd D MMMM')}>
              <h2>
                {dayjs(day).format('ddd D')}
                {(past || dayjs(day).diff(kitchen.today(), 'day') > 20) && <span> {dayjs(day).format('MMM')}</span>}
                <small>{inDays(kitchen.today(), day)}</small>
              </h2>
              <ul>
                {list.map((o) => {
                  const note = stateNote(o)
                  return (
                    <li
                      key={o.id}
                      className={o.id === looked?.id ? 'order-row looked' : 'order-row'}
                      onPointerEnter={() => setAt(o.id)}
                    >
                      <Link to={`/orders/${o.id}`} onFocus={() => setAt(o.id)}>
                        <span className="who">
                          <b>{o.customer}</b>
                          <small>
                            {o.occasion && `${o.occasion}, `}
                            {kitchen.time(o.from)} {o.way}
                          </small>
                        </span>
                        <Contents lines={o.lines} />
                        <span className="state">
                          <b>{stateName[o.state]}</b>
                          <small className={note.kind}>
                            {note.kind === 'trouble' && <Sign kind="trouble" size={13} />} {note.text}
                          </small>
                        </span>
                        <b className="money">{o.price ? kitchen.money(o.price) : ''}</b>
                      </Link>
                    </li>
                  )
                })}
              </ul>
            </section>
          ))}
        </div>
        {orders.hasNextPage && (
          <Button className="more" loading={orders.isFetchingNextPage} onClick={() => void orders.fetchNextPage()}>
            {past ? words.showEarlier : words.showMore}
          </Button>
        )}
      </section>
      <aside className="takes" aria-label={words.whatItTakes}>
        {looked ? <OrderEstimate key={looked.id} row={looked} /> : <p className="soft">{words.selectAnOrderToSee}</p>}
      </aside>
    </>
  )
}

function grouped<T>(list: T[], key: (x: T) => string): Map<string, T[]> {
  const map = new Map<string, T[]>()
  for (const x of list) map.set(key(x), [...(map.get(key(x)) ?? []), x])
  return map
}
