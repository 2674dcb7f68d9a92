import { useQuery } from '@tanstack/react-query'
import { Select } from 'antd'
import dayjs from 'dayjs'
import { useState } from 'react'
import { api, ask, type Schemas } from '../api/client'
import { colours, Plot, type Series } from '../kit/Plot'
import { moneyOf, useKitchen } from '../shell/kitchen'
import { words } from './words'

type Sum = Schemas['TillSum']
type Part = keyof Sum['spent']

/** What a price pays for, from the foot of a bar to its head. */
const parts: [Part, string, string][] = [
  ['ingredients', words.ingredients, '#452818'],
  ['packaging', words.packaging, '#b98a2f'],
  ['hands', words.yourTime, '#c8500a'],
  ['overhead', words.overhead, '#8a5733'],
  ['drive', words.delivery, '#2c6e8f'],
  ['card', words.cardFees, '#8f7fb0'],
  ['other', words.otherCost, '#b39a7d'],
]
const kept = '#2f6b4f'

const number = (m: Schemas['PriceMoney']) => Number(m.amount)

/** Amounts of money along an axis, without parts of a unit. */
function useWhole() {
  const kitchen = useKitchen()
  const currency = kitchen.session.currency ?? 'USD'
  return (n: number) => moneyOf.text({ amount: String(Math.round(n)), currency })
}

export const monthName = (name: string, long = true) => dayjs(`${name}-01`).format(long ? 'MMMM YYYY' : 'MMM YYYY')

/** Sums of months, earliest first, with the months between that brought nothing; no more than the last twenty-four. */
function everyMonth(sums: Sum[]): { name: string; sum?: Sum }[] {
  const names = sums.map((s) => s.name).sort()
  const list = []
  for (
    let at = dayjs(`${names[0]}-01`);
    names.length > 0 && at.format('YYYY-MM') <= names.at(-1)!;
    at = at.add(1, 'month')
  ) {
    const name = at.format('YYYY-MM')
    list.push({ name, sum: sums.find((s) => s.name === name) })
  }
  return list.slice(-24)
}

/** Where the money went: a bar for each month or occasion. */
export function Went({ sums, by }: { sums: Sum[]; by: 'months' | 'occasions' }) {
  const whole = useWhole()
  const list = by === 'months' ? everyMonth(sums) : sums.slice(0, 12).map((sum) => ({ name: sum.name, sum }))
  const stack: Series[] = parts.map(([part, name, colour]) => ({
    name,
    colour,
    values: list.map((m) => (m.sum ? number(m.sum.spent[part]) : 0)),
  }))
  stack.push({ name: words.profit, colour: kept, values: list.map((m) => Math.max(m.sum ? number(m.sum.left) : 0, 0)) })
  return (
    <Plot
      label={words.plotOfWent}
      ticks={list.map((m) => (by === 'months' ? monthName(m.name, false) : m.name))}
      stack={stack}
      marks={[{ name: words.sales, colour: '#2b1a12', values: list.map((m) => (m.sum ? number(m.sum.asked) : null)) }]}
      show={whole}
    />
  )
}

/** The same in figures. */
export function WentTable({ sums, head, nameOf }: { sums: Sum[]; head: string; nameOf: (s: Sum) => string }) {
  const kitchen = useKitchen()
  const shown = parts.filter(([part]) => sums.some((s) => number(s.spent[part]) !== 0))
  return (
    <>
      <h2>{words.whereTheMoneyWent}</h2>
      <div className="ledger-frame" role="region" aria-label={words.whereTheMoneyWent} tabIndex={0}>
        <table className="ledger went">
          <thead>
            <tr>
              <th>{head}</th>
              {shown.map(([part, name]) => (
                <th key={part}>{name}</th>
              ))}
              <th>{words.profit}</th>
            </tr>
          </thead>
          <tbody>
            {sums.map((s) => (
              <tr key={s.name}>
                <th scope="row">{nameOf(s)}</th>
                {shown.map(([part]) => (
                  <td key={part}>{kitchen.money(s.spent[part])}</td>
                ))}
                <td className={number(s.left) < 0 ? 'trouble' : ''}>{kitchen.money(s.left)}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </>
  )
}

/** A treat over time: what its pieces cost and brought, month by month; or all treats beside each other. */
export function OverTime({ treats }: { treats: Sum[] }) {
  const [chosen, setChosen] = useState<string>()
  const known = treats.filter((t) => t.treat)
  const treat = known.find((t) => t.treat === chosen)
  return (
    <>
      <Select
        aria-label={words.treat}
        className="over-time-treat"
        showSearch={{ optionFilterProp: 'label' }}
        value={chosen ?? ''}
        onChange={(id) => setChosen(id || undefined)}
        options={[{ value: '', label: words.allTreats }, ...known.map((t) => ({ value: t.treat!, label: t.name }))]}
      />
      {treat ? <Months treat={treat} /> : <Beside treats={treats} />}
    </>
  )
}

function Beside({ treats }: { treats: Sum[] }) {
  const whole = useWhole()
  const list = treats.slice(0, 12)
  return (
    <Plot
      label={words.plotOfTreats}
      ticks={list.map((t) => t.name)}
      stack={[
        { name: words.cost, colour: '#452818', values: list.map((t) => number(t.cost)) },
        { name: words.profit, colour: kept, values: list.map((t) => Math.max(number(t.left), 0)) },
      ]}
      marks={[{ name: words.sales, colour: '#2b1a12', values: list.map((t) => number(t.asked)) }]}
      show={whole}
    />
  )
}

function Months({ treat }: { treat: Sum }) {
  const kitchen = useKitchen()
  const sales = useQuery({
    queryKey: ['till', 'treat', treat.treat],
    queryFn: () => ask(api.GET('/api/v1/treats/{id}/sales', { params: { path: { id: treat.treat! } } })),
  })
  const months = sales.data?.months ?? []
  if (!sales.data) return <p className="loading">{sales.isError ? sales.error.message : words.loading}</p>
  const list = everyMonth(months)
  const maybe = (m?: Schemas['PriceMoney']) => (m ? number(m) : null)
  const money = (n: number) =>
    moneyOf.text({ amount: n.toFixed(treat.asked.amount.includes('.') ? 2 : 0), currency: treat.asked.currency })
  return (
    <>
      <Plot
        label={`${treat.name}: ${words.plotOfTreat}`}
        ticks={list.map((m) => monthName(m.name, false))}
        lines={[
          { name: words.salesEach, colour: colours[1]!, values: list.map((m) => maybe(m.sum?.each)) },
          { name: words.costEach, colour: colours[0]!, values: list.map((m) => maybe(m.sum?.costEach)) },
        ]}
        show={money}
      />
      <div className="ledger-frame" role="region" aria-label={treat.name} tabIndex={0}>
        <table className="ledger">
          <thead>
            <tr>
              <th>{words.month}</th>
              <th>{words.pieces}</th>
              <th>{words.salesEach}</th>
              <th>{words.costEach}</th>
              <th>{words.payPerHour}</th>
            </tr>
          </thead>
          <tbody>
            {months.map((s) => (
              <tr key={s.name}>
                <th scope="row">{monthName(s.name)}</th>
                <td>{s.pieces}</td>
                <td>{s.each && kitchen.money(s.each)}</td>
                <td>{s.costEach && kitchen.money(s.costEach)}</td>
                <td>{s.perHour && kitchen.money(s.perHour)}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </>
  )
}
