import { Button, Segmented, Select } from 'antd'
import { memo } from 'react'
import type { Schemas } from '../api/client'
import { starting, traitsOf } from '../api/families'
import { AmountInput } from '../kit/AmountInput'
import { useKitchen } from '../shell/kitchen'
import {
  AmountRow,
  byPiece,
  byWeight,
  type Editing,
  Fault,
  Group,
  like,
  NumberRow,
  Pick,
  Row,
  useFault,
} from './fields'
import { words } from './words'
import './treats.css'

type Centre = Schemas['TreatCentre']

/** What is dipped, coated, poured or filled in. */
export const CentreFields = memo(function CentreFields(e: Editing) {
  const { f, set, follow, pantry } = e
  const fault = useFault()
  const name = traitsOf(f.family).centre || words.centre
  const { centre } = f
  if (!centre) {
    const first = fillingOf(pantry)
    return (
      <Group name={name}>
        <Button
          type="link"
          className="link"
          onClick={() =>
            first &&
            f.mould &&
            follow({
              centre: { of: first },
              mould: { ...f.mould, shell: starting.filled, cap: starting.cap },
              coatings: [
                ...f.coatings.filter((c) => c.role !== 'cap'),
                { role: 'cap', ingredient: f.coatings[0]!.ingredient, pool: starting.capPool },
              ],
            })
          }
        >
          {words.addAFilling}
        </Button>
      </Group>
    )
  }
  return (
    <Group name={name}>
      <CentreRows
        {...e}
        centre={centre}
        path="centre"
        name={name}
        change={(x) => set({ centre: { ...centre, ...x } })}
      />
      {f.mould && (
        <Button
          type="link"
          className="link"
          onClick={() =>
            f.mould &&
            follow({
              centre: undefined,
              mould: { ...f.mould, shell: 1, cap: 0 },
              coatings: f.coatings.filter((c) => c.role !== 'cap'),
            })
          }
        >
          {words.makeItSolid}
        </Button>
      )}
      {fault('centre') && <Fault text={fault('centre')!} />}
    </Group>
  )
})

/** What a filling begins with: a mix, or something that can be poured. */
export const fillingOf = (pantry: Editing['pantry']) =>
  (
    [...pantry.mixes.values()].find((m) => /ganache|cream|caramel|filling|cent(re|er)/i.test(m.name)) ??
    [...pantry.mixes.values()][0] ??
    [...pantry.ingredients.values()].find((i) => i.density && !i.chocolate)
  )?.id

interface Rows {
  f: Editing['f']
  sizes?: Editing['sizes']
  pantry: Editing['pantry']
  centre: Centre
  path: string
  name: string
  change: (x: Partial<Centre>) => void
}

/** The numbers of a centre: of all, or of one design. */
export function CentreRows({ f, pantry, sizes: sized, centre, path, name, change }: Rows) {
  const kitchen = useKitchen()
  const fault = useFault()
  const is = traitsOf(f.family)
  const of = pantry.ingredients.get(centre.of)
  const sizes = of?.sizes ?? []
  return (
    <>
      <Row label={words.which}>
        <Pick
          label={name}
          value={centre.of}
          onChange={(id) => change({ of: id, size: undefined })}
          only={is.picked ? byPiece : byWeight}
          path={`${path}.of`}
        />
      </Row>
      {is.picked && sizes.length > 1 && (
        <Row label={words.size} fault={fault(`${path}.size`)} path={`${path}.size`}>
          <Select
            aria-label={words.size}
            value={centre.size ?? ''}
            style={{ width: 180 }}
            onChange={(size) => change({ size: size || undefined })}
            options={sizes.map((m) => ({
              value: m.name,
              label: `${m.name || words.usual}, ${kitchen.amount(m.weighs)}`,
            }))}
          />
        </Row>
      )}
      {is.picked && (
        <NumberRow
          label={words.usableShare}
          value={(centre.share ?? of?.fit ?? 1) * 100}
          onChange={(n) => change({ share: n / 100 })}
          path={`${path}.share`}
          unit="%"
        />
      )}
      {is.drawn === 'rod' && f.choices.shape !== 'twist' && (
        <>
          <AmountRow
            label={words.rodDiameter}
            value={centre.across ?? starting.rod}
            onChange={(across) => change({ across })}
            path={`${path}.across`}
          />
          <AmountRow
            label={words.dippedLength}
            value={centre.length ?? starting.dipped}
            onChange={(length) => change({ length })}
            path={`${path}.length`}
          />
        </>
      )}
      {is.thick && (
        <Row
          label={
            <Segmented
              size="small"
              aria-label={words.centreSetBy}
              value={centre.each ? 'each' : 'across'}
              options={[
                { value: 'each', label: words.weight },
                { value: 'across', label: words.sizeAcross },
              ]}
              onChange={(v) =>
                change(
                  v === 'each'
                    ? { across: undefined, each: like(starting.centre, sized?.centre, 1) }
                    : { each: undefined, across: like(starting.across, sized?.across, 1) },
                )
              }
            />
          }
          fault={fault(centre.each ? `${path}.each` : `${path}.across`)}
          path={centre.each ? `${path}.each` : `${path}.across`}
          of={centre.of}
        >
          {centre.each ? (
            <AmountInput label={words.centreWeight} value={centre.each} onChange={(each) => change({ each })} />
          ) : (
            centre.across && (
              <AmountInput
                label={words.centreDiameter}
                value={centre.across}
                onChange={(across) => change({ across })}
              />
            )
          )}
        </Row>
      )}
      {is.thick && path === 'centre' && sized?.across && sized.centre && (
        <p className="follows">
          {centre.each ? words.across(kitchen.amount(sized.across)) : kitchen.amount(sized.centre)}
          {words.inACoatOf} {sized.wall && kitchen.amount(sized.wall)}
        </p>
      )}
    </>
  )
}
