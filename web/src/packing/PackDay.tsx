import { Button } from 'antd'
import { useParams } from 'react-router'
import type { Schemas } from '../api/client'
import { Face } from '../kit/Face'
import { Sign } from '../kit/glyphs'
import { Link } from '../shell/Go'
import { dayLong, plusDays, useKitchen } from '../shell/kitchen'
import { usePackDay } from './usePackDay'
import { words } from './words'
import './packing.css'

type Order = Schemas['OrdersPackOrder']

/** The pack list of a day: what to take from which tin, and order by order what goes in; what is ticked stays so. */
export default function PackDay() {
  const { day = '' } = useParams()
  const kitchen = useKitchen()
  const { list, tick } = usePackDay(day)
  if (!list.data) return <Face title={words.packDay(dayLong(day))} of={[list]} />
  const d = list.data
  const all = d.orders.flatMap((o) => [...o.lines, ...o.packs])
  return (
    <section className="wide pack-day">
      <nav className="pack-days no-print">
        {kitchen.owns && <Link to="/handover">{words.toHandovers}</Link>}
        <Link to={`/handover/packing/${plusDays(day, -1)}`}>{words.dayBefore}</Link>
        <Link to={`/handover/packing/${plusDays(day, 1)}`}>{words.dayAfter}</Link>
        {all.length > 0 && <b>{words.ticked(all.filter((x) => x.done).length, all.length)}</b>}
        <Button onClick={() => window.print()}>{words.printDay}</Button>
      </nav>
      <h1>{words.packDay(dayLong(day))}</h1>
      {d.orders.length === 0 && <p className="empty">{words.nothingThatDay}</p>}
      {d.tins.length > 0 && (
        <section className="pack-tins" aria-label={words.tins}>
          <h2>{words.tins}</h2>
          <ul>
            {d.tins.map((t) => (
              <li key={t.lot}>
                <code>{t.lot}</code> <b>{t.name}</b> {!t.made && <small className="trouble">{words.notMade}</small>}
                <span>
                  {t.for.map((f) => (
                    <span key={f.order}>{words.takes(f.count, f.customer)}</span>
                  ))}
                </span>
              </li>
            ))}
          </ul>
        </section>
      )}
      <div className="pack-orders">
        {d.orders.map((o) => (
          <One key={o.id} o={o} tick={(what, done) => void tick(o.id, what, done)} />
        ))}
      </div>
      {d.packs.length > 0 && (
        <section className="pack-card pack-sum" aria-label={words.packList}>
          <p className="kicker">{words.packList}</p>
          <ul className="pack-rows">
            {d.packs.map((p) => (
              <li key={p.name}>
                <span>
                  <b>{kitchen.amount(p.amount)}</b> {p.name}
                </span>
              </li>
            ))}
          </ul>
        </section>
      )}
    </section>
  )
}

function One({ o, tick }: { o: Order; tick: (what: string, done: boolean) => void }) {
  const kitchen = useKitchen()
  return (
    <article className="pack-card" aria-label={o.customer}>
      <h2>
        <Link to={`/handover/${o.id}`}>{o.customer}</Link>{' '}
        <small className="soft">
          {[o.occasion, kitchen.time(o.from), words.ways[o.way], o.state === 'packed' && words.isPackedState]
            .filter(Boolean)
            .join(' · ')}
        </small>
      </h2>
      {o.freeFrom.length > 0 && (
        <p className="trouble">
          <Sign kind="caution" size={14} /> {words.freeFromFirst(o.freeFrom.join(', '))}
        </p>
      )}
      <ul className="pack-rows">
        {o.lines.map((l) => (
          <li key={l.key} className={l.done ? 'done' : undefined}>
            <label>
              <input type="checkbox" checked={l.done} onChange={(e) => tick(l.key, e.target.checked)} />{' '}
              <b>{l.count}</b> {l.name}
              {l.lots.length > 0 && <code> {l.lots.join(', ')}</code>}
              {l.boxes.map((b) => (
                <small key={b} className="soft">
                  {b}
                </small>
              ))}
              {l.note && <small className="care">{l.note}</small>}
            </label>
          </li>
        ))}
        {o.packs.map((p) => (
          <li key={p.key} className={p.done ? 'done' : undefined}>
            <label>
              <input type="checkbox" checked={p.done} onChange={(e) => tick(p.key!, e.target.checked)} />{' '}
              <b>{kitchen.amount(p.amount)}</b> {p.name}
              {p.short && <small className="trouble">{words.short(kitchen.amount(p.short))}</small>}
            </label>
          </li>
        ))}
      </ul>
      {o.notes && <p className="soft">{o.notes}</p>}
    </article>
  )
}
