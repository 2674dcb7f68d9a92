import { Input } from 'antd'
import { useState } from 'react'
import { api, ask, etag, type Schemas } from '../api/client'
import { AmountInput } from '../kit/AmountInput'
import { Sheet } from '../kit/Sheet'
import { useStore } from './store'

const fresh: Schemas['LarderSupplyFields'] = {
  name: '',
  stock: { amount: 0, unit: 'each' },
  paid: '0.00',
  paidFor: { amount: 100, unit: 'each' },
}

/** A kind of packaging. */
export function SupplyForm({ supply, close }: { supply?: Schemas['LarderSupply']; close: () => void }) {
  const [f, setF] = useState<Schemas['LarderSupplyFields']>(
    supply ? { name: supply.name, stock: supply.stock, paid: supply.paid, paidFor: supply.paidFor } : fresh,
  )
  const { store, fault, rest } = useStore()
  const save = () =>
    store(
      supply
        ? ask(
            api.PUT('/api/v1/supplies/{id}', {
              params: { path: { id: supply.id }, header: { 'If-Match': etag(supply.revision) } },
              body: f,
            }),
          )
        : ask(
            api.POST('/api/v1/supplies', { params: { header: { 'Idempotency-Key': crypto.randomUUID() } }, body: f }),
          ),
      f.name,
      close,
    )
  return (
    <Sheet title={supply ? supply.name : 'Packaging'} close={close} onOk={() => void save()}>
      <label className="field">
        <span>Name</span>
        <Input value={f.name} onChange={(e) => setF({ ...f, name: e.target.value })} />
        {fault('name')}
      </label>
      <div className="field">
        <span>On the shelf</span>
        <AmountInput label="On the shelf" value={f.stock} onChange={(stock) => setF({ ...f, stock })} />
        {fault('stock')}
      </div>
      {supply && (
        <label className="field">
          <span>Reason</span>
          <Input value={f.reason} placeholder="counted" onChange={(e) => setF({ ...f, reason: e.target.value })} />
        </label>
      )}
      <div className="field">
        <span>Last paid</span>
        <span className="paid">
          <Input
            aria-label="Last paid"
            value={f.paid}
            inputMode="decimal"
            onChange={(e) => setF({ ...f, paid: e.target.value })}
            style={{ width: 90 }}
          />{' '}
          for <AmountInput label="For how much" value={f.paidFor} onChange={(paidFor) => setF({ ...f, paidFor })} />
        </span>
        {fault('paid')}
        {fault('paidFor')}
      </div>
      {rest}
    </Sheet>
  )
}
