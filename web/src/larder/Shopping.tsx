import { useQuery, useQueryClient } from '@tanstack/react-query'
import { Button, Select } from 'antd'
import { useState } from 'react'
import { api, ask, type Schemas } from '../api/client'
import { askAnew } from '../api/topics'
import { Face } from '../kit/Face'
import { copy } from '../kit/address'
import { Guess } from '../kit/Guess'
import { useSay } from '../kit/say'
import { Link } from '../shell/Go'
import { dayName, plusDays, useKitchen } from '../shell/kitchen'
import './larder.css'
import { words } from './words'

type Line = Schemas['LarderShoppingLine']

const spans = [
  [3, words.threeDays],
  [7, 'a week'],
  [14, words.twoWeeks],
  [30, 'a month'],
] as const

/** What to buy for the days ahead, by shop, ticked off while shopping. */
export default function Shopping() {
  const kitchen = useKitchen()
  const queries = useQueryClient()
  const say = useSay()
  const today = kitchen.today()
  const [days, setDays] = useState(14)
  const span = { from: today, to: plusDays(today, days) }
  const list = useQuery({
    queryKey: ['shopping', span],
    queryFn: () => ask(api.GET('/api/v1/shopping-list', { params: { query: span } })),
  })
  const query = `?from=${span.from}&to=${span.to}`
  async function tick(shop: string, line: Line) {
    try {
      const { notes, lots } = await ask(
        api.POST('/api/v1/shopping-list/ticks', {
          // The same tick of two people who look at the same list is one.
          params: {
            header: {
              'Idempotency-Key': `${today} ${shop} ${line.item} ${line.needed} ${line.need.amount.toFixed(3)} ${list.data?.ticks}`,
            },
          },
          body: { item: line.item, shop, packs: line.packs },
        }),
      )
      await askAnew(queries, ['larder'])
      say.done('shopping', [words.isInTheBasket(line.name), ...notes].join(' '), () => void untick(lots))
    } catch (error) {
      say.refused(error)
    }
  }
  async function untick(lots: string[]) {
    try {
      for (const id of lots) await ask(api.DELETE('/api/v1/lots/{id}', { params: { path: { id } } }))
      await askAnew(queries, ['larder'])
    } catch (error) {
      say.refused(error)
    }
  }
  async function share() {
    const text = await (await fetch(`/api/v1/shopping-list.txt${query}`)).text()
    try {
      if (navigator.share) await navigator.share({ title: words.toBuy, text })
      else {
        if (await copy(text)) say.done('shopping', words.theListIsCopiedAs)
      }
    } catch (error) {
      if (!(error instanceof DOMException)) throw error // sharing was given up
    }
  }
  const s = list.data
  if (!list.data) return <Face title={words.toBuy} of={[list]} />
  return (
    <section className="wide shopping">
      <header className="work-head">
        <h1>{words.toBuy}</h1>
        <p className="soft">
          <span className="span-choice no-print">
            {words.forTheNext}{' '}
            <Select
              aria-label={words.forHowLong}
              size="small"
              value={days}
              popupMatchSelectWidth={false}
              options={spans.map(([value, label]) => ({ value, label }))}
              onChange={setDays}
            />
          </span>{' '}
          {words.to} {dayName(span.to)}
          {words.theCheapestPacksForWhat}
        </p>
        <span className="head-actions no-print">
          {kitchen.owns && <Button onClick={() => void share()}>{words.share}</Button>}
          <Button onClick={() => window.print()}>{words.print}</Button>
          {kitchen.owns && (
            <a className="button-link" href={`/api/v1/shopping-list.csv${query}`}>
              CSV
            </a>
          )}
        </span>
      </header>
      {s && s.shops.length === 0 && (
        <p className="empty">
          {words.nothingToBuyYouHave} {dayName(span.to)}.
        </p>
      )}
      {s?.shops.map((shop) => (
        <section key={shop.shop} className="shop" aria-label={shop.shop || words.anywhere2}>
          <header>
            <h2>{shop.shop || words.anywhere2}</h2>
            <b>{kitchen.money(shop.cost)}</b>
          </header>
          <ul>
            {shop.lines.map((line) => (
              <li key={`${line.item}${line.needed}`}>
                <button
                  type="button"
                  className="buy-box"
                  aria-label={words.putIntoTheBasket(line.name)}
                  onClick={() => void tick(shop.shop, line)}
                >
                  <i />
                </button>
                <span className="buy-what">
                  <b>{line.name}</b>{' '}
                  <span className="pack-size">
                    {line.packs.map((p) => words.shopping.packs(p.count, kitchen.amount(p.shown))).join(', ')}
                  </span>
                  <small>
                    <When line={line} today={today} /> · {kitchen.amount(line.need)} {words.needed}
                    {line.for.length > 0 && words.forWord2(line.for.join(', '))}
                    {line.left.amount > 0.01 &&
                      (kitchen.seesMoney
                        ? words.leftOverWorth(kitchen.amount(line.left), kitchen.money(line.leftWorth))
                        : words.leftOver(kitchen.amount(line.left)))}
                  </small>
                </span>
                <span className="buy-cost">
                  {kitchen.money(line.cost)}
                  {line.estimated && kitchen.seesMoney && <Guess />}
                </span>
              </li>
            ))}
          </ul>
        </section>
      ))}
      {s && s.basket.length > 0 && (
        <section className="shop basket" aria-label={words.inTheBasket}>
          <header>
            <h2>{words.inTheBasket}</h2>
          </header>
          <ul>
            {s.basket.map((b) => (
              <li key={b.lot}>
                <button
                  type="button"
                  className="buy-box in"
                  disabled={b.used}
                  aria-label={words.takeOutOfTheBasket(b.name)}
                  onClick={() => void untick([b.lot])}
                >
                  <i />
                </button>
                <span className="buy-what">
                  <b>{b.name}</b> {kitchen.amount(b.came)}
                  <small>
                    {b.used ? words.someOfItIsAlready : words.inTheLarderFromNow(b.shop ? `, ${b.shop}` : '')}
                  </small>
                </span>
                <span className="buy-cost">{kitchen.money(b.paid)}</span>
              </li>
            ))}
          </ul>
        </section>
      )}
      {s && (
        <p className="shop-foot">
          {kitchen.seesMoney && (
            <b>
              {words.total} {kitchen.money(s.total)}
            </b>
          )}{' '}
          <Link className="no-print" to="/larder">
            {words.backToLarder}
          </Link>
        </p>
      )}
    </section>
  )
}

function When({ line, today }: { line: Line; today: string }) {
  const day = (d: string) => (d === today ? 'today' : dayName(d))
  if (line.late)
    return (
      <span className="trouble">
        {words.buyTodayNeeded} {day(line.needed)}
      </span>
    )
  if (line.notBefore === line.by)
    return (
      <span>
        {words.buy} {day(line.on)}
        {words.notBefore}
      </span>
    )
  return (
    <span>
      {words.buy} {day(line.on)}
      {line.by !== line.on && words.by(day(line.by))}
      {line.offDay && words.notAShoppingDay}
    </span>
  )
}
