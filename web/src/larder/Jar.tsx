import dayjs from 'dayjs'
import { useId } from 'react'
import type { Schemas } from '../api/client'
import { lookOf } from '../kit/chocolate'
import { words } from './words'

export type Item = Schemas['LarderItem']

/** What a jar is filled with: a chocolate in its own colour, the rest by its kind. */
const fills: Partial<Record<Item['kind'] & string, string>> = {
  fruit: '#c2485a',
  nut: '#b5833f',
  dairy: '#f0e3c8',
  sugar: '#efe9df',
  fat: '#ecd483',
  baked: '#c99a5b',
  alcohol: '#9fb2a0',
  flavour: '#8a9c5a',
  colour: '#8f7fb0',
  topping: '#d9b3a0',
  other: '#c8b69b',
}

const fillOf = (i: Item) =>
  i.chocolate
    ? lookOf(i.chocolate)
    : { fill: i.packaging ? '#cdbb9c' : (fills[i.kind ?? 'other'] ?? '#c8b69b'), word: 'other' }

/**
 * A jar, drawn from how it stands with what is in it. Its height is the stock or what is reserved, whichever is more:
 * what is reserved is hatched, what is free is plain above it, and what is missing is an empty outline up to where it
 * should reach.
 */
export function Jar({ item, size = 62 }: { item: Item; size?: number }) {
  const id = useId()
  const look = fillOf(item)
  const stock = item.stock.amount
  const reserved = item.reserved.amount
  const full = Math.max(stock, reserved, item.paidFor.amount * 0.6) || 1
  const inside = 44 // of the glass, in drawing units
  const level = (stock / full) * inside
  const held = Math.min(reserved / full, 1) * inside
  const box = item.packaging
  const shape = box ? 'M9 16h44v52H9z' : 'M15 16h32c0 4 7 5 7 12v33c0 5-3 7-7 7H15c-4 0-7-2-7-7V28c0-7 7-8 7-12z'
  return (
    <svg className="jar-drawing" width={size} height={size * 1.16} viewBox="0 0 62 72" aria-hidden="true">
      <defs>
        <clipPath id={id}>
          <path d={shape} />
        </clipPath>
        <pattern id={`${id}h`} width="5" height="5" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
          <rect width="5" height="5" fill="#ffffff" opacity=".12" />
          <path d="M0 0v5" stroke="#fff" strokeWidth="2.4" opacity=".55" />
        </pattern>
      </defs>
      <path d={shape} fill="#fffdf8" />
      <g clipPath={`url(#${id})`}>
        <rect x="0" y={68 - level} width="62" height={level} fill={look.fill} />
        {look.word === 'milk' && <rect x="0" y={68 - level} width="62" height={level} fill="url(#zt-dots)" />}
        <rect x="0" y={68 - Math.min(held, level)} width="62" height={Math.min(held, level)} fill={`url(#${id}h)`} />
        {held > level + 0.5 && <path d={`M8 ${68 - held}h46`} stroke="#a3213f" strokeWidth="2" strokeDasharray="4 3" />}
      </g>
      <path d={shape} fill="none" stroke="#b39a7d" strokeWidth="2" />
      {box ? (
        <path d="M9 24h44M31 16v8" stroke="#b39a7d" strokeWidth="2" />
      ) : (
        <rect x="12" y="6" width="38" height="10" rx="3" fill="#d9c6a8" stroke="#b39a7d" strokeWidth="2" />
      )}
    </svg>
  )
}

/** A price over time: a step for each purchase. */
export function PriceCurve({
  prices,
  money,
}: {
  prices: Schemas['LarderPaid'][]
  money: (m: Schemas['PriceMoney']) => string
}) {
  if (prices.length < 2) return null
  const values = prices.map((p) => Number(p.price.amount))
  const low = Math.min(...values)
  const high = Math.max(...values)
  const first = Date.parse(prices[0]!.day)
  const span = Date.parse(prices.at(-1)!.day) - first || 1
  const x = (p: Schemas['LarderPaid'], i: number) =>
    6 + (span > 1 ? ((Date.parse(p.day) - first) / span) * 250 : i * 50)
  const y = (v: number) => 46 - (high > low ? ((v - low) / (high - low)) * 34 : 17)
  const path = prices
    .map(
      (p, i) =>
        `${i === 0 ? 'M' : 'H'}${x(p, i).toFixed(1)}${i === 0 ? ` ${y(values[i]!).toFixed(1)}` : `V${y(values[i]!).toFixed(1)}`}`,
    )
    .join('')
  return (
    <svg
      className="price-curve"
      viewBox="0 0 330 62"
      role="img"
      aria-label={words.whatWasPaid(prices.map((p) => `${p.day} ${money(p.price)}`).join(', '))}
    >
      <path d={`${path}H270`} fill="none" stroke="#c8500a" strokeWidth="2.2" />
      {prices.map((p, i) => (
        <circle key={i} cx={x(p, i)} cy={y(values[i]!)} r="3.4" fill="#c8500a">
          <title>{`${p.day}: ${money(p.price)}${p.shop ? `, ${p.shop}` : ''}`}</title>
        </circle>
      ))}
      <text x="276" y={y(high) + 4}>
        {money(prices[values.indexOf(high)]!.price)}
      </text>
      {high > low && (
        <text x="276" y={y(low) + 4}>
          {money(prices[values.indexOf(low)]!.price)}
        </text>
      )}
      <text x="6" y="60">
        {dayjs(prices[0]!.day).format('D MMM')}
      </text>
      <text x="226" y="60">
        {dayjs(prices.at(-1)!.day).format('D MMM')}
      </text>
    </svg>
  )
}
