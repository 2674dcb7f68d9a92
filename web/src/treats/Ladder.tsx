import { useQuery, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { api, ask, Refused, type Schemas } from '../api/client'
import { Line, Market, Part } from '../orders/Estimate'
import '../orders/price.css'
import { minutes, useKitchen } from '../shell/kitchen'
import { words } from './words'

/** What 6, 12, 24, 48 and 96 of a treat cost and bring, since set-up is shared; and what others ask for a dozen. */
export function Ladder({ treat }: { treat: Schemas['TreatsTreat'] }) {
  const kitchen = useKitchen()
  const ladder = useQuery({
    queryKey: ['ladder', treat.id, treat.version, treat.market],
    queryFn: () => ask(api.GET('/api/v1/treats/{id}/ladder', { params: { path: { id: treat.id } } })),
    enabled: treat.version > 0,
  })
  const rungs = ladder.data?.rungs ?? []
  if (rungs.length === 0) return null
  const most = Math.max(...rungs.map((r) => Number(r.dozen.amount)), 1e-9)
  return (
    <Part name="Sell">
      <ol className="ladder" aria-label={words.priceOfADozenBy}>
        {rungs.map((r) => (
          <li key={r.count}>
            <b>{r.count}</b>
            <span className="rung" style={{ width: `${(Number(r.dozen.amount) / most) * 100}%` }}>
              <i
                style={{
                  width: `${Math.min(Number(r.dozenCost.amount) / Math.max(Number(r.dozen.amount), 1e-9), 1) * 100}%`,
                }}
              />
            </span>
            <span>
              {kitchen.money(r.dozen)}
              <small>
                {kitchen.money(r.each)} {words.costEach} {r.perHour && `${kitchen.money(r.perHour)} an hour, `}
                {minutes(r.hands)}
              </small>
            </span>
          </li>
        ))}
      </ol>
      <small className="soft">{words.pricePerDozenAtYour}</small>
      {rungs[1]?.market && (
        <Line>
          <Market stand={rungs[1].market} />
        </Line>
      )}
      <MarketForm treat={treat} />
    </Part>
  )
}

function MarketForm({ treat }: { treat: Schemas['TreatsTreat'] }) {
  const queries = useQueryClient()
  const [low, setLow] = useState(treat.market?.low ?? '')
  const [high, setHigh] = useState(treat.market?.high ?? '')
  const [refused, setRefused] = useState<Refused>()
  async function save() {
    if (low === (treat.market?.low ?? '') && high === (treat.market?.high ?? '')) return
    if ((low === '') !== (high === '')) return
    try {
      setRefused(undefined)
      const now = await ask(
        api.PUT('/api/v1/treats/{id}/market', { params: { path: { id: treat.id } }, body: { low, high } }),
      )
      queries.setQueryData(['treat', treat.id], now)
      await queries.invalidateQueries({ predicate: (q) => q.queryKey[0] !== 'treat' })
    } catch (error) {
      if (!(error instanceof Refused)) throw error
      setRefused(error)
    }
  }
  return (
    <p className="market-form">
      {words.localPricePerDozenLow}{' '}
      <input
        className="blank"
        aria-label={words.lowestLocalPricePerDozen}
        inputMode="decimal"
        size={5}
        value={low}
        placeholder="25"
        onChange={(e) => setLow(e.target.value)}
        onBlur={() => void save()}
      />{' '}
      {words.to}{' '}
      <input
        className="blank"
        aria-label={words.highestLocalPricePerDozen}
        inputMode="decimal"
        size={5}
        value={high}
        placeholder="60"
        onChange={(e) => setHigh(e.target.value)}
        onBlur={() => void save()}
      />{' '}
      {words.forADozen}
      {refused && (
        <span className="fault" role="alert">
          {refused.at('low') ?? refused.at('high') ?? refused.message}
        </span>
      )}
    </p>
  )
}
