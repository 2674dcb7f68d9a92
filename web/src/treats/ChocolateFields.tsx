import { Button, Input, InputNumber, Segmented, Select } from 'antd'
import { memo, useState } from 'react'
import type { Schemas } from '../api/client'
import { starting, traitsOf, useFamilies } from '../api/families'
import { AmountInput } from '../kit/AmountInput'
import { Figure } from '../kit/Figure'
import {
  AmountRow,
  changed,
  type Editing,
  Fault,
  Group,
  isChocolate,
  like,
  notMelted,
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
/** What is stirred in; of a tint also what waits until it is judged, and what it comes to. */
type Stirred = Schemas['TreatStirred'] & Partial<Judged>
type Judged = Omit<Schemas['TreatTint'], keyof Schemas['TreatStirred']>

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

/** What is stirred into the bowl, and how it is melted: opened when it is wanted. */
function BowlRows({
  coating,
  path,
  change,
  pantry,
  name,
  pot,
}: Omit<Rows, 'one' | 'pots' | 'sizes'> & { name: string; pot?: Schemas['BatchPot'] }) {
  const fault = useFault()
  const said = Boolean(coating.tint ?? coating.flavour ?? coating.thinner ?? coating.source ?? coating.minutes)
  const [open, setOpen] = useState(said)
  if (!open)
    return (
      <Button type="link" className="link" aria-label={words.bowlOf(name)} onClick={() => setOpen(true)}>
        {words.tintFlavourAndThinner}
      </Button>
    )
  const stirred = (
    key: 'tint' | 'flavour' | 'thinner',
    label: string,
    add: string,
    begins: Omit<Stirred, 'ingredient'>,
  ) => (
    <StirredRows
      of={coating[key]}
      label={label}
      add={add}
      path={`${path}.${key}`}
      pantry={pantry}
      begins={begins}
      change={(s) => change({ [key]: s })}
      tint={key === 'tint'}
    />
  )
  return (
    <div className="bowl-of">
      {stirred('tint', words.tint, words.addATint, {
        amount: starting.tint,
        more: starting.tintMore,
        to: starting.tintTo,
        colour: '#7fb2d6',
      })}
      {stirred('flavour', words.flavour, words.addAFlavour, { amount: starting.flavour, to: starting.flavourTo })}
      {stirred('thinner', words.thinner, words.addAThinner, { amount: starting.thinner, to: starting.thinnerTo })}
      <Row label={words.meltedWith} fault={fault(`${path}.source`)} path={`${path}.source`}>
        <Select
          aria-label={words.whatItIsMeltedWith(name)}
          value={coating.source ?? ''}
          style={{ width: 160 }}
          onChange={(source) => change({ source: (source || undefined) as Coating['source'] })}
          options={[
            { value: '', label: words.asTheKitchen },
            { value: 'microwave', label: words.microwave },
            { value: 'bath', label: words.waterBath },
          ]}
        />
      </Row>
      <Row label={words.minutesToMelt} fault={fault(`${path}.minutes`)} path={`${path}.minutes`}>
        <InputNumber
          aria-label={words.minutesToMeltOf(name)}
          value={coating.minutes ?? null}
          min={0}
          controls={false}
          placeholder={pot ? String(pot.minutes) : undefined}
          suffix={words.min}
          style={{ width: 110 }}
          onChange={(n) => change({ minutes: n ? Math.round(n) : undefined })}
        />
      </Row>
    </div>
  )
}

/** One thing that is stirred in, by the weight of the bowl. */
function StirredRows({
  of,
  label,
  add,
  path,
  pantry,
  begins,
  change,
  tint,
}: {
  of?: Stirred
  label: string
  add: string
  path: string
  pantry: Pantry
  begins: Omit<Stirred, 'ingredient'>
  change: (s?: Stirred) => void
  tint: boolean
}) {
  const fault = useFault()
  if (!of)
    return (
      <div data-path={path}>
        <Button
          type="link"
          className="link"
          onClick={() => change({ ingredient: likely(pantry, tint ? 'colour' : 'flavour') ?? '', ...begins })}
        >
          {add}
        </Button>
      </div>
    )
  return (
    <>
      <Row label={label}>
        <Pick
          label={label}
          value={of.ingredient}
          onChange={(ingredient) => change({ ...of, ingredient })}
          only={notMelted}
          path={`${path}.ingredient`}
        />
        {tint && (
          <span data-path={`${path}.colour`}>
            <Input
              type="color"
              className="shade"
              aria-label={words.colourOfTheTint}
              value={of.colour ?? begins.colour}
              status={fault(`${path}.colour`) ? 'error' : undefined}
              onChange={(e) => change({ ...of, colour: e.target.value })}
            />
          </span>
        )}
        <Button type="text" aria-label={words.leaveOutThe(label.toLowerCase())} onClick={() => change(undefined)}>
          ×
        </Button>
      </Row>
      <Row label="" fault={fault(`${path}.amount`) ?? fault(`${path}.more`) ?? fault(`${path}.to`)} of={of.ingredient}>
        <span data-path={`${path}.amount`}>
          <AmountInput
            label={words.amountOf2(label)}
            width={76}
            value={of.amount}
            of={of.ingredient}
            onChange={(amount) => change({ ...of, amount })}
          />
        </span>
        {tint && of.more && (
          <>
            <span className="soft">{words.then3}</span>
            <span data-path={`${path}.more`}>
              <AmountInput
                label={words.moreOf2(label)}
                width={76}
                value={of.more}
                of={of.ingredient}
                onChange={(more) => change({ ...of, more })}
              />
            </span>
          </>
        )}
        <span className="soft">{words.to}</span>
        <span data-path={`${path}.to`}>
          <AmountInput
            label={words.toSoMuch(label)}
            width={70}
            value={of.to}
            onChange={(to) => change({ ...of, to })}
          />
        </span>
      </Row>
      {tint && (
        <Button type="link" className="link" onClick={() => change({ ...of, more: of.more ? undefined : begins.more })}>
          {of.more ? words.allAtOnce : words.startAndJudge}
        </Button>
      )}
    </>
  )
}

/** What of the larder is likely meant: by its name or its kind. */
const likely = (pantry: Pantry, what: 'colour' | 'flavour') => {
  const list = [...pantry.ingredients.values()].filter((i) => !i.chocolate)
  return (
    list.find((i) => new RegExp(what === 'colour' ? 'colou?r' : 'oil', 'i').test(i.name)) ??
    list.find((i) => i.kind === what)
  )?.id
}
