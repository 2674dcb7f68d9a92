import { Button, Input, InputNumber, Segmented } from 'antd'
import { memo, useCallback, useMemo } from 'react'
import type { Schemas } from '../api/client'
import { starting, traitsOf, useFamilies } from '../api/families'
import { CentreRows, fillingOf } from './CentreFields'
import { begun, CoatingRows, type Role, roleWord, sharedOut } from './ChocolateFields'
import { changed, type Editing, Fault, Group, NumberRow, Row, useFault, without } from './fields'
import { Portions } from './PortionFields'
import { Asks } from '../kit/Asks'
import { useAllergens } from '../larder/allergens'
import { words } from './words'
import './treats.css'

type Finish = Schemas['TreatDesign']
type Portion = Schemas['TreatAddition']

const percent = (share: number) => `${Math.round(share * 1000) / 10}%`

interface Set extends Editing {
  one: string
  finishes?: Finish[]
  whole?: boolean
  sure?: number
  sureWhole?: number
  shares?: Schemas['BatchDesignShare'][]
}

/** Designs that a count is split into: each with what it has of its own, in place of what all have. */
export const Designs = memo(function Designs(e: Set) {
  const { f, follow, set, whole, sure, sureWhole } = e
  const fault = useFault()
  const list = e.finishes ?? []
  const total = list.reduce((n, x) => n + x.parts, 0)
  // A design changes itself among those that there are then: its row is not drawn anew when another is typed.
  const actions = useMemo(
    () => ({
      change: (i: number, x: Partial<Finish>) => set((now) => ({ finishes: changed(now.finishes ?? [], i, x) })),
      follow: (i: number, x: Partial<Finish>) => follow((now) => ({ finishes: changed(now.finishes ?? [], i, x) })),
      drop: (i: number) => follow((now) => ({ finishes: without(now.finishes ?? [], i) })),
    }),
    [set, follow],
  )
  return (
    <Group name={words.designs}>
      {list.length > 0 && (
        <>
          <Row label={words.aSetIsGoodWhen} path="whole">
            <Segmented
              aria-label={words.aSetIsGoodWhen}
              value={whole ? 'whole' : 'sum'}
              onChange={(v) => set({ whole: v === 'whole' || undefined })}
              options={[
                { value: 'sum', label: words.theTotalIsRight },
                { value: 'whole', label: words.eachDesignIsComplete },
              ]}
            />
          </Row>
          {sure !== undefined && (
            <p className="follows">
              {whole
                ? words.sureThatEachDesignIs(percent(sure))
                : words.sureOfTheTotalIf(
                    percent(sure),
                    sureWhole !== undefined ? words.thatEachIsComplete(percent(sureWhole)) : '',
                  )}
            </p>
          )}
        </>
      )}
      {list.length === 0 && <p className="follows">{words.oneDesignAddDesignsTo}</p>}
      {list.map((d, i) => (
        <DesignRows
          key={i}
          f={f}
          d={d}
          i={i}
          total={total}
          one={e.one}
          pantry={e.pantry}
          pots={e.pots}
          sizes={e.sizes}
          share={e.shares?.[i]}
          {...actions}
        />
      ))}
      <Button
        type="link"
        className="link"
        onClick={() =>
          follow((now) => ({
            finishes: [
              ...(now.finishes ?? []),
              { name: words.design(list.length + 1), parts: starting.parts, coatings: [], portions: [] },
            ],
          }))
        }
      >
        {words.addADesign}
      </Button>
      {fault('finishes') && <Fault text={fault('finishes')!} />}
    </Group>
  )
})

interface One {
  f: Editing['f']
  d: Finish
  i: number
  total: number
  one: string
  pantry: Editing['pantry']
  pots: Editing['pots']
  sizes: Editing['sizes']
  share?: Schemas['BatchDesignShare']
  change: (i: number, x: Partial<Finish>) => void
  follow: (i: number, x: Partial<Finish>) => void
  drop: (i: number) => void
}

const DesignRows = memo(function DesignRows({ d, i, one, f, pantry, pots, sizes, ...e }: One) {
  const fault = useFault()
  const families = useFamilies()
  const allergens = useAllergens()
  const is = traitsOf(f.family)
  const path = `finishes[${i}]`
  const own = d.coatings ?? []
  const change = (x: Partial<Finish>) => e.change(i, x)
  const changeFollow = (x: Partial<Finish>) => e.follow(i, x)
  const { change: changeOne } = e
  const setPortions = useCallback((portions: Portion[]) => changeOne(i, { portions }), [changeOne, i])
  const roles = (families.data?.families.find((x) => x.family === f.family)?.roles ?? []).filter(
    (r): r is Role =>
      r !== 'base' &&
      r !== 'layer' &&
      (r !== 'cap' || f.coatings.some((c) => c.role === 'cap') || f.choices.shape === 'cup'),
  )
  /** Its own chocolate of a role, like that of all. */
  const like = (role: Role) => {
    const all = f.coatings.find((c) => c.role === role)
    const any = f.coatings[0]?.ingredient ?? [...pantry.ingredients.values()].find((x) => x.chocolate)!.id
    return all ? { ...all, share: undefined } : begun(role, any, Boolean(f.sheet))
  }
  return (
    <div className="coating design">
      <Row
        label={
          <span data-path={`${path}.name`}>
            <Input
              aria-label={words.nameOfDesign(i + 1)}
              value={d.name}
              onChange={(x) => change({ name: x.target.value })}
            />
          </span>
        }
        fault={fault(`${path}.name`) ?? fault(`${path}.parts`)}
        path={`${path}.parts`}
      >
        <InputNumber
          aria-label={words.piecesOfInASet(d.name)}
          value={d.parts}
          min={1}
          controls={false}
          style={{ width: 52 }}
          onChange={(parts) => parts !== null && change({ parts: Math.round(parts) })}
        />{' '}
        {words.of} {e.total}
        <Button type="text" aria-label={words.leaveOut2(d.name)} onClick={() => e.drop(i)}>
          ×
        </Button>
      </Row>
      {is.centre && !is.picked && d.centre && (
        <>
          <CentreRows
            f={f}
            pantry={pantry}
            sizes={sizes}
            centre={d.centre}
            path={`${path}.centre`}
            name={words.ofWord(is.centre, d.name)}
            change={(x) => change({ centre: { ...d.centre!, ...x } })}
          />
          <Button type="link" className="link" onClick={() => change({ centre: undefined })}>
            {words.centreAsAll}
          </Button>
          {fault(`${path}.centre`) && <Fault text={fault(`${path}.centre`)!} />}
        </>
      )}
      {own.map((c, n) => (
        <CoatingRows
          key={n}
          coating={c}
          path={`${path}.coatings[${n}]`}
          one={one}
          design={d.name}
          thick={is.thick && c.role === 'coat'}
          marbled={c.role === 'shell' && own.filter((x) => x.role === 'shell').length > 1}
          pots={pots}
          sizes={sizes}
          pantry={pantry}
          change={(x) => change({ coatings: changed(own, n, x) })}
          drop={() => changeFollow({ coatings: sharedOut(without(own, n)) })}
        />
      ))}
      <p className="own-of">
        <span className="soft">{words.ofItsOwn}</span>{' '}
        {is.centre && !is.picked && !d.centre && fillingOf(pantry) && (
          <Button
            type="link"
            className="link"
            aria-label={words.ownOf(is.centre, d.name)}
            onClick={() =>
              change({
                centre: f.centre ?? { of: fillingOf(pantry)!, ...(is.thick ? { each: starting.centre } : {}) },
              })
            }
          >
            {is.centre}
          </Button>
        )}
        {roles
          .filter((r) => own.filter((c) => c.role === r).length < (r === 'drizzle' || r === 'shell' ? 3 : 1))
          .map((role) => (
            <Button
              key={role}
              type="link"
              className="link"
              aria-label={words.ownOf(roleWord(role), d.name)}
              onClick={() => changeFollow({ coatings: sharedOut([...own, like(role)]) })}
            >
              {roleWord(role)}
            </Button>
          ))}
      </p>
      <Portions name="" path={`${path}.portions`} list={d.portions} set={setPortions} f={f} pantry={pantry} />
      <NumberRow
        label={words.minutesMoreForEach}
        name={words.minutesMoreFor(d.name)}
        value={d.minutes ?? 0}
        step={0.25}
        onChange={(minutes) => change({ minutes: minutes || undefined })}
        path={`${path}.minutes`}
        unit={words.min}
        width={90}
      />
      <Row
        label={words.designIsToSuit}
        fault={fault(`${path}.wishes`) ?? fault(`${path}.freeFrom`)}
        path={`${path}.wishes`}
      >
        <span data-path={`${path}.freeFrom`}>
          <Asks
            label={words.designOfIsToSuit(d.name)}
            asked={d}
            allergens={allergens}
            change={(x) => change(x as Partial<Finish>)}
          />
        </span>
      </Row>
      {e.share && (
        <p className="follows">
          {e.share.allergens.length > 0 ? words.contains(e.share.allergens.join(', ')) : words.noneOfTheAllergensIn}
          {e.share.diets.length > 0 && words.suits(e.share.diets.join(', '))}
        </p>
      )}
    </div>
  )
})
