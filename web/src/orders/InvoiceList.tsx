import { useQuery, useQueryClient } from '@tanstack/react-query'
import { Button } from 'antd'
import { api, ask, type Schemas } from '../api/client'
import { useSay } from '../kit/say'
import { dayName, useKitchen } from '../shell/kitchen'
import { words } from './words'

/** The invoices of an order, what takes them back, and the next one. */
export function InvoiceList({ order }: { order: Schemas['OrdersOrder'] }) {
  const kitchen = useKitchen()
  const queries = useQueryClient()
  const say = useSay()
  const key = ['payments', 'invoices', order.id]
  const list = useQuery({
    queryKey: key,
    queryFn: () => ask(api.GET('/api/v1/orders/{id}/invoices', { params: { path: { id: order.id } } })),
  })
  async function change(send: Promise<Schemas['TillInvoices']>) {
    try {
      queries.setQueryData(key, await send)
    } catch (error) {
      say.refused(error)
    }
  }
  const path = { id: order.id }
  const invoices = list.data?.invoices ?? []
  const stands = invoices.some((i) => !i.credits && !i.credited)
  return (
    <>
      <ul className="payments" aria-label={words.invoices}>
        {invoices.map((i) => (
          <li key={i.number}>
            <span>
              <a href={`/api/v1/orders/${order.id}/invoices/${i.number}/invoice.pdf`} download>
                {i.credits ? words.creditNote(i.number, i.credits) : words.invoice(i.number)}
              </a>{' '}
              <small>{dayName(kitchen.local(i.at).format('YYYY-MM-DD'))}</small>
            </span>
            <span>
              <b>
                {i.credits && '−'}
                {kitchen.money(i.content.gross)}
              </b>{' '}
              {!i.credits && !i.credited && (
                <Button
                  type="link"
                  className="link quiet"
                  onClick={() =>
                    void change(
                      ask(
                        api.POST('/api/v1/orders/{id}/invoices/{number}/credit', {
                          params: { path: { ...path, number: i.number } },
                        }),
                      ),
                    )
                  }
                >
                  {words.takeBack}
                </Button>
              )}
            </span>
          </li>
        ))}
      </ul>
      {!stands && (
        <Button onClick={() => void change(ask(api.POST('/api/v1/orders/{id}/invoices', { params: { path } })))}>
          {words.writeInvoice}
        </Button>
      )}
    </>
  )
}
