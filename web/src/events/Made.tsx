import { useQuery, useQueryClient } from '@tanstack/react-query'
import { Button, InputNumber, Select } from 'antd'
import { useState } from 'react'
import { Link } from 'react-router'
import { api, ask, type Schemas } from '../api/client'
import { askAnew } from '../api/topics'
import { Sign } from '../kit/glyphs'
import { useSay } from '../kit/say'
import { stateName } from '../orders/draft'
import { dayName, useKitchen } from '../shell/kitchen'
import type { Part } from './Event'
import { words } from './words'

type Counted = Schemas['EventsCounted']

/** The orders that are made for it, what of them follows the guests, and what a new count makes of their prices. */
export function Made({ e, set, fault, dirty }: Part & { dirty: boolean }) {
  const kitchen = useKitchen()
  const ahead = useQuery({
    queryKey: ['orders', 'for-event'],
    queryFn: () => ask(api.GET('/api/v1/orders', { params: { query: { which: 'ahead', limit: 200 } } })),
  })
  const known = new Map((ahead.data?.orders ?? []).map((o) => [o.id, o]))
  const shown = e.orders.map((id) => e.made.find((m) => m.id === id) ?? known.get(id)).filter((o) => o !== undefined)
  const each = (order: string, treat: string) => e.follow.find((f) => f.order === order && f.treat === treat)?.each
  const follow = (order: string, treat: string, n: number | null) =>
    set({
      follow: [
        ...e.follow.filter((f) => f.order !== order || f.treat !== treat),
        ...(n ? [{ order, treat, each: n }] : []),
      ],
    })
  const behind = e.made.some((m) => m.state !== 'cancelled' && m.lines.some((l) => l.wants > 0 && l.wants !== l.count))
  return (
    <section aria-label={words.made}>
      <h2>{words.made}</h2>
      {shown.length === 0 && <p className="soft">{words.noOrders}</p>}
      <ul className="event-orders">
        {shown.map((o) => {
          const m = e.made.find((x) => x.id === o.id)
          return (
            <li key={o.id}>
              <p>
                <Link to={`/orders/${o.id}`}>{o.customer}</Link>{' '}
                <small className="soft">
                  {[o.occasion, stateName[o.state], dayName(kitchen.local(o.from).format('YYYY-MM-DD'))]
                    .filter(Boolean)
                    .join(', ')}
                </small>
                <b className="event-price">{m?.gross ? kitchen.money(m.gross) : <small>{words.noPrice}</small>}</b>
                <Button
                  type="link"
                  className="link quiet"
                  aria-label={words.remove(o.customer)}
                  onClick={() =>
                    set({
                      orders: e.orders.filter((x) => x !== o.id),
                      follow: e.follow.filter((f) => f.order !== o.id),
                    })
                  }
                >
                  ×
                </Button>
              </p>
              {m?.lines.map((l) => (
                <p key={l.treat} className="event-line">
                  <span>
                    <b>{l.count}</b> {l.name}
                    {l.wants > 0 && l.wants !== l.count && <small className="trouble"> {words.wants(l.wants)}</small>}
                  </span>
                  <span className="soft">
                    <InputNumber
                      size="small"
                      min={0}
                      max={100}
                      value={each(o.id, l.treat)}
                      aria-label={words.each(l.name)}
                      style={{ width: 64 }}
                      onChange={(n) => follow(o.id, l.treat, n)}
                    />{' '}
                    {words.eachShort}
                  </span>
                </p>
              ))}
            </li>
          )
        })}
      </ul>
      {fault('orders') && (
        <p className="fault" role="alert">
          {fault('orders')}
        </p>
      )}
      <Select
        aria-label={words.addOrder}
        placeholder={words.addOrder}
        className="event-add"
        showSearch
        optionFilterProp="label"
        value={null}
        options={(ahead.data?.orders ?? [])
          .filter((o) => !e.orders.includes(o.id))
          .map((o) => ({
            value: o.id,
            label: [o.customer, o.occasion, dayName(kitchen.local(o.from).format('YYYY-MM-DD'))]
              .filter(Boolean)
              .join(', '),
          }))}
        onChange={(id: string) => set({ orders: [...e.orders, id] })}
      />
      {behind && !dirty && <Behind e={e} />}
    </section>
  )
}

/** The orders do not have what the guests ask for: what it would be, and then it is. */
function Behind({ e }: { e: Part['e'] }) {
  const kitchen = useKitchen()
  const queries = useQueryClient()
  const say = useSay()
  const [seen, setSeen] = useState<Counted>()
  const [busy, setBusy] = useState(false)
  async function count(look: boolean) {
    setBusy(true)
    try {
      const counted = await ask(
        api.POST('/api/v1/occasions/{id}/counts', {
          params: { path: { id: e.id } },
          body: { try: look, late: e.final },
        }),
      )
      setSeen(look ? counted : undefined)
      if (!look) {
        await askAnew(queries, ['events', 'orders', 'plan'])
        say.done('event', words.changed)
      }
    } catch (error) {
      say.refused(error)
    }
    setBusy(false)
  }
  return (
    <div className="event-behind" role="status">
      <p>
        <Sign kind="caution" size={14} /> {words.behind}
      </p>
      {seen?.orders.map((o) => (
        <p key={o.id}>
          <b>{o.customer}</b> {o.lines.map((l) => words.becomes(l.name, l.was, l.now)).join(', ')}
          {o.was && o.now && <b> {words.price(kitchen.money(o.was), kitchen.money(o.now))}</b>}
          {o.requote && <small className="soft"> ({words.requote})</small>}
        </p>
      ))}
      {seen ? (
        <p className="event-acts">
          <span>{words.total(kitchen.money(seen.total))}</span>
          <Button type="primary" loading={busy} onClick={() => void count(false)}>
            {e.final ? words.changeLate : words.change}
          </Button>
          <Button onClick={() => setSeen(undefined)}>{words.leave}</Button>
        </p>
      ) : (
        <Button loading={busy} onClick={() => void count(true)}>
          {words.look}
        </Button>
      )}
    </div>
  )
}
