import { Input } from 'antd'
import { useState } from 'react'
import { api, ask, etag, type Schemas } from '../api/client'
import { AmountInput } from '../kit/AmountInput'
import { Sheet } from '../kit/Sheet'
import { PaidField } from './PaidField'
import { useStore } from './store'

const fresh: Schemas['LarderSupplyFields'] = {
  name: '',
  stock: { amount: 0, unit: 'each' },
  paid: '0.00',
  paidFor: { amount: 100, unit: 'each' },
}

/** A kind of packaging. */
export function SupplyForm({
  supply,
  close,
}: {
  supply?: Schemas['LarderSupply']
  close: (made?: Schemas['LarderSupply']) => void
}) {
  const [f, setF] = useState<Schemas['LarderSupplyFields']>(
    supply
      ? {
          name: supply.name,
          stock: supply.stock,
          paid: supply.paid,
          paidFor: supply.paidFor,
          estimated: supply.estimated,
        }
      : fresh,
  )
  // What came late never puts back what was typed in another field since.
  const set = (change: Partial<typeof f>) => setF((was) => ({ ...was, ...change }))
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
      (made) => close(supply ? undefined : (made as Schemas['LarderSupply'])),
    )
  return (
    <Sheet title={supply ? supply.name : 'Packaging'} close={() => close()} onOk={() => void save()}>
      <label className="field">
        <span>Name</span>
        <Input value={f.name} onChange={(e) => set({ name: e.target.value })} />
        {fault('name')}
      </label>
      <div className="field">
        <span>In stock</span>
        <AmountInput label="In stock" value={f.stock} onChange={(stock) => set({ stock })} />
        {fault('stock')}
      </div>
      {supply && (
        <label className="field">
          <span>Reason</span>
          <Input value={f.reason} placeholder="counted" onChange={(e) => set({ reason: e.target.value })} />
        </label>
      )}
      <PaidField f={f} set={set} fault={fault} />
      {rest}
    </Sheet>
  )
}
