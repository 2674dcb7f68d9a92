import { useQuery, useQueryClient } from '@tanstack/react-query'
import { Button, Input } from 'antd'
import { useRef, useState } from 'react'
import { api, ask, Refused, type Schemas } from '../api/client'
import { askAnew } from '../api/topics'
import { AmountInput, amountsRead } from '../kit/AmountInput'
import { Sign } from '../kit/glyphs'
import { useSay } from '../kit/say'
import { dayName, useKitchen } from '../shell/kitchen'
import { type Item, Jar, PriceCurve } from './Jar'
import { date } from './dates'
import { LotRow } from './LotRow'
import { words } from './words'

type Full = Schemas['LarderItemInFull']

/** One jar looked into: how it stands, its lots, what was paid, where it is sold, what happened. */
export function ItemPanel({ item, numbers, close }: { item: Item; numbers: () => void; close: () => void }) {
  const kitchen = useKitchen()
  const queries = useQueryClient()
  const say = useSay()
  const full = useQuery({
    queryKey: ['item', item.id, item.revision],
    queryFn: () => ask(api.GET('/api/v1/stock/{id}', { params: { path: { id: item.id } } })),
  })
  const f = full.data?.id === item.id ? full.data : undefined
  const changed = async (now: Full, text: string) => {
    queries.setQueryData(['item', item.id, item.revision], now)
    await askAnew(queries, ['larder'])
    say.done('larder', text)
  }
  return (
    <>
      <p className="kicker">{item.mix ? words.madeAhead : item.packaging ? words.packaging : words.ingredient}</p>
      <div className="item-head">
        <Jar item={item} size={74} />
        <div>
          <h2>{item.name}</h2>
          <p>
            <b className="big-amount">{item.stock.amount > 0 ? kitchen.amount(item.stock) : words.none}</b>{' '}
            <small className="inline">
              {item.stock.amount > 0 &&
                kitchen.other(item.stock) !== kitchen.amount(item.stock) &&
                kitchen.other(item.stock)}
            </small>
          </p>
          <p className="soft">
            {item.reserved.amount > 0 ? kitchen.amount(item.reserved) : words.nothing} {words.setAside}{' '}
            <b className={item.runs ? 'trouble' : 'fine'}>
              {item.free.amount > 0 ? kitchen.amount(item.free) : words.nothing} {words.free}
            </b>
          </p>
        </div>
      </div>
      {item.runs && (
        <p className="care trouble">
          <Sign kind="trouble" size={14} /> {kitchen.amount(item.runs.amount)} {words.shortOn} {dayName(item.runs.day)}
          {words.for} {item.runs.for.join(', ')}.
        </p>
      )}
      {item.unaccounted && (
        <p className="care">
          <Sign kind="caution" size={14} /> {kitchen.amount(item.unaccounted)} {words.wasUsedThatYouNever}
        </p>
      )}
      {f && (
        <>
          <section className="part-wide">
            <h3>{words.lots}</h3>
            {f.lotList.length === 0 && <p className="soft">{words.noneInStock}</p>}
            <ul className="lots">
              {f.lotList.map((l) => (
                <LotRow key={l.id} lot={l} changed={changed} per={kitchen.amount(item.paidFor)} />
              ))}
            </ul>
          </section>
          <Count item={item} changed={changed} />
          {!item.mix && kitchen.seesMoney && (
            <>
              <section className="part-wide">
                <h3>
                  {words.whatWasPaidFor} {kitchen.amount(item.paidFor)}
                </h3>
                <PriceCurve prices={f.prices} money={kitchen.money} />
                {f.prices.length < 2 && (
                  <p className="soft">
                    {f.prices.length === 1
                      ? words.on2(kitchen.money(f.prices[0]!.price), date(f.prices[0]!.day))
                      : words.noPurchaseYetThePrice}
                  </p>
                )}
              </section>
              <Offers item={item} offers={f.offers} changed={changed} />
            </>
          )}
          <details className="part-wide">
            <summary>{words.history}</summary>
            <ul className="stock-moves">
              {f.moves.map((m, n) => (
                <li key={n}>
                  <span>
                    {kitchen.local(m.at).format('ddd D MMM')}: {m.kind === 'in' ? words.came : m.kind}
                    {m.order && words.forWord(m.order)}
                    {m.reason && m.reason !== m.kind && <small> {m.reason}</small>}
                    {m.who && <small className="soft"> · {m.who}</small>}
                  </span>
                  <b>
                    {m.change.amount > 0 && '+'}
                    {kitchen.amount(m.change)}
                  </b>
                </li>
              ))}
            </ul>
          </details>
        </>
      )}
      <p className="takes-foot">
        {kitchen.owns && (
          <Button type="primary" onClick={numbers}>
            {item.mix ? words.openTheMix : words.edit}
          </Button>
        )}{' '}
        <Button onClick={close}>{words.close}</Button>
      </p>
    </>
  )
}

function Count({ item, changed }: { item: Item; changed: (now: Full, text: string) => Promise<void> }) {
  const [amount, setAmount] = useState(item.stock as Schemas['MeasureQuantity'])
  const counted = useRef(amount)
  const take = (q: Schemas['MeasureQuantity']) => {
    counted.current = q
    setAmount(q)
  }
  const [reason, setReason] = useState('')
  const [refused, setRefused] = useState<Refused>()
  async function save() {
    try {
      setRefused(undefined)
      await amountsRead()
      const { amount: n, unit } = counted.current
      await changed(
        await ask(
          api.POST('/api/v1/stock/{id}/counts', {
            params: { path: { id: item.id } },
            body: { amount: { amount: n, unit }, reason },
          }),
        ),
        words.stockCorrected(item.name),
      )
      setReason('')
    } catch (error) {
      if (!(error instanceof Refused)) throw error
      setRefused(error)
    }
  }
  return (
    <form
      className="part-wide count-form"
      onSubmit={(e) => {
        e.preventDefault()
        void save()
      }}
    >
      <h3>{words.correctStock}</h3>
      <AmountInput
        label={words.inStockNow}
        value={{ amount: Number(amount.amount.toFixed(1)), unit: amount.unit }}
        onChange={take}
        of={item.packaging ? undefined : item.id}
      />
      <Input
        aria-label={words.reason}
        placeholder={words.counted2}
        value={reason}
        onChange={(e) => setReason(e.target.value)}
        style={{ width: 130 }}
      />
      <Button htmlType="submit">{words.saveCount}</Button>
      {refused && (
        <p className="fault" role="alert">
          {refused.at('amount') ?? refused.message}
        </p>
      )}
    </form>
  )
}

type Offer = Schemas['LarderOffer']

function Offers({
  item,
  offers,
  changed,
}: {
  item: Item
  offers: Offer[]
  changed: (now: Full, text: string) => Promise<void>
}) {
  const kitchen = useKitchen()
  const [list, setList] = useState<Offer[]>()
  const [refused, setRefused] = useState<Refused>()
  const edit = (n: number, change: Partial<Offer>) =>
    setList(list?.map((o, i) => (i === n ? { ...o, ...change, seen: undefined } : o)))
  async function save() {
    try {
      setRefused(undefined)
      await changed(
        await ask(
          api.PUT('/api/v1/stock/{id}/offers', {
            params: { path: { id: item.id } },
            body: { offers: list!.map(({ shop, size, price, seen }) => ({ shop, size, price, seen })) },
          }),
        ),
        words.packsSaved,
      )
      setList(undefined)
    } catch (error) {
      if (!(error instanceof Refused)) throw error
      setRefused(error)
    }
  }
  return (
    <section className="part-wide">
      <h3>{words.soldInPacksOf}</h3>
      {!list && (
        <>
          {offers.length === 0 && <p className="soft">{words.noPackSizesYetWe}</p>}
          <ul className="offers">
            {offers.map((o, i) => (
              <li key={i}>
                <span>
                  {o.shown && kitchen.amount(o.shown)}
                  <small className="inline"> {o.shop || words.anywhere}</small>
                </span>
                <b>{kitchen.money({ amount: o.price, currency: kitchen.session.currency ?? 'USD' })}</b>
              </li>
            ))}
          </ul>
          <Button type="link" className="link" onClick={() => setList(offers)}>
            {words.editPacks}
          </Button>
        </>
      )}
      {list && (
        <>
          {list.map((o, i) => (
            <div key={i} className="offer-edit">
              <AmountInput
                label={words.sizeOfPack(i + 1)}
                value={o.size}
                width={90}
                onChange={(size) => edit(i, { size })}
                of={item.packaging ? undefined : item.id}
              />
              <Input
                aria-label={words.priceOfPack(i + 1)}
                value={o.price}
                inputMode="decimal"
                style={{ width: 74 }}
                onChange={(e) => edit(i, { price: e.target.value })}
              />
              <Input
                aria-label={words.shopOfPack(i + 1)}
                value={o.shop}
                placeholder={words.shop}
                onChange={(e) => edit(i, { shop: e.target.value })}
              />
              <Button
                type="text"
                aria-label={words.leaveOutPack(i + 1)}
                onClick={() => setList(list.filter((_, j) => j !== i))}
              >
                ×
              </Button>
              {refused?.below(`offers[${i}]`) && (
                <span className="fault" role="alert">
                  {refused.below(`offers[${i}]`)}
                </span>
              )}
            </div>
          ))}
          <Button
            type="link"
            className="link"
            onClick={() =>
              setList([
                ...list,
                { shop: '', size: { amount: item.paidFor.amount, unit: item.unit }, price: item.lastPaid },
              ])
            }
          >
            {words.addAPack}
          </Button>
          {refused && !refused.problem.errors?.length && (
            <p className="fault" role="alert">
              {refused.message}
            </p>
          )}
          <p>
            <Button onClick={() => void save()}>{words.saveThePacks}</Button>{' '}
            <Button type="link" className="link quiet" onClick={() => setList(undefined)}>
              {words.cancel}
            </Button>
          </p>
        </>
      )}
    </section>
  )
}
