import { Button, Input, InputNumber, Segmented, Select } from 'antd'
import { Hint } from '../kit/Hint'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { api, ask, type Schemas } from '../api/client'
import { starting, traitsOf, useFamilies } from '../api/families'
import { AmountInput } from '../kit/AmountInput'
import { SupplyForm } from '../larder/SupplyForm'
import { Figure } from '../kit/Figure'
import { whichMoulds } from './moulds'
import {
  AmountRow,
  byPiece,
  byWeight,
  changed,
  Fault,
  Group,
  isChocolate,
  NumberRow,
  notMelted,
  type Pantry,
  Pick,
  Row,
  useFault,
  without,
} from './fields'
import type { Formula } from './TreatPage'
import { useKitchen } from '../shell/kitchen'
import { words } from './words'
import './treats.css'

type Coating = Schemas['TreatChocolateLayer']
type Portion = Schemas['TreatAddition']
type Finish = Schemas['TreatDesign']
type Role = Coating['role']

const roleWord: Record<Role, string> = {
  shell: words.shell2,
  coat: words.coat,
  base: words.base,
  layer: words.second,
  cap: words.cap,
  drizzle: words.lines,
}
/** A starting value, or what the card has for it, in the same unit. */
const like = (begins: Schemas['MeasureQuantity'], known: Schemas['MeasureShown'] | undefined, decimals: number) =>
  known ? { amount: Number(known.amount.toFixed(decimals)), unit: begins.unit } : begins

interface Editing {
  f: Formula
  set: (change: Partial<Formula>) => void
  follow: (change: Partial<Formula>) => void
  choices: Schemas['TreatsChoice'][]
  card?: Schemas['BatchCard']
  pantry: Pantry
}

/** The numbers of a treat, by what they are about. Which there are follows from the family. */
export function Numbers(e: Editing) {
  const { f } = e
  const is = traitsOf(f.family)
  const one = `a ${is.unit}`
  return (
    <div className="numbers">
      {f.shell && <Shell {...e} />}
      {f.mould && <Mould {...e} />}
      {(f.centre || (is.centre && is.inside)) && <Centre {...e} />}
      {f.sheet && <Sheet {...e} />}
      <Chocolates {...e} one={one} />
      <Portions
        name={is.inside ? words.inAndOn(one) : words.on(one)}
        path="portions"
        list={f.portions ?? []}
        set={(portions) => e.set({ portions })}
        inside={Boolean(f.shell || f.mould)}
        pantry={e.pantry}
      />
      {is.designs && <Designs {...e} />}
      <Packs {...e} />
    </div>
  )
}

/** How it is made where people differ, what is lost and how long it keeps: beside the drawing. */
export function Ways(e: Editing) {
  return (
    <div className="ways">
      <Choices {...e} />
      <Group name={words.lossAndShelfLife}>
        <NumberRow
          label={traitsOf(e.f.family).bagged ? words.crumbs : words.loss}
          value={e.f.loss * 100}
          onChange={(n) => e.set({ loss: n / 100 })}
          path="loss"
          unit="%"
          step={0.5}
        />
        <NumberRow
          label={words.keeps}
          value={e.f.keeps}
          onChange={(keeps) => e.set({ keeps: Math.round(keeps) })}
          path="keeps"
          unit="h"
        />
      </Group>
    </div>
  )
}

function Shell({ f, set, card }: Editing) {
  const kitchen = useKitchen()
  const shell = f.shell!
  const change = (x: Partial<typeof shell>) => set({ shell: { ...shell, ...x } })
  const cup = f.choices.shape === 'cup'
  const sizes = card?.sizes
  return (
    <Group name={words.shell2}>
      <AmountRow
        label={cup ? words.cupTopDiameter : words.mouldAcross}
        value={shell.across}
        onChange={(across) => change({ across })}
        path="shell.across"
      />
      {!cup && (
        <Row label={<small>{words.commonSizes}</small>}>
          {starting.balls.map((inches) => (
            <Button
              type="link"
              key={inches}
              className="link"
              onClick={() => change({ across: { amount: inches, unit: 'in' } })}
            >
              {inches} {words.in}
            </Button>
          ))}
        </Row>
      )}
      {cup && shell.base && (
        <AmountRow
          label={words.cupBaseDiameter}
          value={shell.base}
          onChange={(base) => change({ base })}
          path="shell.base"
        />
      )}
      {cup && shell.height && (
        <AmountRow
          label={words.cupHeight}
          value={shell.height}
          onChange={(height) => change({ height })}
          path="shell.height"
        />
      )}
      <Row
        label={
          <Segmented
            size="small"
            aria-label={words.givenBy}
            value={shell.wall ? 'wall' : 'mass'}
            options={[
              { value: 'wall', label: 'wall' },
              { value: 'mass', label: 'weight' },
            ]}
            onChange={(v) =>
              change(
                v === 'wall'
                  ? { mass: undefined, wall: like(starting.wall, sizes?.wall, 2) }
                  : { wall: undefined, mass: like(starting.shell, sizes?.shell, 1) },
              )
            }
          />
        }
        fault={useFault()(shell.wall ? 'shell.wall' : 'shell.mass')}
      >
        {shell.wall ? (
          <AmountInput label={words.wall} value={shell.wall} onChange={(wall) => change({ wall })} />
        ) : (
          shell.mass && (
            <AmountInput label={words.chocolatePerPiece} value={shell.mass} onChange={(mass) => change({ mass })} />
          )
        )}
      </Row>
      {sizes?.wall && sizes.shell && (
        <p className="follows">
          {shell.wall ? words.aPieceTakes(kitchen.amount(sizes.shell)) : words.aWallOf(kitchen.amount(sizes.wall))}
          {sizes.holds &&
            sizes.fills &&
            words.theHollowHoldsThisFills(kitchen.amount(sizes.holds), kitchen.amount(sizes.fills))}
        </p>
      )}
      {sizes?.note && <p className="follows">{sizes.note}</p>}
      {shell.mug ? (
        <AmountRow label={words.forAMugOf} value={shell.mug} onChange={(mug) => change({ mug })} path="shell.mug" />
      ) : (
        <Button type="link" className="link" onClick={() => change({ mug: starting.mug })}>
          {words.addTheMugSize}
        </Button>
      )}
      {sizes?.mix && (
        <p className="follows">
          {sizes.mix.us} {words.ofMixMakesItMedium}
        </p>
      )}
      <NumberRow
        label={cup ? words.cupsAtATime : words.cavitiesInAMould}
        value={shell.cavities}
        onChange={(n) => change({ cavities: Math.round(n) })}
        path="shell.cavities"
      />
      <NumberRow
        label={words.moulds}
        value={shell.moulds}
        onChange={(n) => change({ moulds: Math.round(n) })}
        path="shell.moulds"
      />
      <AtMost value={shell.atMost} onChange={(atMost) => change({ atMost })} path="shell.atMost" />
      {card?.rounds?.moulds && <p className="follows">{whichMoulds(card.rounds.moulds)}</p>}
    </Group>
  )
}

/** How many of its moulds a treat uses at a time; empty: all that there are. */
function AtMost({ value, onChange, path }: { value?: number; onChange: (n?: number) => void; path: string }) {
  const fault = useFault()(path)
  return (
    <Row label={words.mouldsUsedAtATime} fault={fault}>
      <InputNumber
        aria-label={words.mouldsAtATimeAt}
        value={value ?? null}
        min={1}
        controls={false}
        placeholder={words.all}
        status={fault ? 'error' : undefined}
        style={{ width: 110 }}
        onChange={(n) => onChange(n ? Math.round(n) : undefined)}
      />
    </Row>
  )
}

function Mould({ f, set, follow, card }: Editing) {
  const kitchen = useKitchen()
  const mould = f.mould!
  const change = (x: Partial<typeof mould>) => set({ mould: { ...mould, ...x } })
  const main = f.coatings.find((c) => c.role === 'shell')
  const capped = (share: number) => {
    const others = f.coatings.filter((c) => c.role !== 'cap')
    follow({
      mould: { ...mould, cap: share },
      coatings:
        share > 0 && main
          ? f.coatings.some((c) => c.role === 'cap')
            ? f.coatings
            : [...others, { role: 'cap', ingredient: main.ingredient, pool: starting.capPool }]
          : others,
    })
  }
  return (
    <Group name={words.mould2}>
      <AmountRow
        label={words.cavityVolume}
        value={mould.volume}
        onChange={(volume) => change({ volume })}
        path="mould.volume"
      />
      <NumberRow
        label={words.shellShareOfTheCavity}
        value={mould.shell * 100}
        onChange={(n) => change({ shell: n / 100 })}
        path="mould.shell"
        unit="%"
      />
      <NumberRow
        label={words.capShareOfTheCavity}
        value={mould.cap * 100}
        onChange={(n) => capped(n / 100)}
        path="mould.cap"
        unit="%"
      />
      {card?.sizes.shell && (
        <p className="follows">
          {words.shell} {kitchen.amount(card.sizes.shell)}
          {words.wallsAbout} {card.sizes.wall && kitchen.amount(card.sizes.wall)}
          {card.sizes.centre && words.ofFill(kitchen.amount(card.sizes.centre))}
        </p>
      )}
      <NumberRow
        label={words.cavitiesInAMould}
        value={mould.cavities}
        onChange={(n) => change({ cavities: Math.round(n) })}
        path="mould.cavities"
      />
      <NumberRow
        label={words.moulds}
        value={mould.moulds}
        onChange={(n) => change({ moulds: Math.round(n) })}
        path="mould.moulds"
      />
      <AtMost value={mould.atMost} onChange={(atMost) => change({ atMost })} path="mould.atMost" />
      {card?.rounds?.moulds && <p className="follows">{whichMoulds(card.rounds.moulds)}</p>}
    </Group>
  )
}

function Centre({ f, set, follow, pantry, card }: Editing) {
  const kitchen = useKitchen()
  const fault = useFault()
  const is = traitsOf(f.family)
  const name = is.centre || words.centre
  const centre = f.centre
  if (!centre) {
    const first =
      [...pantry.mixes.values()][0] ?? [...pantry.ingredients.values()].find((i) => i.density && !i.chocolate)
    return (
      <Group name={name}>
        <Button
          type="link"
          className="link"
          onClick={() =>
            first &&
            f.mould &&
            follow({
              centre: { of: first.id },
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
  const change = (x: Partial<typeof centre>) => set({ centre: { ...centre, ...x } })
  const counted = is.picked
  const of = pantry.ingredients.get(centre.of)
  const sizes = of?.sizes ?? []
  return (
    <Group name={name}>
      <Row label={words.which}>
        <Pick
          label={name}
          value={centre.of}
          onChange={(id) => change({ of: id, size: undefined })}
          only={counted ? byPiece : byWeight}
          path="centre.of"
        />
      </Row>
      {counted && sizes.length > 1 && (
        <Row label={words.size} fault={fault('centre.size')}>
          <Select
            aria-label={words.size}
            value={centre.size ?? ''}
            style={{ width: 180 }}
            onChange={(size) => change({ size: size || undefined })}
            options={sizes.map((m) => ({ value: m.name, label: `${m.name || 'usual'}, ${kitchen.amount(m.weighs)}` }))}
          />
        </Row>
      )}
      {counted && (
        <NumberRow
          label={words.usableShare}
          value={(centre.share ?? of?.fit ?? 1) * 100}
          onChange={(n) => change({ share: n / 100 })}
          path="centre.share"
          unit="%"
        />
      )}
      {is.drawn === 'rod' && f.choices.shape !== 'twist' && (
        <>
          <AmountRow
            label={words.rodDiameter}
            value={centre.across ?? starting.rod}
            onChange={(across) => change({ across })}
            path="centre.across"
          />
          <AmountRow
            label={words.dippedLength}
            value={centre.length ?? starting.dipped}
            onChange={(length) => change({ length })}
            path="centre.length"
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
                { value: 'each', label: 'weight' },
                { value: 'across', label: words.sizeAcross },
              ]}
              onChange={(v) =>
                change(
                  v === 'each'
                    ? { across: undefined, each: like(starting.centre, card?.sizes.centre, 1) }
                    : { each: undefined, across: like(starting.across, card?.sizes.across, 1) },
                )
              }
            />
          }
          fault={fault(centre.each ? 'centre.each' : 'centre.across')}
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
      {is.thick && card?.sizes.across && card.sizes.centre && (
        <p className="follows">
          {centre.each ? words.across(kitchen.amount(card.sizes.across)) : kitchen.amount(card.sizes.centre)}
          {words.inACoatOf} {card.sizes.wall && kitchen.amount(card.sizes.wall)}
        </p>
      )}
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
}

function Sheet({ f, set }: Editing) {
  const sheet = f.sheet!
  const change = (x: Partial<typeof sheet>) => set({ sheet: { ...sheet, ...x } })
  const { bagged } = traitsOf(f.family)
  const fault = useFault()
  return (
    <Group name={bagged ? words.sheet : words.pan}>
      <AmountRow
        label={words.length}
        value={sheet.length}
        onChange={(length) => change({ length })}
        path="sheet.length"
      />
      <AmountRow label={words.width} value={sheet.width} onChange={(width) => change({ width })} path="sheet.width" />
      <AmountRow
        label={bagged ? words.depthOfChocolate : words.depth}
        value={sheet.depth}
        onChange={(depth) => change({ depth })}
        path="sheet.depth"
      />
      {sheet.bag && (
        <AmountRow label={words.weightPerBag} value={sheet.bag} onChange={(bag) => change({ bag })} path="sheet.bag" />
      )}
      {!bagged && (
        <>
          <Row label={words.cutInto} fault={fault('sheet.rows')}>
            <InputNumber
              aria-label={words.rows}
              value={sheet.rows ?? 1}
              min={1}
              controls={false}
              style={{ width: 60 }}
              onChange={(rows) => rows !== null && change({ rows: Math.round(rows) })}
            />{' '}
            {words.by}
            <InputNumber
              aria-label={words.columns}
              value={sheet.columns ?? 1}
              min={1}
              controls={false}
              style={{ width: 60 }}
              onChange={(columns) => columns !== null && change({ columns: Math.round(columns) })}
            />
          </Row>
          <AmountRow
            label={words.trimAtEachEdge}
            value={sheet.trim ?? { amount: 0, unit: sheet.length.unit }}
            onChange={(trim) => change({ trim })}
            path="sheet.trim"
          />
        </>
      )}
    </Group>
  )
}

function Chocolates({ f, set, follow, choices, one, pantry, card }: Editing & { one: string }) {
  const fault = useFault()
  const any = [...pantry.ingredients.values()].find((i) => i.chocolate)?.id
  const first = f.coatings[0]?.ingredient ?? any
  const layered = choices.find((c) => c.id === 'style') && (f.choices.style ?? 'plain') !== 'plain'
  return (
    <Group name={words.chocolate}>
      {f.coatings.map((coating, i) => (
        <CoatingRows
          key={coating.role}
          coating={coating}
          path={`coatings[${i}]`}
          one={one}
          thick={traitsOf(f.family).thick && coating.role === 'coat'}
          card={card}
          pantry={pantry}
          change={(x) => set({ coatings: changed(f.coatings, i, x) })}
          drop={
            coating.role === 'drizzle' || coating.role === 'layer'
              ? () => follow({ coatings: without(f.coatings, i) })
              : undefined
          }
        />
      ))}
      {layered && first && !f.coatings.some((c) => c.role === 'layer') && (
        <Button
          type="link"
          className="link"
          onClick={() =>
            follow({
              coatings: [
                ...f.coatings,
                { role: 'layer', ingredient: first, share: starting.layer, pool: starting.layerPool },
              ],
            })
          }
        >
          {words.addASecondChocolate}
        </Button>
      )}
      {first && !f.coatings.some((c) => c.role === 'drizzle') && (
        <Button
          type="link"
          className="link"
          onClick={() =>
            follow({
              coatings: [
                ...f.coatings,
                {
                  role: 'drizzle',
                  ingredient: first,
                  each: f.sheet ? starting.linesOn : starting.lines,
                  pool: starting.linesPool,
                },
              ],
            })
          }
        >
          {words.addLinesOnTop}
        </Button>
      )}
      {fault('coatings') && <Fault text={fault('coatings')!} />}
    </Group>
  )
}

function CoatingRows({
  coating,
  path,
  one,
  thick,
  change,
  drop,
  pantry,
  card,
}: {
  coating: Coating
  path: string
  one: string
  thick?: boolean
  change: (x: Partial<Coating>) => void
  drop?: () => void
  pantry: Pantry
  card?: Schemas['BatchCard']
}) {
  const fault = useFault()
  const families = useFamilies()
  const kind = pantry.ingredients.get(coating.ingredient)?.chocolate?.kind
  const offers = (kind && families.data?.methods[kind]) ?? []
  const pot = card?.pots.find((p) => p.ingredient === coating.ingredient)
  const method = coating.method ?? pot?.method ?? offers[0]?.method
  return (
    <div className="coating">
      <Row label={roleWord[coating.role]}>
        <Pick
          label={roleWord[coating.role]}
          value={coating.ingredient}
          onChange={(ingredient) => change({ ingredient, method: undefined })}
          only={isChocolate}
          path={`${path}.ingredient`}
        />
        {drop && (
          <Button type="text" aria-label={words.leaveOutThe(roleWord[coating.role].toLowerCase())} onClick={drop}>
            ×
          </Button>
        )}
      </Row>
      {thick && (
        <Row
          label={
            <Segmented
              size="small"
              aria-label={words.coatSetBy}
              value={coating.thick ? 'thick' : 'each'}
              options={[
                { value: 'each', label: 'weight' },
                { value: 'thick', label: 'thickness' },
              ]}
              onChange={(v) =>
                change(
                  v === 'each'
                    ? { thick: undefined, each: starting.coat }
                    : { each: undefined, thick: like(starting.thick, card?.sizes.wall, 2) },
                )
              }
            />
          }
          fault={fault(coating.thick ? `${path}.thick` : `${path}.each`)}
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
          label={words.on2(one)}
          value={coating.each}
          onChange={(each) => change({ each })}
          path={`${path}.each`}
        />
      )}
      {coating.role === 'layer' && (
        <NumberRow
          label={words.ofTheSheetsChocolate}
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
        >
          <Select
            aria-label={words.howTheIsTempered(roleWord[coating.role].toLowerCase())}
            value={method}
            style={{ width: 130 }}
            onChange={(m) => change({ method: m })}
            options={offers.map((o) => ({ value: o.method, label: o.name }))}
          />
        </Row>
      )}
    </div>
  )
}

function Portions({
  name,
  path,
  list,
  set,
  inside,
  pantry,
}: {
  name: string
  path: string
  list: Portion[]
  set: (list: Portion[]) => void
  inside: boolean
  pantry: Pantry
}) {
  const fault = useFault()
  const other = [...pantry.ingredients.values()].find((x) => !x.chocolate)
  return (
    <Group name={name}>
      {list.map((p, i) => {
        const what = pantry.name(p.ingredient)
        return (
          <Row
            key={i}
            label={
              <Pick
                label={words.ingredient}
                value={p.ingredient}
                onChange={(ingredient) => set(changed(list, i, { ingredient }))}
                only={notMelted}
                path={`${path}[${i}].ingredient`}
                width={170}
              />
            }
            fault={fault(`${path}[${i}].each`) ?? fault(`${path}[${i}].where`)}
            of={p.ingredient}
          >
            {inside && (
              <Select
                aria-label={words.whereGoes(what)}
                value={p.where}
                style={{ width: 58 }}
                onChange={(where) => set(changed(list, i, { where }))}
                options={[
                  { value: 'in', label: 'in' },
                  { value: 'on', label: 'on' },
                ]}
              />
            )}
            <AmountInput
              label={words.amountOf2(what)}
              value={p.each}
              width={90}
              of={p.ingredient}
              onChange={(each) => set(changed(list, i, { each }))}
            />
            <Button type="text" aria-label={words.leaveOut3(what)} onClick={() => set(without(list, i))}>
              ×
            </Button>
          </Row>
        )
      })}
      {other && (
        <Button
          type="link"
          className="link"
          onClick={() => set([...list, { ingredient: other.id, each: starting.portion, where: inside ? 'in' : 'on' }])}
        >
          {words.addAnIngredient}
        </Button>
      )}
      {fault(path) && <Fault text={fault(path)!} />}
    </Group>
  )
}

const percent = (share: number) => `${Math.round(share * 1000) / 10}%`

/** Designs that a count is split into. */
function Designs({ f, follow, set, pantry, card }: Editing) {
  const fault = useFault()
  const list = f.finishes ?? []
  const chocolates = [...pantry.ingredients.values()].filter((i) => i.chocolate)
  const dipped = f.coatings.some((c) => c.role === 'coat')
  const roles: Role[] = dipped ? ['coat', 'drizzle'] : ['drizzle']
  const change = (i: number, x: Partial<Finish>) => set({ finishes: changed(list, i, x) })
  const melted = (i: number, role: Role, ingredient: string) => {
    const d = list[i]!
    const others = (d.coatings ?? []).filter((c) => c.role !== role)
    const like = f.coatings.find((c) => c.role === role)
    follow({
      finishes: changed(list, i, {
        coatings: ingredient
          ? [
              ...others,
              {
                role,
                ingredient,
                each: like?.each ?? (role === 'coat' ? starting.dip : starting.linesOf),
                thick: like?.each ? undefined : like?.thick,
                pool: like?.pool ?? (role === 'coat' ? starting.dipPool : starting.linesPool),
              },
            ]
          : others,
      }),
    })
  }
  return (
    <Group name={words.designs}>
      {list.length > 0 && (
        <>
          <Row label={words.aSetIsGoodWhen}>
            <Segmented
              aria-label={words.aSetIsGoodWhen}
              value={f.whole ? 'whole' : 'sum'}
              onChange={(v) => set({ whole: v === 'whole' || undefined })}
              options={[
                { value: 'sum', label: words.theTotalIsRight },
                { value: 'whole', label: words.eachDesignIsComplete },
              ]}
            />
          </Row>
          {card?.sure !== undefined && (
            <p className="follows">
              {f.whole
                ? words.sureThatEachDesignIs(percent(card.sure))
                : words.sureOfTheTotalIf(
                    percent(card.sure),
                    card.sureWhole !== undefined ? words.thatEachIsComplete(percent(card.sureWhole)) : '',
                  )}
            </p>
          )}
        </>
      )}
      {list.length === 0 && <p className="follows">{words.oneDesignAddDesignsTo}</p>}
      {list.map((d, i) => (
        <div key={i} className="coating design">
          <Row
            label={
              <Input
                aria-label={words.nameOfDesign(i + 1)}
                value={d.name}
                onChange={(e) => change(i, { name: e.target.value })}
              />
            }
            fault={fault(`finishes[${i}].name`) ?? fault(`finishes[${i}].parts`)}
          >
            <InputNumber
              aria-label={words.piecesOfInASet(d.name)}
              value={d.parts}
              min={1}
              controls={false}
              style={{ width: 52 }}
              onChange={(parts) => parts !== null && change(i, { parts: Math.round(parts) })}
            />{' '}
            {words.of} {list.reduce((n, x) => n + x.parts, 0)}
            <Button
              type="text"
              aria-label={words.leaveOut2(d.name)}
              onClick={() => follow({ finishes: without(list, i) })}
            >
              ×
            </Button>
          </Row>
          {roles.map((role) => {
            const at = (d.coatings ?? []).findIndex((c) => c.role === role)
            const own = at >= 0 ? d.coatings![at]! : undefined
            return (
              <Row
                key={role}
                label={roleWord[role]}
                fault={
                  own &&
                  (fault(`finishes[${i}].coatings[${at}].ingredient`) ?? fault(`finishes[${i}].coatings[${at}].each`))
                }
              >
                <Select
                  aria-label={words.ofWord(roleWord[role], d.name)}
                  value={own?.ingredient ?? ''}
                  style={{ width: 150 }}
                  onChange={(id) => melted(i, role, id)}
                  options={[
                    { value: '', label: f.coatings.some((c) => c.role === role) ? words.asAll : 'none' },
                    ...chocolates.map((c) => ({ value: c.id, label: c.name })),
                  ]}
                />
                {own?.each && (
                  <AmountInput
                    label={words.onAPieceOf(roleWord[role], d.name)}
                    width={70}
                    value={own.each}
                    onChange={(each) => change(i, { coatings: changed(d.coatings!, at, { each }) })}
                  />
                )}
              </Row>
            )
          })}
          <Portions
            name=""
            path={`finishes[${i}].portions`}
            list={d.portions ?? []}
            set={(portions) => change(i, { portions })}
            inside={false}
            pantry={pantry}
          />
        </div>
      ))}
      <Button
        type="link"
        className="link"
        onClick={() =>
          follow({
            finishes: [
              ...list,
              { name: words.design(list.length + 1), parts: starting.parts, coatings: [], portions: [] },
            ],
          })
        }
      >
        {words.addADesign}
      </Button>
      {fault('finishes') && <Fault text={fault('finishes')!} />}
    </Group>
  )
}

/** Where people differ: a default, and its reason when the name is touched. */
function Choices({ f, follow, choices }: Editing) {
  const fault = useFault()
  const choose = (id: string, option: string) => {
    const made = { ...f.choices, [id]: option }
    const change: Partial<Formula> = { choices: made }
    if (id === 'shape' && f.shell) {
      change.shell =
        option === 'cup'
          ? {
              ...f.shell,
              across: starting.brim,
              base: f.shell.base ?? starting.foot,
              height: f.shell.height ?? starting.height,
            }
          : { ...f.shell, across: starting.ball, base: undefined, height: undefined }
      delete made.coats
    }
    if (id === 'style' && option === 'plain') change.coatings = f.coatings.filter((c) => c.role !== 'layer')
    if (id === 'style' && option !== 'plain' && !f.coatings.some((c) => c.role === 'layer')) {
      change.coatings = [
        ...f.coatings,
        {
          role: 'layer',
          ingredient: f.coatings[0]!.ingredient,
          share: option === 'trail' ? starting.trail : starting.layer,
          pool: starting.layerPool,
        },
      ]
    }
    if (id === 'shape' && traitsOf(f.family).drawn === 'rod' && option === 'twist' && f.centre)
      change.centre = { ...f.centre, across: undefined, length: undefined }
    follow(change)
  }
  return (
    <Group name={words.how}>
      {choices.map((c) => (
        <Row
          key={c.id}
          label={<Figure why={(c.options ?? []).map((o) => `${o.name}: ${o.why}`).join('\n')}>{c.name}</Figure>}
          fault={fault(`choices.${c.id}`)}
        >
          {(c.options ?? []).length > 2 || (c.options ?? []).some((o) => o.name.length > 14) ? (
            <Select
              aria-label={c.name}
              value={f.choices[c.id] ?? c.options![0]!.id}
              style={{ width: 168 }}
              onChange={(v) => choose(c.id, v)}
              options={c.options!.map((o) => ({ value: o.id, label: o.name }))}
            />
          ) : (
            <Segmented
              aria-label={c.name}
              value={f.choices[c.id] ?? c.options![0]!.id}
              onChange={(v) => choose(c.id, String(v))}
              options={c.options!.map((o) => ({ value: o.id, label: o.name }))}
            />
          )}
        </Row>
      ))}
    </Group>
  )
}

/** One of a kind of packaging for each piece, to begin with. */
const packOf = (s: Schemas['LarderSupply']) => ({
  supply: s.id,
  amount: { amount: 1, unit: s.stock.unit === 'each' ? ('each' as const) : ('cm' as const) },
  per: 1,
})

function Packs({ f, set }: Editing) {
  const fault = useFault()
  const supplies = useQuery({ queryKey: ['supplies'], queryFn: () => ask(api.GET('/api/v1/supplies', {})) })
  const list = f.packs ?? []
  const [adding, setAdding] = useState<number>()
  return (
    <Group name={words.packedIn}>
      {list.map((p, i) => (
        <Row
          key={i}
          label={
            <Select
              aria-label={words.packaging}
              value={p.supply}
              style={{ width: 130 }}
              popupMatchSelectWidth={false}
              options={[
                ...(supplies.data?.supplies ?? []).map((s) => ({ value: s.id, label: s.name })),
                { value: 'new', label: words.newPackaging },
              ]}
              onChange={(supply) => (supply === 'new' ? setAdding(i) : set({ packs: changed(list, i, { supply }) }))}
            />
          }
          fault={fault(`packs[${i}].supply`) ?? fault(`packs[${i}].per`)}
        >
          <AmountInput
            label={words.amountOfPackaging}
            width={74}
            value={p.amount}
            fault={fault(`packs[${i}].amount`)}
            onChange={(amount) => set({ packs: changed(list, i, { amount }) })}
          />
          <span className="soft">{words.for}</span>
          <InputNumber
            aria-label={words.servesSoMany}
            value={p.per}
            min={1}
            controls={false}
            style={{ width: 52 }}
            onChange={(per) => per !== null && set({ packs: changed(list, i, { per }) })}
          />
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
          <Hint of="begun">{words.sticksCupsAndTheLike}</Hint>
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
          else setAdding(list.length)
        }}
      >
        {words.addPackaging}
      </Button>
      {adding !== undefined && (
        <SupplyForm
          close={(made) => {
            setAdding(undefined)
            if (!made) return
            void supplies.refetch()
            set({
              packs: adding < list.length ? changed(list, adding, { supply: made.id }) : [...list, packOf(made)],
            })
          }}
        />
      )}
    </Group>
  )
}
