import { Button, InputNumber, Select } from 'antd'
import { memo, useState } from 'react'
import type { Schemas } from '../api/client'
import { AmountInput } from '../kit/AmountInput'
import { Hint } from '../kit/Hint'
import { QuickSupply } from '../larder/QuickSupply'
import { useSupplies } from '../larder/useSupplies'
import { changed, type Editing, Group, Row, useFault, without } from './fields'
import { SupplyPick } from './SupplyPick'
import type { Formula } from './TreatPage'
import { words } from './words'
import './treats.css'

/** One of a kind of packaging for each piece, to begin with. */
const packOf = (s: Schemas['LarderSupply']) => ({
  supply: s.id,
  amount: { amount: 1, unit: s.stock.unit === 'mm' ? ('cm' as const) : s.stock.unit },
  per: 1,
})

/** What goes with each of a kind of packaging by itself, so that nobody lists it twice. */
function Brings({ of = [], supply }: { of?: Schemas['LarderSupply'][]; supply: string }) {
  const with_ = of.find((s) => s.id === supply)?.fittings ?? []
  const names = with_.map((x) => of.find((s) => s.id === x.supply)?.name).filter(Boolean)
  return names.length > 0 ? <small className="soft">{words.withEach(names.join(', '))}</small> : null
}

/** What it is packed in, and what making it uses up. */
export const Packs = memo(function Packs({ packs, set }: { packs?: Formula['packs']; set: Editing['set'] }) {
  const fault = useFault()
  const supplies = useSupplies()
  const list = packs ?? []
  const [adding, setAdding] = useState(false)
  return (
    <Group name={words.packedIn}>
      {list.map((p, i) => (
        <Row
          key={i}
          label={
            <span data-path={`packs[${i}].supply`}>
              <SupplyPick
                label={words.packaging}
                value={p.supply}
                width={130}
                onChange={(supply) => supply && set({ packs: changed(list, i, { supply }) })}
              />
            </span>
          }
          fault={fault(`packs[${i}].supply`) ?? fault(`packs[${i}].per`)}
        >
          <span data-path={`packs[${i}].amount`}>
            <AmountInput
              label={words.amountOfPackaging}
              width={74}
              value={p.amount}
              fault={fault(`packs[${i}].amount`)}
              onChange={(amount) => set({ packs: changed(list, i, { amount }) })}
            />
          </span>
          <span className="soft">{words.for}</span>
          <span data-path={`packs[${i}].per`}>
            <InputNumber
              aria-label={words.servesSoMany}
              value={p.per}
              min={1}
              controls={false}
              style={{ width: 52 }}
              onChange={(per) => per !== null && set({ packs: changed(list, i, { per }) })}
            />
          </span>
          <span data-path={`packs[${i}].making`}>
            <Select
              aria-label={words.countedBy}
              value={p.making ? 'begun' : 'good'}
              style={{ width: 82 }}
              onChange={(v) => set({ packs: changed(list, i, { making: v === 'begun' || undefined }) })}
              options={[
                { value: 'good', label: 'good' },
                { value: 'begun', label: 'begun' },
              ]}
            />
          </span>
          <Hint of="begun">{words.sticksCupsAndTheLike}</Hint>
          <Brings of={supplies.data?.supplies} supply={p.supply} />
          <Button type="text" aria-label={words.leaveThisPackagingOut} onClick={() => set({ packs: without(list, i) })}>
            ×
          </Button>
        </Row>
      ))}
      <Button
        type="link"
        className="link"
        onClick={() => {
          const s = supplies.data?.supplies[0]
          if (s) set({ packs: [...list, packOf(s)] })
          else setAdding(true)
        }}
      >
        {words.addPackaging}
      </Button>
      {adding && (
        <QuickSupply
          name=""
          close={(made) => {
            setAdding(false)
            if (!made) return
            void supplies.refetch()
            set({ packs: [...list, packOf(made)] })
          }}
        />
      )}
    </Group>
  )
})
