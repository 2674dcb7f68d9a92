import { Input } from 'antd'
import { useState } from 'react'
import { api, ask, etag, type Schemas } from '../api/client'
import { newKey } from '../device/register'
import { AmountInput } from '../kit/AmountInput'
import { useKeptFields } from '../device/useKeptFields'
import { Sheet } from '../kit/Sheet'
import { PaidField } from './PaidField'
import { useStore } from './store'
import { words } from './words'

type Fields = Schemas['LarderSupplyFields']

const fresh: Fields = {
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
  const [begun] = useState<Fields>(
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
  const place = `supply/${supply?.id ?? 'new'}`
  const { f, set, revision, over, restored } = useKeptFields(place, 'New packaging', '/larder', begun, supply?.revision)
  const { store, fault, rest } = useStore()
  const save = () =>
    store(
      supply
        ? ask(
            api.PUT('/api/v1/supplies/{id}', {
              params: { path: { id: supply.id }, header: { 'If-Match': etag(revision!) } },
              body: f,
            }),
          )
        : ask(api.POST('/api/v1/supplies', { params: { header: { 'Idempotency-Key': newKey() } }, body: f })),
      f.name,
      (made) => {
        over()
        close(supply ? undefined : (made as Schemas['LarderSupply']))
      },
    )
  return (
    <Sheet title={supply ? supply.name : 'Packaging'} close={() => close()} cancel={over} onOk={() => void save()}>
      {restored}
      <label className="field">
        <span>{words.name}</span>
        <Input value={f.name} onChange={(e) => set({ name: e.target.value })} />
        {fault('name')}
      </label>
      <div className="field">
        <span>{words.inStock}</span>
        <AmountInput label={words.inStock} value={f.stock} onChange={(stock) => set({ stock })} />
        {fault('stock')}
      </div>
      {supply && (
        <label className="field">
          <span>{words.reason}</span>
          <Input value={f.reason} placeholder={words.counted2} onChange={(e) => set({ reason: e.target.value })} />
        </label>
      )}
      <PaidField f={f} set={set} fault={fault} />
      {rest}
    </Sheet>
  )
}
