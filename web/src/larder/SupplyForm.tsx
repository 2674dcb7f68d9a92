import { Input, Select } from 'antd'
import { api, ask, etag, type Schemas } from '../api/client'
import { Field } from '../kit/Field'
import { AmountInput } from '../kit/AmountInput'
import { useSheetForm } from '../device/useSheetForm'
import { Sheet } from '../kit/Sheet'
import { Fittings, InsideFields } from './BoxFields'
import { PaidField } from './PaidField'
import { words } from './words'

type Supply = Schemas['LarderSupply']
type Fields = Schemas['LarderSupplyFields']

const inches = (amount: number): Schemas['MeasureQuantity'] => ({ amount, unit: 'in' })

export const fresh: Fields = {
  name: '',
  stock: { amount: 0, unit: 'each' },
  paid: '0.00',
  paidFor: { amount: 100, unit: 'each' },
}

const fieldsOf = ({ name, stock, paid, paidFor, estimated, inside, base, fittings }: Supply): Fields => ({
  name,
  stock,
  paid,
  paidFor,
  estimated,
  inside,
  base,
  fittings,
})

/** A kind of packaging. */
export function SupplyForm({
  supply,
  name,
  close,
}: {
  supply?: Supply
  /** Of a new one. */
  name?: string
  close: (made?: Supply) => void
}) {
  const { f, set, save, over, fault, notice, rest } = useSheetForm<Fields, Supply>({
    place: `supply/${supply?.id ?? 'new'}`,
    title: words.newPackaging,
    to: '/larder',
    begun: supply ? fieldsOf(supply) : { ...fresh, name: name ?? '' },
    revision: supply?.revision,
    fieldsOf,
    create: (body, key) => ask(api.POST('/api/v1/supplies', { params: { header: { 'Idempotency-Key': key } }, body })),
    put: (body, revision) =>
      ask(
        api.PUT('/api/v1/supplies/{id}', {
          params: { path: { id: supply!.id }, header: { 'If-Match': etag(revision) } },
          body,
        }),
      ),
    done: (made) => close(supply ? undefined : made),
  })
  return (
    <Sheet title={supply ? supply.name : words.packaging} close={() => close()} cancel={over} onOk={save}>
      {notice}
      <Field label={words.name} fault={fault('name')}>
        <Input value={f.name} onChange={(e) => set({ name: e.target.value })} />
      </Field>
      <Field label={words.inStock} fault={fault('stock')} group>
        <AmountInput label={words.inStock} value={f.stock} onChange={(stock) => set({ stock })} />
      </Field>
      {supply && (
        <Field label={words.reason}>
          <Input value={f.reason} placeholder={words.counted2} onChange={(e) => set({ reason: e.target.value })} />
        </Field>
      )}
      <PaidField f={f} set={set} fault={fault} />
      <Field label={words.goesIntoBoxesAs}>
        <Select
          aria-label={words.goesIntoBoxesAs}
          value={f.inside ? 'box' : f.base ? 'liner' : ''}
          onChange={(kind) =>
            set({
              inside: kind === 'box' ? { length: inches(10), width: inches(7), height: inches(2) } : undefined,
              base: kind === 'liner' ? { length: inches(1.25), width: inches(1.25) } : undefined,
            })
          }
          options={[
            { value: '', label: words.neitherBoxNorLiner },
            { value: 'box', label: words.itIsABox },
            { value: 'liner', label: words.itIsALiner },
          ]}
        />
      </Field>
      {f.inside && <InsideFields inside={f.inside} set={set} fault={fault} />}
      {f.base && (
        <Field label={words.takesUp} fault={fault('base.length') ?? fault('base.width')} group>
          {(['length', 'width'] as const).map((key) => (
            <AmountInput
              key={key}
              label={words.baseOf[key]}
              value={f.base![key]}
              onChange={(q) => set({ base: { ...f.base!, [key]: q } })}
            />
          ))}
        </Field>
      )}
      {f.stock.unit === 'each' && <Fittings f={f} set={set} fault={fault} own={supply?.id} />}
      {rest}
    </Sheet>
  )
}
