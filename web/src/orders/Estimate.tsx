import { useQuery } from '@tanstack/react-query'
import { Button } from 'antd'
import type { ReactNode } from 'react'
import { Link, useNavigate } from 'react-router'
import { traitsOf } from '../api/families'
import { api, ask, type Schemas } from '../api/client'
import { lookOf } from '../kit/chocolate'
import { Figure } from '../kit/Figure'
import { Sign } from '../kit/glyphs'
import { dayName, minutes, together, useKitchen } from '../shell/kitchen'
import type { Row } from './Orders'
import { usePreview } from './preview'
import './orders.css'
import './price.css'
import { words } from './words'

export type Reckoned = Schemas['OrderEstimate']

export const Part = ({ name, children }: { name: string; children: ReactNode }) => (
  <section className="part">
    <h3>{name}</h3>
    <div>{children}</div>
  </section>
)

/** One line of a part: words to the left, a figure to the right. */
export const Line = ({
  children,
  figure,
  why,
  note,
  trouble,
}: {
  children: ReactNode
  figure?: ReactNode
  why?: string
  note?: ReactNode
  trouble?: boolean
}) => (
  <div className={trouble ? 'line trouble' : 'line'}>
    <span>
      {children}
      {note && <small>{note}</small>}
    </span>
    {figure !== undefined &&
      (why ? (
        <Figure why={why} strong>
          {figure}
        </Figure>
      ) : (
        <b>{figure}</b>
      ))}
  </div>
)

const parts = {
  ingredients: 'ingredients',
  packaging: 'packaging',
  hands: words.yourTime,
  overhead: 'overhead',
  drive: 'delivery',
  card: words.cardFee,
} as const

/** What a cost rests on that nobody has paid. */
const basis: Record<string, string> = { '': '', estimate: ', estimate', nothing: words.noPriceYet }

/** Where the price goes, as a bar. */
function Split({ money }: { money: Reckoned['money'] }) {
  const kitchen = useKitchen()
  const left = Number(money.left.amount)
  const all = [
    ...(Object.keys(parts) as (keyof typeof parts)[]).flatMap((p) =>
      money[p] ? [{ key: p as string, name: parts[p] as string, amount: money[p] }] : [],
    ),
    { key: left < 0 ? 'lost' : 'left-over', name: left < 0 ? 'loss' : 'profit', amount: money.left },
  ]
  const total = all.reduce((sum, a) => sum + Math.abs(Number(a.amount.amount)), 0)
  return (
    <>
      <div className="split" aria-hidden="true">
        {total > 0 &&
          all.map((a) => (
            <span
              key={a.name}
              className={`split-${a.key}`}
              style={{ flexGrow: Math.abs(Number(a.amount.amount)) / total }}
            />
          ))}
      </div>
      <ul className="split-key">
        {all.map((a) => (
          <li key={a.name}>
            <i className={`split-${a.key}`} aria-hidden="true" />
            {a.name} <Figure why={a.amount.why}>{kitchen.money(a.amount)}</Figure>
          </li>
        ))}
      </ul>
    </>
  )
}

/** Where a price stands in the seller's own market. */
export function Market({ stand }: { stand: Schemas['OrderStand'] }) {
  const kitchen = useKitchen()
  const [low, high, here] = [stand.low, stand.high, stand.dozen].map((m) => Number(m.amount))
  // As they lie on the line: what is below the market stands before it.
  const ends = [
    { at: low!, text: kitchen.money(stand.low) },
    { at: here!, text: `${kitchen.money(stand.dozen)} a dozen` },
    { at: high!, text: kitchen.money(stand.high) },
  ]
  const at = high! > low! ? ((here! - low!) / (high! - low!)) * 100 : 50
  return (
    <span className="market" role="img" aria-label={stand.text} title={stand.text}>
      <span className="market-ends">
        {ends
          .sort((a, b) => a.at - b.at)
          .map((e, i) => (
            <span key={i}>{e.text}</span>
          ))}
      </span>
      <span className="market-band">
        <i style={{ left: `${Math.min(Math.max(at, -6), 106)}%` }} />
      </span>
    </span>
  )
}

/** All that follows from an order. planned: the days that it has, where it has some. */
export function Parts({
  r,
  planned,
  helps,
  boxes,
}: {
  r: Reckoned
  planned?: Schemas['OrdersDay'][]
  helps?: ReactNode
  boxes?: ReactNode
}) {
  const kitchen = useKitchen()
  const chosen = planned && planned.length > 0 ? planned : null
  return (
    <>
      <div className="price-head">
        <Figure why={r.money.asked.why}>
          <span className="big">{kitchen.money(r.money.asked)}</span>
        </Figure>
        <span className="pay">
          {r.money.perHour && (
            <Figure why={r.money.perHour.why}>
              <b className={Number(r.money.left.amount) < 0 ? 'trouble' : 'fine'}>
                {kitchen.money(r.money.perHour)} {words.anHour}
              </b>
            </Figure>
          )}
          <Figure why={r.handsWhy}>
            <small>
              {minutes(r.hands)} {words.handsOn}
            </small>
          </Figure>
        </span>
      </div>
      {r.lines.length > 0 && <Split money={r.money} />}
      {r.lines.length > 0 &&
        r.money.doubts.map((d) => (
          <p key={d} className="care doubt">
            <Sign kind="caution" size={14} /> {d} <Link to="/larder">{words.larder}</Link>
          </p>
        ))}
      {r.money.planned && r.money.planned.hands !== r.hands && (
        <p className="beside" aria-busy={r.when.pending ?? false}>
          {words.alongsideYourOtherOrders}{' '}
          <Figure why={r.money.planned.total.why}>{minutes(r.money.planned.hands)}</Figure>
          {r.money.planned.perHour && (
            <>
              ,{' '}
              <b>
                {kitchen.money(r.money.planned.perHour)} {words.anHour}
              </b>
            </>
          )}
        </p>
      )}
      <Part name={words.when}>
        {chosen ? (
          chosen.map((d) => (
            <Line
              key={d.batch}
              figure={d.days.length > 1 ? words.to2(dayName(d.days[0]!), dayName(d.days.at(-1)!)) : dayName(d.day)}
              trouble={d.short}
              note={
                d.short
                  ? words.noLongerFits
                  : d.done > 0
                    ? words.ofStepsDone(d.done, d.steps)
                    : `${minutes(d.hands)}${d.with.length > 0 ? words.forAll : ''}`
              }
            >
              {(d.part > 0 || d.with.length > 0) && `${d.count} `}
              {d.name}
              {d.with.length > 0 && (
                <small className="soft">
                  {' '}
                  {words.madeTogetherWith} {d.all - d.count} {words.for} {together(d.with)}
                </small>
              )}
            </Line>
          ))
        ) : (
          <p
            className={r.when.fits || r.lines.length === 0 || !r.when.text ? 'when' : 'when trouble'}
            role="status"
            aria-busy={r.when.pending ?? false}
          >
            {r.lines.length > 0 && r.when.text && <Sign kind={r.when.fits ? 'fine' : 'trouble'} size={15} />}{' '}
            {r.when.text || words.checkingYourSchedule}
          </p>
        )}
        {chosen?.some((d) => d.short) && !r.when.fits && (
          <p className="when trouble" role="status">
            <Sign kind="trouble" size={15} /> {r.when.text}
          </p>
        )}
        {r.wait > 0 && (
          <small className="soft">
            {words.plus} {minutes(r.wait)} {words.settingAndDrying}
          </small>
        )}
      </Part>
      {helps}
      {r.lines.length > 0 && (
        <Part name={words.make}>
          {r.lines.map((l, i) => (
            <Line
              key={i}
              figure={begun(l.card)}
              why={l.card.startWhy}
              note={
                <>
                  {l.card.rounds && !traitsOf(l.card.family).bagged ? (
                    <Figure why={l.card.rounds.why}>{l.card.rounds.text}</Figure>
                  ) : (
                    l.card.spare
                  )}
                  {r.lines.length > 1 && (
                    <span className="line-share">
                      {words.cost} {kitchen.money(l.cost)}
                      {words.price} {kitchen.money(l.price)}
                    </span>
                  )}
                  {l.market && <Market stand={l.market} />}
                </>
              }
            >
              {l.count} {l.name}
            </Line>
          ))}
        </Part>
      )}
      {r.pots.length > 0 && (
        <Part name={words.melt}>
          {r.pots.map((p, i) => (
            <Line
              key={i}
              figure={kitchen.amount(p.melted)}
              why={p.why}
              note={words.usesComesBack(
                kitchen.amount(p.used),
                p.topUp ? words.moreLater(kitchen.amount(p.topUp)) : '',
                kitchen.amount(p.reclaimed),
              )}
            >
              <i
                className={`swatch c-${lookOf(p.chocolate).word}`}
                style={{ background: lookOf(p.chocolate).fill, borderColor: lookOf(p.chocolate).edge }}
                aria-hidden="true"
              />{' '}
              {p.name}
            </Line>
          ))}
        </Part>
      )}
      {r.needs.length > 0 && (
        <Part name={words.ingredients}>
          {r.needs.map((n) => (
            <Line
              key={n.ingredient}
              figure={kitchen.amount(n.used)}
              why={n.why}
              note={`(${kitchen.other(n.used)}) · ${kitchen.money(n.cost)}${basis[n.basis ?? '']}`}
            >
              {n.name}
            </Line>
          ))}
        </Part>
      )}
      {r.packs.length > 0 && (
        <Part name={words.packaging}>
          {r.packs.map((p) => (
            <Line
              key={p.supply}
              figure={kitchen.amount(p.amount)}
              why={p.why}
              trouble={Boolean(p.short)}
              note={p.short ? words.short(kitchen.amount(p.short)) : words.inStock(kitchen.amount(p.stock))}
            >
              {p.name}
            </Line>
          ))}
        </Part>
      )}
      {boxes}
      {r.care.length > 0 && (
        <Part name={words.watchOut}>
          {r.care.map((c) => (
            <p key={c.text} className={c.trouble ? 'care trouble' : 'care'}>
              {c.trouble && <Sign kind="trouble" size={14} />} {c.text}
            </p>
          ))}
        </Part>
      )}
    </>
  )
}

/** What a saved order takes, beside the list. */
export function OrderEstimate({ row }: { row: Row }) {
  const navigate = useNavigate()
  const order = useQuery({
    queryKey: ['order', row.id],
    queryFn: () => ask(api.GET('/api/v1/orders/{id}', { params: { path: { id: row.id } } })),
    placeholderData: undefined,
  })
  const r = useQuery({
    queryKey: ['estimate', row.id, order.data?.draft],
    queryFn: () => ask(api.POST('/api/v1/estimates', { body: { order: row.id, draft: order.data!.draft } })),
    enabled: Boolean(order.data),
    placeholderData: undefined,
  })
  usePreview({
    order: row.id,
    planned: (order.data?.days.length ?? 0) > 0,
    day: useKitchen().local(row.from).format('YYYY-MM-DD'),
    r: r.data,
  })
  return (
    <>
      <p className="kicker">{row.occasion || words.order2(row.number)}</p>
      <h2>{row.customer}</h2>
      {r.data && <Parts r={r.data} planned={order.data?.days} />}
      {r.error && <p className="fault">{r.error.message}</p>}
      <p className="takes-foot">
        <Button type="primary" onClick={() => void navigate(`/orders/${row.id}`)}>
          {words.openOrder}
        </Button>
      </p>
    </>
  )
}

/** What is begun: pieces, or sheets where they are bagged by weight. */
export function begun(card: Schemas['BatchCard']) {
  const is = traitsOf(card.family)
  return is.bagged ? `${card.start} ${card.start === 1 ? is.unit : is.units}` : words.start(card.start)
}
