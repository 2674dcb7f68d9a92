import { useMutation } from '@tanstack/react-query'
import { Button, Input, Segmented } from 'antd'
import { useRef, useState } from 'react'
import { api, ask, Refused, type Schemas } from '../api/client'
import { newKey } from '../device/register'
import { Field } from '../kit/Field'
import { Sheet } from '../kit/Sheet'
import { moneyOf, useKitchen } from '../shell/kitchen'
import { words } from './words'

/** Handing over an order of which something is still due: the payment is part of it. */
export function PaySheet(props: {
  order: string
  customer: string
  rest: Schemas['PriceMoney']
  close: () => void
  handOver: () => void
}) {
  const { order, customer, rest, close, handOver } = props
  const kitchen = useKitchen()
  const [amount, setAmount] = useState(rest.amount)
  const [way, setWay] = useState<'cash' | 'card' | 'transfer'>('cash')
  const key = useRef(newKey())
  const pay = useMutation({
    mutationFn: () =>
      ask(
        api.POST('/api/v1/orders/{id}/payments', {
          params: { path: { id: order }, header: { 'Idempotency-Key': key.current } },
          body: { kind: 'balance', amount, day: kitchen.today(), way },
        }),
      ),
    onSuccess: handOver,
    onError: () => {
      key.current = newKey()
    },
  })
  const refused = pay.error instanceof Refused ? pay.error : undefined
  const fault = refused && (refused.at('amount') ?? refused.message)
  return (
    <Sheet title={words.pay(customer)} close={close} okText={words.paid} onOk={() => pay.mutate()}>
      <p>{words.due(kitchen.money(rest))}</p>
      <Field label={words.amount} fault={fault}>
        <Input
          value={amount}
          inputMode="decimal"
          prefix={moneyOf.sign(rest.currency)}
          onChange={(e) => setAmount(e.target.value)}
        />
      </Field>
      <Field label={words.method}>
        <Segmented
          aria-label={words.method}
          value={way}
          options={words.methods}
          onChange={(w) => setWay(w as typeof way)}
        />
      </Field>
      <Button type="link" onClick={handOver}>
        {words.unpaid}
      </Button>
    </Sheet>
  )
}
