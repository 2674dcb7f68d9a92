import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { Input, InputNumber } from 'antd'
import { memo, useState } from 'react'
import { api, ask, Refused, type Schemas } from '../api/client'
import { askAnew } from '../api/topics'
import { Plot } from '../kit/Plot'
import { Market } from '../orders/Estimate'
import './treats.css'
import '../orders/price.css'
import { minutes, moneyOf, useKitchen } from '../shell/kitchen'
import { words } from './words'

type Treat = Schemas['TreatsTreat']
type Rung = Schemas['OrderRung']

/** What 6, 12, 24, 48 and 96 of a treat cost and bring, since set-up is shared; and what others ask for a dozen. */
export const Ladder = memo(function Ladder({ treat }: { treat: Treat }) {
  const kitchen = useKitchen()
  const ladder = useQuery({
    queryKey: ['ladder', treat.id, treat.version, treat.market],
    queryFn: () => ask(api.GET('/api/v1/treats/{id}/ladder', { params: { path: { id: treat.id } } })),
    enabled: treat.version > 0,
  })
  const rungs = ladder.data?.rungs ?? []
  if (rungs.length === 0) return null
  return (
    <section className="sell" aria-label={words.sell}>
      <h3>{words.sell}</h3>
      <Rungs rungs={rungs} />
      <table className="rungs" aria-label={words.priceOfADozenBy}>
        <thead>
          <tr>
            <th>{words.made}</th>
            <th>{words.aDozen}</th>
            <th>{words.costOfEach}</th>
            <th>{words.anHour}</th>
            <th>{words.time}</th>
          </tr>
        </thead>
        <tbody>
          {rungs.map((r) => (
            <tr key={r.count}>
              <th scope="row">{r.count}</th>
              <td>
                <b>{kitchen.money(r.dozen)}</b>
              </td>
              <td>{kitchen.money(r.each)}</td>
              <td>{r.perHour && kitchen.money(r.perHour)}</td>
              <td>{minutes(r.hands)}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {rungs[1]?.market && <Market stand={rungs[1].market} />}
      <MarketForm treat={treat} />
      <ListForm treat={treat} />
    </section>
  )
})

/** The price of a dozen by how many are made, above what it costs and beside what others ask. */
function Rungs({ rungs }: { rungs: Rung[] }) {
  const market = rungs[1]?.market
  const currency = rungs[0]!.dozen.currency
  return (
    <Plot
      label={words.plotOfRungs}
      ticks={rungs.map((r) => String(r.count))}
      lines={[
        { name: words.priceOfADozen, colour: '#c8500a', values: rungs.map((r) => Number(r.dozen.amount)) },
        { name: words.costOfADozen, colour: '#452818', values: rungs.map((r) => Number(r.dozenCost.amount)) },
      ]}
      band={market && { name: words.othersAsk, low: Number(market.low.amount), high: Number(market.high.amount) }}
      show={(n) =>
        moneyOf.text({ amount: n.toFixed(n < 10 && rungs[0]!.dozen.amount.includes('.') ? 2 : 0), currency })
      }
      height={190}
    />
  )
}

/** Keeps an answer about a treat: it takes the treat's place, and all that may rest on it is asked for anew. */
function useKept<T>(treat: Treat, put: (body: T) => Promise<Treat>) {
  const queries = useQueryClient()
  return useMutation({
    mutationFn: put,
    onSuccess: (now) => {
      queries.setQueryData(['treat', treat.id], now)
      void askAnew(queries, ['treats'])
    },
  })
}

const faultOf = (error: unknown, ...fields: string[]) =>
  error instanceof Refused ? (fields.map((f) => error.at(f)).find(Boolean) ?? error.message) : undefined

/** An amount of money that is kept when one leaves the field. */
function Money(p: {
  label: string
  value: string
  example: string
  wrong: boolean
  set: (text: string) => void
  save: () => void
}) {
  return (
    <Input
      aria-label={p.label}
      inputMode="decimal"
      value={p.value}
      placeholder={p.example}
      status={p.wrong ? 'error' : ''}
      onChange={(e) => p.set(e.target.value)}
      onBlur={p.save}
    />
  )
}

const Fault = ({ says }: { says?: string }) =>
  says ? (
    <span className="fault" role="alert">
      {says}
    </span>
  ) : null

function MarketForm({ treat }: { treat: Treat }) {
  const [low, setLow] = useState(treat.market?.low ?? '')
  const [high, setHigh] = useState(treat.market?.high ?? '')
  const kept = useKept(treat, (body: Schemas['OrderMarket']) =>
    ask(api.PUT('/api/v1/treats/{id}/market', { params: { path: { id: treat.id } }, body })),
  )
  const fault = faultOf(kept.error, 'low', 'high')
  function save() {
    if (low === (treat.market?.low ?? '') && high === (treat.market?.high ?? '')) return
    if ((low === '') === (high === '')) kept.mutate({ low, high })
  }
  const both = { wrong: Boolean(fault), save }
  return (
    <div className="market-form">
      {words.localPricePerDozenLow}{' '}
      <Money label={words.lowestLocalPricePerDozen} value={low} example="25" set={setLow} {...both} /> {words.to}{' '}
      <Money label={words.highestLocalPricePerDozen} value={high} example="60" set={setHigh} {...both} />
      <Fault says={fault} />
    </div>
  )
}

/** The seller's own price list: an offer in the price of an order. */
function ListForm({ treat }: { treat: Treat }) {
  const [price, setPrice] = useState(treat.list?.price ?? '')
  const [count, setCount] = useState(treat.list?.count ?? 12)
  const kept = useKept(treat, (body: Schemas['OrderListPrice']) =>
    ask(api.PUT('/api/v1/treats/{id}/list-price', { params: { path: { id: treat.id } }, body })),
  )
  const fault = faultOf(kept.error, 'price', 'count')
  function save() {
    if (price === (treat.list?.price ?? '') && (price === '' || count === treat.list?.count)) return
    kept.mutate({ price, count })
  }
  return (
    <div className="market-form">
      {words.yourPriceList}{' '}
      <Money
        label={words.priceOnYourList}
        value={price}
        example="30"
        set={setPrice}
        wrong={Boolean(fault)}
        save={save}
      />{' '}
      {words.for}{' '}
      <InputNumber
        aria-label={words.piecesOfThatPrice}
        min={1}
        max={10_000}
        precision={0}
        value={count}
        status={fault ? 'error' : ''}
        onChange={(n) => setCount(n ?? 12)}
        onBlur={save}
      />{' '}
      {words.pieces}
      <Fault says={fault} />
    </div>
  )
}
