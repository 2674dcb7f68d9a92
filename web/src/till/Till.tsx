import { useQuery, useQueryClient } from '@tanstack/react-query'
import { App, Upload } from 'antd'
import dayjs from 'dayjs'
import { useState } from 'react'
import { api, ask, Refused } from '../api/client'
import { minutes, useKitchen } from '../shell/kitchen'

/** What was earned, by month; the orders out and in as CSV. */
export default function Till() {
  const kitchen = useKitchen()
  const queries = useQueryClient()
  const { message } = App.useApp()
  const till = useQuery({ queryKey: ['till'], queryFn: () => ask(api.GET('/api/v1/till', {})) })
  const [refused, setRefused] = useState<Refused>()
  async function bring(file: File) {
    try {
      setRefused(undefined)
      const { orders } = await ask(api.POST('/api/v1/orders.csv', { body: file as unknown as string, bodySerializer: (b: unknown) => b as BodyInit, headers: { 'Content-Type': 'text/csv' } }))
      await queries.invalidateQueries()
      void message.success(`${orders} ${orders === 1 ? 'enquiry' : 'enquiries'} brought in.`)
    } catch (error) {
      if (!(error instanceof Refused)) throw error
      setRefused(error)
    }
  }
  const months = till.data?.months ?? []
  return (
    <section className="wide till">
      <header className="work-head">
        <h1>The till</h1>
        <p className="soft">Orders that are handed over, by month, at the cost that was reckoned when they were promised.</p>
        <a className="button-link" href="/api/v1/orders.csv" download="zesty-tin-orders.csv">Orders as CSV</a>
        <Upload accept=".csv,text/csv" showUploadList={false} beforeUpload={(file) => { void bring(file); return false }}>
          <button type="button" className="button-link">Bring orders in</button>
        </Upload>
      </header>
      {refused && (
        <div className="conflict" role="alert">
          <p>Nothing was brought in. {refused.message}</p>
          <ul>{refused.problem.errors?.slice(0, 12).map((e) => <li key={`${e.location}${e.message}`}>{e.location?.replace('body.rows[', 'row ').replace('].', ', ')}: {e.message}</li>)}</ul>
        </div>
      )}
      {till.isSuccess && months.length === 0 && <p className="empty">When the first order is handed over, what it brought stands here.</p>}
      {months.length > 0 && (
        <div className="ledger-frame" role="region" aria-label="By month" tabIndex={0}>
        <table className="ledger">
          <thead><tr><th>Month</th><th>Orders</th><th>Asked</th><th>Cost</th><th>Left over</th><th>Hands</th><th>An hour paid</th></tr></thead>
          <tbody>
            {months.map((m) => (
              <tr key={m.month}>
                <th scope="row">{dayjs(`${m.month}-01`).format('MMMM YYYY')}</th>
                <td>{m.orders}</td>
                <td>{kitchen.money(m.asked)}</td>
                <td>{kitchen.money(m.cost)}</td>
                <td>{kitchen.money(m.left)}</td>
                <td>{minutes(m.minutes)}</td>
                <td><b>{m.perHour ? kitchen.money(m.perHour) : ''}</b></td>
              </tr>
            ))}
          </tbody>
        </table>
        </div>
      )}
    </section>
  )
}
