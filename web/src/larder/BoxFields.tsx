import { Button, InputNumber, Select } from 'antd'
import type { Schemas } from '../api/client'
import { AmountInput } from '../kit/AmountInput'
import { Field } from '../kit/Field'
import { useSupplies } from './useSupplies'
import { words } from './words'
import './boxes.css'

type Fields = Schemas['LarderSupplyFields']

const sides = ['length', 'width', 'height'] as const
const lids = ['', 'raised', 'none'] as const

interface Editing {
  f: Fields
  set: (x: Partial<Fields>) => void
  fault: (path: string) => string | undefined
}

/** The inside of a box: its sides, how it is closed, and what it holds. */
export function InsideFields({ inside, set, fault }: { inside: NonNullable<Fields['inside']> } & Omit<Editing, 'f'>) {
  const change = (x: Partial<typeof inside>) => set({ inside: { ...inside, ...x } })
  return (
    <>
      <Field label={words.inside} fault={sides.map((key) => fault(`inside.${key}`)).find(Boolean)} group>
        {sides.map((key) => (
          <AmountInput
            key={key}
            label={words.insideOf[key]}
            value={inside[key]}
            onChange={(q) => change({ [key]: q })}
          />
        ))}
      </Field>
      <Field label={words.lid} fault={fault('inside.lid') ?? fault('inside.rise')} group>
        <span className="lid-field">
          <Select
            aria-label={words.lid}
            value={inside.lid ?? ''}
            onChange={(lid) =>
              change({
                lid: lid || undefined,
                rise:
                  lid === 'raised'
                    ? { amount: inside.height.unit === 'in' ? 1 : 2, unit: inside.height.unit === 'in' ? 'in' : 'cm' }
                    : undefined,
                layers: lid === 'none' ? undefined : inside.layers,
              })
            }
            options={lids.map((value) => ({ value, label: words.lids[value || 'flat'] }))}
          />
          {inside.lid === 'raised' && (
            <AmountInput
              label={words.lidLeaves}
              value={inside.rise ?? { amount: 0, unit: 'cm' }}
              onChange={(rise) => change({ rise })}
            />
          )}
        </span>
      </Field>
      <Field label={words.layersAllowed} fault={fault('inside.layers')}>
        <InputNumber
          aria-label={words.layersAllowed}
          value={inside.layers ?? 1}
          min={1}
          max={12}
          precision={0}
          disabled={inside.lid === 'none'}
          onChange={(n) => change({ layers: n ?? undefined })}
        />
      </Field>
      <Field label={words.holdsAtMost} fault={fault('inside.holds')} group>
        <AmountInput
          label={words.holdsAtMost}
          value={inside.holds ?? { amount: 0, unit: 'g' }}
          onChange={(q) => change({ holds: q.amount > 0 ? q : undefined })}
        />
      </Field>
    </>
  )
}

/** How much of a kind of packaging goes with one, to begin with. */
const one = (s: Schemas['LarderSupply']): Schemas['BoxFitting'] => ({
  supply: s.id,
  amount:
    s.stock.unit === 'each' ? { amount: 1, unit: 'each' } : { amount: 20, unit: s.stock.unit === 'mm' ? 'cm' : 'g' },
})

/** What goes with each: a lid that is sold apart, shred, ribbon, a card, a tag. */
export function Fittings({ f, set, fault, own }: Editing & { own?: string }) {
  const supplies = useSupplies()
  const list = f.fittings ?? []
  const others = (supplies.data?.supplies ?? []).filter((s) => s.id !== own && !s.inside && !s.fittings?.length)
  const next = others.find((s) => !list.some((x) => x.supply === s.id))
  const change = (n: number, x?: Partial<Schemas['BoxFitting']>) => {
    const left = x ? list.map((y, i) => (i === n ? { ...y, ...x } : y)) : list.filter((_, i) => i !== n)
    set({ fittings: left.length > 0 ? left : undefined })
  }
  return (
    <Field label={words.goesWithEach} fault={fault('fittings')} group>
      {list.map((x, n) => (
        <div key={n} className="fitting">
          <AmountInput
            label={words.amountOfFitting(n + 1)}
            value={x.amount}
            fault={fault(`fittings[${n}].amount`)}
            onChange={(amount) => change(n, { amount })}
          />
          <Select
            aria-label={words.fitting(n + 1)}
            value={x.supply}
            onChange={(id) => change(n, one(others.find((s) => s.id === id)!))}
            options={others.map((s) => ({ value: s.id, label: s.name }))}
          />
          <Button type="text" aria-label={words.leaveFittingOut(n + 1)} onClick={() => change(n)}>
            ×
          </Button>
          {fault(`fittings[${n}].supply`) && (
            <small className="fault" role="alert">
              {fault(`fittings[${n}].supply`)}
            </small>
          )}
        </div>
      ))}
      {next ? (
        <Button type="link" className="link" onClick={() => set({ fittings: [...list, one(next)] })}>
          {words.addFitting}
        </Button>
      ) : (
        list.length === 0 && <small>{words.fittingsFirst}</small>
      )}
    </Field>
  )
}
