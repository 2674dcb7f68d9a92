import { useQuery, useQueryClient } from '@tanstack/react-query'
import { Button } from 'antd'
import { useNavigate, useParams } from 'react-router'
import { api, ask } from '../api/client'
import { askAnew } from '../api/topics'
import { BoxDrawing } from '../boxes/BoxDrawing'
import { Face } from '../kit/Face'
import { Glyph, Sign } from '../kit/glyphs'
import { useSay } from '../kit/say'
import { lookOf } from '../kit/chocolate'
import { Link } from '../shell/Go'
import { dayName, useKitchen } from '../shell/kitchen'
import { LabelPanel } from './LabelPanel'
import { NameTags } from './NameTags'
import { usePackDay } from './usePackDay'
import { words } from './words'
import './packing.css'

/** What is waiting to be packed, the boxes of one order to scale, what goes in, its labels, and what is in it. */
export default function PackPage() {
  const { id = '' } = useParams()
  const kitchen = useKitchen()
  const navigate = useNavigate()
  const queries = useQueryClient()
  const say = useSay()
  const orders = useQuery({
    queryKey: ['orders', 'handovers'],
    queryFn: () => ask(api.GET('/api/v1/orders', { params: { query: { limit: 100 } } })),
  })
  const order = useQuery({
    queryKey: ['order', id],
    queryFn: () => ask(api.GET('/api/v1/orders/{id}', { params: { path: { id } } })),
  })
  const estimate = useQuery({
    queryKey: ['estimate', id, order.data?.draft],
    queryFn: () => ask(api.POST('/api/v1/estimates', { body: { order: id, draft: order.data!.draft } })),
    enabled: Boolean(order.data),
  })
  const lots = useQuery({
    queryKey: ['order-lots', id, order.data?.state, order.data?.revision],
    queryFn: () => ask(api.GET('/api/v1/orders/{id}/lots', { params: { path: { id } } })),
  })
  const o = order.data
  const r = estimate.data
  const { list: packing, tick } = usePackDay(o ? kitchen.local(o.draft.from).format('YYYY-MM-DD') : '')
  const ticks = packing.data?.orders.find((x) => x.id === id)?.packs ?? []
  if (!o || !r) return <Face title={words.packing} of={[order, estimate]} />
  async function pack() {
    try {
      await ask(api.POST('/api/v1/orders/{id}/moves', { params: { path: { id } }, body: { to: 'packed' } }))
      await askAnew(queries, ['orders', 'larder'])
      say.done('move', words.isPacked(o!.draft.customer))
      void navigate('/handover')
    } catch (error) {
      say.refused(error)
    }
  }
  const free = [...new Set([...o.draft.freeFrom, ...o.draft.lines.flatMap((l) => l.freeFrom ?? [])])]
  const waiting = (orders.data?.orders ?? []).filter((x) => x.state === 'promised' || x.state === 'in the making')
  return (
    <div className="packing">
      <nav className="pack-list" aria-label={words.toPack}>
        <h1>{words.packing}</h1>
        {waiting.length === 0 && <p className="soft">{words.nothingToPack}</p>}
        <ul>
          {waiting.map((x) => (
            <li key={x.id}>
              <Link to={`/handover/${x.id}`} aria-current={x.id === id ? 'page' : undefined}>
                <b>{x.customer}</b>
                <small>{kitchen.moment(x.from)}</small>
                {x.freeFrom.length > 0 && (
                  <small className="trouble">{words.freeFromFirst(x.freeFrom.join(', '))}</small>
                )}
              </Link>
            </li>
          ))}
        </ul>
      </nav>
      <section className="pack-what" aria-label={o.draft.customer}>
        <header>
          <h2>{o.draft.customer}</h2>
          <p className="soft">
            {kitchen.moment(o.draft.from)} · <Link to={`/orders/${id}`}>{words.toTheOrder}</Link> ·{' '}
            <a href={`/api/v1/orders/${id}/packing-slip.pdf`} download>
              {words.slip}
            </a>
          </p>
        </header>
        {free.length > 0 && (
          <p className="trouble">
            <Sign kind="caution" size={14} /> {words.freeFromFirst(free.join(', '))}
          </p>
        )}
        {r.lines.length === 0 && <p className="empty">{words.noLines}</p>}
        <div className="pack-boxes">
          {r.lines.map((l, i) => {
            const boxes = r.boxes.filter((b) => b.line === i)
            const look = lookOf(l.card.look)
            return (
              <article key={i} className="pack-card">
                <h3>
                  <i
                    className="swatch"
                    style={{ background: look.fill, borderColor: look.edge, color: look.ink }}
                    aria-hidden="true"
                  >
                    <Glyph family={l.card.family} size={14} />
                  </i>{' '}
                  {l.count} {l.name}
                </h3>
                {o.draft.lines[i]?.note && <p className="care">{o.draft.lines[i].note}</p>}
                {boxes.map((b) => (
                  <div key={b.supply}>
                    <p className={b.trouble ? 'when trouble' : 'soft'}>
                      {b.trouble && <Sign kind="trouble" size={14} />} {b.boxes} × {b.text}
                    </p>
                    {b.layout && <BoxDrawing box={b} cards={[l.card]} />}
                  </div>
                ))}
              </article>
            )
          })}
        </div>
        {r.sets.map((s) => (
          <article key={s.set} className="pack-card">
            <p className={s.trouble ? 'when trouble' : undefined}>
              {s.trouble && <Sign kind="trouble" size={14} />} <b>{s.text}</b>
            </p>
            <p>{s.lines.map((line, i) => `${s.pieces[i]} ${r.lines[line]!.name}`).join(', ')}</p>
            {s.layout && <BoxDrawing box={s} cards={s.lines.map((line) => r.lines[line]!.card)} />}
          </article>
        ))}
        {r.packs.length > 0 && (
          <section className="pack-card" aria-label={words.packList}>
            <p className="kicker">{words.packList}</p>
            <ul className="pack-rows">
              {r.packs.map((p) => (
                <li key={p.supply}>
                  <label>
                    <input
                      type="checkbox"
                      disabled={ticks.length === 0}
                      checked={ticks.some((x) => x.key === `pack:${p.supply}` && x.done)}
                      onChange={(e) => void tick(id, `pack:${p.supply}`, e.target.checked)}
                    />{' '}
                    <b>{kitchen.amount(p.amount)}</b> {p.name}
                  </label>
                  <span className={p.short ? 'trouble' : 'soft'}>
                    {p.short ? words.short(kitchen.amount(p.short)) : words.left(kitchen.amount(p.stock))}
                  </span>
                </li>
              ))}
            </ul>
          </section>
        )}
      </section>
      <aside className="pack-side">
        {r.lines.length > 0 && <LabelPanel order={o} />}
        <NameTags
          key={id}
          order={{ id, customer: o.draft.customer }}
          boxes={(o.draft.sets ?? []).reduce((sum, x) => sum + x.boxes, 0)}
        />
        <section className="pack-card" aria-label={words.whatWentIn}>
          <p className="kicker">{words.whatWentIn}</p>
          {(lots.data?.lots ?? []).length === 0 ? (
            <p className="soft">{words.notMadeYet}</p>
          ) : (
            <>
              <ul className="pack-rows">
                {lots.data!.lots.map((l) => (
                  <li key={l.id}>
                    <span>
                      {l.name}
                      <small>{words.boughtOn(words.origin[l.origin], dayName(l.day), l.shop ?? '')}</small>
                    </span>
                    <Link to={`/larder/lots/${l.id}`}>{words.whereElse}</Link>
                  </li>
                ))}
              </ul>
              <a href={`/api/v1/orders/${id}/lots.csv`} download>
                {words.asCsv}
              </a>
            </>
          )}
        </section>
        {o.state === 'in the making' && (
          <p className="pack-do">
            <Button type="primary" size="large" onClick={() => void pack()}>
              {words.packed}
            </Button>{' '}
            <small className="soft">{words.thenHandedOver}</small>
          </p>
        )}
      </aside>
    </div>
  )
}
