import { useQuery, useQueryClient } from '@tanstack/react-query'
import { App, Button, Segmented } from 'antd'
import { useState } from 'react'
import { type State, stateName } from '../orders/draft'
import { api, ask, Refused, type Schemas } from '../api/client'
import { askAnew } from '../api/topics'
import { Download } from '../kit/Download'
import { Face } from '../kit/Face'
import { Guess } from '../kit/Guess'
import { Glyph } from '../kit/glyphs'
import { OpenFile } from '../kit/OpenFile'
import { Link } from '../shell/Go'
import { dayName, minutes, useKitchen } from '../shell/kitchen'
import '../larder/larder.css'
import '../orders/price.css'
import './till.css'
import { monthName, OverTime, Went, WentTable } from './Went'
import { words as said } from './words'

type Sum = Schemas['TillSum']
type By = 'months' | 'treats' | 'occasions'

const tabs: Record<By, { tab: string; head: string }> = {
  months: { tab: said.byMonth, head: said.month },
  treats: { tab: said.byTreat, head: said.treat },
  occasions: { tab: said.byOccasion, head: said.occasion },
}

/**
 * What was earned, by month, treat and occasion; what is owed by whom; the book for the tax adviser; orders out and in
 * as CSV.
 */
export default function Till() {
  const kitchen = useKitchen()
  const queries = useQueryClient()
  const { message } = App.useApp()
  const till = useQuery({ queryKey: ['till'], queryFn: () => ask(api.GET('/api/v1/till', {})) })
  const [by, setBy] = useState<By>('months')
  const [refused, setRefused] = useState<Refused>()
  async function bring(file: File) {
    try {
      setRefused(undefined)
      const { orders } = await ask(
        api.POST('/api/v1/orders.csv', {
          body: file as unknown as string,
          bodySerializer: (b: unknown) => b as BodyInit,
          headers: { 'Content-Type': 'text/csv' },
        }),
      )
      await askAnew(queries, ['orders'])
      void message.success(said.imported(orders, orders === 1 ? 'request' : 'requests'))
    } catch (error) {
      if (!(error instanceof Refused)) throw error
      setRefused(error)
    }
  }
  const sums = till.data?.[by] ?? []
  const owed = till.data?.owed ?? []
  if (!till.data) return <Face title={said.theTill} of={[till]} />
  return (
    <>
      <section className="work till">
        <header className="work-head">
          <h1>{said.theTill}</h1>
          <p className="soft">{said.handedOverOrdersAtTheir}</p>
          <Segmented<By>
            aria-label={said.summed}
            value={by}
            onChange={setBy}
            options={(Object.keys(tabs) as By[]).map((b) => ({ value: b, label: tabs[b].tab }))}
          />
        </header>
        {refused && (
          <div className="conflict" role="alert">
            <p>
              {said.nothingWasImported} {refused.message}
            </p>
            <ul>
              {refused.problem.errors?.slice(0, 12).map((e) => (
                <li key={`${e.location}${e.message}`}>
                  {e.location?.replace('body.rows[', 'row ').replace('].', ', ')}: {e.message}
                </li>
              ))}
            </ul>
          </div>
        )}
        {till.isSuccess && sums.length === 0 && <p className="empty">{said.nothingHereYetSalesAppear}</p>}
        {sums.length > 0 && (by === 'treats' ? <OverTime treats={sums} /> : <Went key={by} sums={sums} by={by} />)}
        {sums.length > 0 && (
          <div className="ledger-frame" role="region" aria-label={tabs[by].tab} tabIndex={0}>
            <table className="ledger">
              <thead>
                <tr>
                  <th>{tabs[by].head}</th>
                  <th>{said.orders}</th>
                  <th>{said.sales}</th>
                  <th>{said.cost}</th>
                  <th>{said.profit}</th>
                  <th>{said.handsOnTime}</th>
                  <th>{said.payPerHour}</th>
                  <th>{said.loss}</th>
                </tr>
              </thead>
              <tbody>
                {sums.map((s) => (
                  <Row key={s.name} s={s} by={by} />
                ))}
              </tbody>
            </table>
          </div>
        )}
        {by !== 'treats' && sums.some((s) => s.real.materials) && (
          <p className="soft">
            {said.ingredientsActuallyUsed}{' '}
            {sums
              .filter((s) => s.real.materials)
              .map((s) => `${nameOf(s, by)} ${kitchen.money(s.real.materials!)}`)
              .join(', ')}
            {said.atCost}
          </p>
        )}
        {till.data.kept.length > 0 && (
          <p className="soft">
            {said.keptOfCancelled}{' '}
            {till.data.kept.map((k) => said.keptIn(monthName(k.month), kitchen.money(k.amount), k.orders)).join(', ')}
            {said.keptIsNoSale}
          </p>
        )}
        {by !== 'treats' && sums.length > 0 && (
          <WentTable sums={sums} head={tabs[by].head} nameOf={(s) => nameOf(s, by)} />
        )}
      </section>
      <aside className="takes" aria-label={said.due}>
        {till.data.year && <Year y={till.data.year} />}
        <p className="kicker">{said.due}</p>
        {owed.length === 0 && <p className="soft">{said.nothingDueAndNothingTo}</p>}
        <ul className="payments">
          {owed.map((o) => (
            <li key={o.order}>
              <span>
                <Link to={`/orders/${o.order}`}>{o.customer}</Link>
                <small>
                  {' '}
                  {stateName[o.state as State]}, {dayName(kitchen.local(o.from).format('YYYY-MM-DD'))}
                  {o.late && <b className="trouble">{said.stillDue}</b>}
                </small>
              </span>
              <b className={o.stands === 'excess' ? 'trouble' : ''}>
                {kitchen.money(o.rest)}
                {o.stands === 'excess' && said.back}
              </b>
            </li>
          ))}
        </ul>
        <section className="attend">
          <h3>{said.forYourTaxAdviser}</h3>
          <p>
            <Download href="/api/v1/till.csv" download="zesty-tin-till.csv">
              {said.handedOverOrdersAsCsv}
            </Download>
          </p>
          <p>
            <Download href="/api/v1/till.xlsx" download="zesty-tin-till.xlsx">
              {said.theSameAsASpreadsheet}
            </Download>
            {said.withTheSums}
          </p>
        </section>
        <section className="attend">
          <h3>{said.exportAndImport}</h3>
          <p className="head-actions">
            <Download className="button-link" href="/api/v1/orders.csv" download="zesty-tin-orders.csv">
              {said.exportOrdersCsv}
            </Download>
            {kitchen.owns && (
              <OpenFile label={said.importOrders} accept=".csv,text/csv" open={bring}>
                <Button>{said.importOrders}</Button>
              </OpenFile>
            )}
          </p>
        </section>
      </aside>
    </>
  )
}

const nameOf = (s: Sum, by: By) => (by === 'months' ? monthName(s.name) : s.name)
const share = (x: number) => `${(x * 100).toFixed(x < 0.1 ? 1 : 0)}%`

/** What was asked, laid out: cost, and what was left of it. */
function Coins({ s }: { s: Sum }) {
  const asked = Math.max(Number(s.asked.amount), Number(s.cost.amount)) || 1
  const left = Number(s.left.amount)
  return (
    <span className="coins" aria-hidden="true">
      <i className="coin-cost" style={{ width: `${((Number(s.cost.amount) + Math.min(left, 0)) / asked) * 100}%` }} />
      <i className={left < 0 ? 'coin-lost' : 'coin-left'} style={{ width: `${(Math.abs(left) / asked) * 100}%` }} />
    </span>
  )
}

function Row({ s, by }: { s: Sum; by: By }) {
  const kitchen = useKitchen()
  return (
    <tr>
      <th scope="row">
        {by === 'treats' && s.family && <Glyph family={s.family as Schemas['BatchCard']['family']} size={18} />}{' '}
        {nameOf(s, by)}
        <Coins s={s} />
      </th>
      <td>
        {s.orders}
        {by === 'treats' && (
          <small>
            {s.pieces} {said.made}
          </small>
        )}
      </td>
      <td>{kitchen.money(s.asked)}</td>
      <td>
        {kitchen.money(s.cost)}
        {s.estimated && <Guess />}
      </td>
      <td className={Number(s.left.amount) < 0 ? 'trouble' : ''}>{kitchen.money(s.left)}</td>
      <td>
        {minutes(s.minutes)}
        {s.real.expected !== undefined && s.real.minutes !== undefined && s.real.minutes > 0 && (
          <small>
            {said.really} {minutes(s.real.minutes)} {said.of} {minutes(s.real.expected)}
          </small>
        )}
      </td>
      <td>
        <b>{s.perHour ? kitchen.money(s.perHour) : ''}</b>
      </td>
      <td>
        {s.loss !== undefined && share(s.loss)}
        {s.real.loss !== undefined && (
          <small>
            {said.really} {share(s.real.loss)}
          </small>
        )}
      </td>
    </tr>
  )
}

/** The year's sales against a limit. */
function Year({ y }: { y: Schemas['TillYear'] }) {
  const kitchen = useKitchen()
  const bad = said.yearStands[y.stands]
  return (
    <section className="year" aria-label={said.year(y.year)}>
      <p className="kicker">{said.year(y.year)}</p>
      <meter low={0.8} high={1} optimum={0} value={Math.min(y.share, 1)} aria-label={said.year(y.year)} />
      <p>
        {said.yearSays(kitchen.money(y.sold), kitchen.money(y.ahead), kitchen.money(y.limit))}{' '}
        <b className={bad ? 'trouble' : 'fine'}>{bad ?? said.yearLeft(kitchen.money(y.left))}</b>
      </p>
      <small className="soft">{said.yearCounts}</small>
    </section>
  )
}
