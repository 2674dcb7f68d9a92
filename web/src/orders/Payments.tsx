import { useQuery, useQueryClient } from '@tanstack/react-query'
import { Button, Input, Select } from 'antd'
import { useState } from 'react'
import { api, ask, Refused, type Schemas } from '../api/client'
import { askAnew } from '../api/topics'
import { useFound, useKeep } from '../device/drafts'
import { newKey } from '../device/register'
import { dayName, useKitchen } from '../shell/kitchen'
import { words } from './words'

type Fields = Schemas['TillPaymentFields']

const kinds: { value: Fields['kind']; label: string }[] = [
  { value: 'deposit', label: words.deposit },
  { value: 'balance', label: words.balance },
  { value: 'refund', label: words.refund },
]
const methods: { value: NonNullable<Fields['way']>; label: string }[] = [
  { value: '', label: words.notSaid },
  { value: 'cash', label: words.cash },
  { value: 'card', label: words.card },
  { value: 'transfer', label: words.transfer },
]

/** What was paid for an order, and what is owed. */
export function Payments({ order }: { order: Schemas['OrdersOrder'] }) {
  const kitchen = useKitchen()
  const queries = useQueryClient()
  const key = ['payments', order.id, order.revision]
  const paid = useQuery({
    queryKey: key,
    queryFn: () => ask(api.GET('/api/v1/orders/{id}/payments', { params: { path: { id: order.id } } })),
    placeholderData: undefined,
  })
  const place = `payment/${order.id}`
  const found = useFound<Partial<Fields>>(place)
  const [f, setF] = useState<Partial<Fields>>(found.value ?? {})
  const about = { title: words.paymentOf(order.draft.customer), to: `/orders/${order.id}` }
  useKeep(place, about, f, f.amount !== undefined, found)
  const [refused, setRefused] = useState<Refused>()
  const p = paid.data
  if (!p || (p.payments.length === 0 && (!p.gross || order.state === 'cancelled'))) return null
  const kind: Fields['kind'] = f.kind ?? p.next[0]!.kind
  const proposed = p.next.find((n) => n.kind === kind)?.amount ?? ''
  async function change(send: Promise<unknown>) {
    try {
      await send
      setF({})
      setRefused(undefined)
      await askAnew(queries, ['orders'])
    } catch (error) {
      if (!(error instanceof Refused)) throw error
      setRefused(error)
    }
  }
  const note = () =>
    change(
      ask(
        api.POST('/api/v1/orders/{id}/payments', {
          params: { path: { id: order.id }, header: { 'Idempotency-Key': newKey() } },
          body: { kind, amount: f.amount ?? proposed, day: f.day ?? kitchen.today(), way: f.way },
        }),
      ),
    )
  return (
    <section aria-label={words.payments}>
      <h2>{words.paid}</h2>
      {order.door && order.door.outcome !== 'handed over' && (
        <p className="soft">
          {words.atTheDoor(words.outcomes[order.door.outcome])}
          {order.door.worth && ` ${words.cameBack(order.door.back.join(', '), kitchen.money(order.door.worth))}`}
          {order.door.note && ` ${order.door.note}`}
        </p>
      )}
      {p.kept && (
        <p className="soft">
          {words.keptOf(kitchen.money(p.kept))} {p.keptWhy}
        </p>
      )}
      <p className="owed">
        {p.stands === 'paid' ? (
          <span className="fine">{words.paidInFull}</span>
        ) : p.stands === 'excess' ? (
          <span className="trouble">
            {kitchen.money(p.rest)} {words.toRefund}
          </span>
        ) : (
          <>
            {kitchen.money(p.rest)} {words.due}
            {p.gross && p.payments.length > 0 && (
              <small>
                {' '}
                {words.of} {kitchen.money(p.gross)}
              </small>
            )}
          </>
        )}
      </p>
      <ul className="payments">
        {p.payments.map((y) => (
          <li key={y.id}>
            <span>
              {y.kind}{' '}
              <small>
                {dayName(y.day)}
                {y.way && `, ${y.way}`}
                {y.note && `, ${y.note}`}
                {y.settles && words.theRestWhenTheOrder}
              </small>
            </span>
            <span>
              <b>
                {y.kind === 'refund' && '−'}
                {kitchen.money({ amount: y.amount, currency: p.paid.currency })}
              </b>{' '}
              <Button
                type="link"
                className="link quiet"
                aria-label={words.takeBackTheOf(y.kind, y.amount)}
                onClick={() =>
                  void change(ask(api.DELETE('/api/v1/payments/{id}', { params: { path: { id: y.id } } })))
                }
              >
                ×
              </Button>
            </span>
          </li>
        ))}
      </ul>
      {(p.stands === 'due' || p.stands === 'excess') && (
        <form
          className="pay-form"
          onSubmit={(e) => {
            e.preventDefault()
            void note()
          }}
        >
          <Select
            aria-label={words.kindOfPayment}
            value={kind}
            options={kinds}
            style={{ width: 104 }}
            onChange={(k) => setF({ ...f, kind: k, amount: undefined })}
          />
          <Input
            aria-label={words.amountPaid}
            inputMode="decimal"
            value={f.amount ?? proposed}
            style={{ width: 92 }}
            status={refused?.at('amount') ? 'error' : undefined}
            onChange={(e) => setF({ ...f, amount: e.target.value })}
          />
          <Select
            aria-label={words.paymentMethod}
            value={f.way ?? ''}
            options={methods}
            style={{ width: 104 }}
            onChange={(way) => setF({ ...f, way })}
          />
          <Button htmlType="submit">{words.recordPayment}</Button>
        </form>
      )}
      {refused && (
        <p className="fault" role="alert">
          {refused.at('amount') ?? refused.message}
        </p>
      )}
    </section>
  )
}
