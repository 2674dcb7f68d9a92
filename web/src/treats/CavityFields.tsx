import { Select } from 'antd'
import { starting } from '../api/families'
import { AmountRow, Row, useFault } from './fields'
import { SupplyPick } from './SupplyPick'
import type { Formula } from './TreatPage'
import { words } from './words'

type Mould = NonNullable<Formula['mould']>
type Cavity = NonNullable<Mould['cavity']>
type Shape = Cavity['shape']

const shapes: Shape[] = ['dome', 'cup', 'heart', 'cube', 'bar', 'loaf']

/** What the size at the mouth is called, of each shape. */
const across: Record<Shape, string> = {
  dome: words.diameter,
  cup: words.diameter,
  heart: words.acrossTheHeart,
  cube: words.side,
  bar: words.length,
  loaf: words.length,
}

/** What a cavity holds: said as its volume, or by its shape and sizes. */
export function CavityRows({ mould, change }: { mould: Mould; change: (x: Partial<Mould>) => void }) {
  const fault = useFault()
  const { cavity, volume } = mould
  const size = (x: Partial<Cavity>) => change({ cavity: { ...cavity!, ...x } })
  return (
    <>
      <Row label={words.shapeOfTheCavity} fault={fault('mould.cavity.shape')} path="mould.cavity.shape">
        <Select
          aria-label={words.shapeOfTheCavity}
          value={cavity?.shape ?? ''}
          style={{ width: 168 }}
          onChange={(shape: Shape | '') =>
            change(
              shape
                ? { volume: undefined, cavity: starting.cavities[shape] as Cavity }
                : { cavity: undefined, volume: starting.volume },
            )
          }
          options={[
            { value: '', label: words.ownVolume },
            ...shapes.map((shape) => ({ value: shape, label: words.shapes[shape] })),
          ]}
        />
      </Row>
      {volume && (
        <AmountRow
          label={words.cavityVolume}
          value={volume}
          onChange={(volume) => change({ volume })}
          path="mould.volume"
        />
      )}
      {cavity && (
        <AmountRow
          label={across[cavity.shape]}
          value={cavity.across}
          onChange={(across) => size({ across })}
          path="mould.cavity.across"
        />
      )}
      {cavity?.width && (
        <AmountRow
          label={words.width}
          value={cavity.width}
          onChange={(width) => size({ width })}
          path="mould.cavity.width"
        />
      )}
      {cavity?.foot && (
        <AmountRow
          label={cavity.shape === 'cup' ? words.cupBaseDiameter : words.widthAtTheFoot}
          value={cavity.foot}
          onChange={(foot) => size({ foot })}
          path="mould.cavity.foot"
        />
      )}
      {cavity?.depth && (
        <AmountRow
          label={words.depth}
          value={cavity.depth}
          onChange={(depth) => size({ depth })}
          path="mould.cavity.depth"
        />
      )}
    </>
  )
}

/** Whether moulds come back, or are used up and counted with the packaging. */
export function OnceRow({ once, onChange, path }: { once?: string; onChange: (once?: string) => void; path: string }) {
  const fault = useFault()(path)
  return (
    <Row label={words.usedUp} fault={fault} path={path}>
      <SupplyPick label={words.usedUp} value={once} none={words.theyComeBack} onChange={onChange} width={196} />
    </Row>
  )
}
