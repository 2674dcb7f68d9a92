import { Button, Segmented, Select } from 'antd'
import { memo } from 'react'
import type { Schemas } from '../api/client'
import { starting, traitsOf, useFamilies } from '../api/families'
import { AmountInput } from '../kit/AmountInput'
import { Figure } from '../kit/Figure'
import { BowlRows } from './BowlFields'
import {
  AmountRow,
  changed,
  type Editing,
  Fault,
  Group,
  isChocolate,
  like,
  NumberRow,
  type Pantry,
  Pick,
  Row,
  useFault,
  without,
} from './fields'
import { words } from './words'
import './treats.css'

export type Coating = Schemas['TreatChocolateLayer']
export type Role = Coating['role']
/** What a role is called; a function, because words are spelt anew when the kitchen is known. */
export const roleWord = (role: Role) =>
  ({
    shell: words.shell2,
    coat: words.coat,
    base: words.base,
    layer: words.second,
    cap: words.cap,
    dab: words.dab,
    drizzle: words.lines,
  })[role]

/** A chocolate of a role, with the numbers that it begins with. */
export const begun = (role: Role, ingredient: string, inSheets: boolean): Coating => ({
  role,
  ingredient,
  ...{
    shell: { pool: starting.dipPool },
    coat: { each: starting.dip, pool: starting.dipPool },
    base: { pool: starting.layerPool },
    layer: { share: starting.layer, pool: starting.layerPool },
    cap: { pool: starting.capPool },
    dab: { each: starting.dab, pool: starting.linesPool },
    drizzle: { each: inSheets ? starting.linesOn : starting.lines, pool: starting.linesPool },
  }[role],
})

/** Those that are shares of one shell, each the same. */
export const sharedOut = (list: Coating[]): Coating[] => {
  const shells = list.filter((c) => c.role === 'shell').length
  return list.map((c) =>
    c.role === 'shell' ? { ...c, share: shells > 1 ? Number((1 / shells).toFixed(4)) : undefined } : c,
  )
}

/** The chocolates of a treat. */
export const Chocolates = memo(function Chocolates({
  f,
  set,
  follow,
  choices,
  one,
  pantry,
  pots,
  sizes,
}: Editing & { one: string }) {
  const fault = useFault()
  const families = useFamilies()
  const can = families.data?.families.find((x) => x.family === f.family)?.roles ?? []
  const any = [...pantry.ingredients.values()].find((i) => i.chocolate)?.id
  const first = f.coatings[0]?.ingredient ?? any
  const count = (role: Role) => f.coatings.filter((c) => c.role === role).length
  const layered = choices.find((c) => c.id === 'style') && (f.choices.style ?? 'plain') !== 'plain'
  const add = (role: Role, text: string) => (
    <Button
      type="link"
      className="link"
      onClick={() => {
        const made = begun(role, other(role), Boolean(f.sheet))
        // Chocolates of one role stand together, in the order in which they are laid.
        const at = f.coatings.findLastIndex((c) => c.role === role)
        const list = at < 0 ? [...f.coatings, made] : f.coatings.toSpliced(at + 1, 0, made)
        follow({ coatings: role === 'shell' ? sharedOut(list) : list })
      }}
    >
      {text}
    </Button>
  )
  // A second one of a role is another chocolate.
  const other = (role: Role) =>
    (count(role) > 0
      ? [...pantry.ingredients.values()].find(
          (i) => i.chocolate && !f.coatings.some((c) => c.role === role && c.ingredient === i.id),
        )?.id
      : undefined) ?? first!
  return (
    <Group name={words.chocolate}>
      {f.coatings.map((coating, i) => {
        const alone = count(coating.role) === 1
        const needed = alone && ['shell', 'coat', 'base'].includes(coating.role)
        return (
          <CoatingRows
            key={i}
            coating={coating}
            path={`coatings[${i}]`}
            one={one}
            thick={traitsOf(f.family).thick && coating.role === 'coat'}
            marbled={coating.role === 'shell' && !alone}
            pots={pots}
            sizes={sizes}
            pantry={pantry}
            change={(x) => set({ coatings: changed(f.coatings, i, x) })}
            drop={
              needed || (coating.role === 'cap' && f.mould)
                ? undefined
                : () => {
                    const left = without(f.coatings, i)
                    follow({ coatings: coating.role === 'shell' ? sharedOut(left) : left })
                  }
            }
          />
        )
      })}
      {first && (
        <p className="own-of">
          {layered && count('layer') === 0 && add('layer', words.addASecondChocolate)}
          {can.includes('shell') && count('shell') > 0 && count('shell') < 3 && add('shell', words.marbleTheShell)}
          {f.choices.shape === 'cup' && count('cap') === 0 && add('cap', words.closeWithALid)}
          {can.includes('dab') && count('dab') === 0 && add('dab', words.setAStick)}
          {can.includes('drizzle') && count('drizzle') < 3 && add('drizzle', words.addLinesOnTop)}
        </p>
      )}
      {fault('coatings') && <Fault text={fault('coatings')!} />}
    </Group>
  )
})

interface Rows {
  coating: Coating
  path: string
  one: string
  thick?: boolean
  marbled?: boolean
  change: (x: Partial<Coating>) => void
  drop?: () => void
  pantry: Pantry
  pots?: Editing['pots']
  sizes?: Editing['sizes']
  /** The design that it is of; not given, it is of all. */
  design?: string
}

/** The numbers of one chocolate. */
export function CoatingRows({ coating, path, one, thick, marbled, change, drop, pantry, pots, sizes, design }: Rows) {
  const fault = useFault()
  const families = useFamilies()
  const kind = pantry.ingredients.get(coating.ingredient)?.chocolate?.kind
  const offers = (kind && families.data?.methods[kind]) ?? []
  const pot = pots?.find((p) => p.ingredient === coating.ingredient)
  const method = coating.method ?? pot?.method ?? offers[0]?.method
  const role = roleWord(coating.role)
  const name = (what: string) => (design ? words.ofWord(what, design) : what)
  return (
    <div className="coating">
      <Row label={role}>
        <Pick
          label={name(role)}
          value={coating.ingredient}
          onChange={(ingredient) => change({ ingredient, method: undefined })}
          only={isChocolate}
          path={`${path}.ingredient`}
        />
        {drop && (
          <Button type="text" aria-label={words.leaveOutThe(name(role.toLowerCase()))} onClick={drop}>
            ×
          </Button>
        )}
      </Row>
      {fault(`${path}.role`) && <Fault text={fault(`${path}.role`)!} />}
      {thick && (
        <Row
          label={
            <Segmented
              size="small"
              aria-label={words.coatSetBy}
              value={coating.thick ? 'thick' : 'each'}
              options={[
                { value: 'each', label: words.weight },
                { value: 'thick', label: words.thickness },
              ]}
              onChange={(v) =>
                change(
                  v === 'each'
                    ? { thick: undefined, each: starting.coat }
                    : { each: undefined, thick: like(starting.thick, sizes?.wall, 2) },
                )
              }
            />
          }
          fault={fault(coating.thick ? `${path}.thick` : `${path}.each`)}
          path={coating.thick ? `${path}.thick` : `${path}.each`}
        >
          {coating.thick ? (
            <AmountInput
              label={words.thicknessOfTheCoat}
              value={coating.thick}
              onChange={(t) => change({ thick: t })}
            />
          ) : (
            coating.each && (
              <AmountInput label={words.on2(one)} value={coating.each} onChange={(each) => change({ each })} />
            )
          )}
        </Row>
      )}
      {!thick && coating.each && (
        <AmountRow
          label={design ? words.onAPieceOf(role, design) : words.on2(one)}
          value={coating.each}
          onChange={(each) => change({ each })}
          path={`${path}.each`}
        />
      )}
      {(coating.role === 'layer' || marbled) && (
        <NumberRow
          label={marbled ? words.ofTheShell : words.ofTheSheetsChocolate}
          value={(coating.share ?? starting.layer) * 100}
          onChange={(n) => change({ share: n / 100 })}
          path={`${path}.share`}
          unit="%"
        />
      )}
      <AmountRow
        label={words.workingPool}
        value={coating.pool}
        onChange={(pool) => change({ pool })}
        path={`${path}.pool`}
      />
      {offers.length > 1 && coating.role !== 'drizzle' && (
        <Row
          label={<Figure why={offers.map((o) => `${o.name}: ${o.why}`).join('\n')}>{words.temperingMethod}</Figure>}
          fault={fault(`${path}.method`)}
          path={`${path}.method`}
        >
          <Select
            aria-label={words.howTheIsTempered(name(role.toLowerCase()))}
            value={method}
            style={{ width: 130 }}
            onChange={(m) => change({ method: m })}
            options={offers.map((o) => ({ value: o.method, label: o.name }))}
          />
        </Row>
      )}
      <BowlRows coating={coating} path={path} change={change} pantry={pantry} name={name(role)} pot={pot} />
    </div>
  )
}
