import { Input, Select } from 'antd'
import { useCallback, useMemo } from 'react'
import type { Schemas } from '../api/client'
import { traitsOf } from '../api/families'
import { CentreFields } from './CentreFields'
import { Choices } from './ChoiceFields'
import { Chocolates } from './ChocolateFields'
import { Designs } from './DesignFields'
import { type Body, type Change, type Editing, Fault, Group, NumberRow, type Pantry, Row, useFault } from './fields'
import { Packs } from './PackFields'
import { PieceRows } from './PieceFields'
import { Portions } from './PortionFields'
import { Mould, Sheet, Shell } from './ShapeFields'
import type { Formula } from './TreatPage'
import { words } from './words'
import './treats.css'

interface Whole {
  f: Formula
  set: (change: Change) => void
  follow: (change: Change) => void
  choices: Schemas['TreatsChoice'][]
  card?: Schemas['BatchCard']
  pantry: Pantry
}

/** What all of a treat is made of: the same object while its designs, steps and notes are typed. */
export function useBody(f: Formula): Body {
  const { family, choices, shell, centre, sheet, mould, coatings, portions } = f
  return useMemo(
    () => ({ family, choices, shell, centre, sheet, mould, coatings, portions }),
    [family, choices, shell, centre, sheet, mould, coatings, portions],
  )
}

/** A treat with what its fields are drawn from, each part the same as long as it says the same. */
const useEditing = ({ f, set, follow, choices, card, pantry }: Whole): Editing => ({
  f: useBody(f),
  set,
  follow,
  choices,
  sizes: card?.sizes,
  rounds: card?.rounds,
  pots: card?.pots,
  pantry,
})

/** The numbers of a treat, by what they are about. Which there are follows from the family. */
export function Numbers(whole: Whole) {
  const e = useEditing(whole)
  const { f, set } = e
  const is = traitsOf(f.family)
  const one = words.aUnit(is.unit)
  const setPortions = useCallback((portions: Formula['portions']) => set({ portions }), [set])
  return (
    <div className="numbers">
      {f.shell && <Shell {...e} />}
      {f.mould && <Mould {...e} />}
      {(f.centre || (is.centre && is.inside)) && <CentreFields {...e} />}
      {f.sheet && <Sheet {...e} />}
      <Chocolates {...e} one={one} />
      <Portions
        name={is.inside ? words.inAndOn(one) : words.on(one)}
        path="portions"
        list={f.portions}
        set={setPortions}
        f={f}
        rest={e.sizes?.rest}
        pantry={e.pantry}
      />
      {is.designs && (
        <Designs
          {...e}
          one={one}
          finishes={whole.f.finishes}
          whole={whole.f.whole}
          sure={whole.card?.sure}
          sureWhole={whole.card?.sureWhole}
          shares={whole.card?.designs}
        />
      )}
      <Packs packs={whole.f.packs} set={set} />
    </div>
  )
}

/** How it is made where people differ, what is lost and how long it keeps: beside the drawing. */
export function Ways(whole: Whole) {
  const e = useEditing(whole)
  const { f, set } = whole
  return (
    <div className="ways">
      <Choices {...e} />
      <Group name={words.lossAndShelfLife}>
        <NumberRow
          label={traitsOf(f.family).bagged ? words.crumbs : words.loss}
          value={f.loss * 100}
          onChange={(n) => set({ loss: n / 100 })}
          path="loss"
          unit="%"
          step={0.5}
        />
        <NumberRow
          label={words.keeps}
          value={f.keeps}
          onChange={(keeps) => set({ keeps: Math.round(keeps) })}
          path="keeps"
          unit="h"
        />
      </Group>
      <KeptRows kept={f.kept} usual={whole.card?.kept} set={set} />
      {!traitsOf(f.family).bagged && <PieceRows piece={f.piece} extent={whole.card?.extent} set={set} />}
      <TreatNote note={f.note} set={set} />
    </div>
  )
}

/** How finished pieces are kept: what is not said follows from what is in them. */
function KeptRows({ kept, usual, set }: { kept: Formula['kept']; usual?: Schemas['BatchKept']; set: Whole['set'] }) {
  const fault = useFault()
  const change = (x: Partial<NonNullable<Formula['kept']>>) =>
    set((now) => {
      const next = { ...now.kept, ...x }
      return { kept: next.where || next.frozen || next.thaw ? next : undefined }
    })
  return (
    <Group name={words.keeping}>
      <Row label={words.keptWhere} fault={fault('kept.where')} path="kept.where">
        <Select
          aria-label={words.keptWhere}
          value={kept?.where ?? ''}
          style={{ width: 150 }}
          onChange={(where) => change({ where: (where || undefined) as NonNullable<Formula['kept']>['where'] })}
          options={[
            { value: '', label: words.asUsual },
            { value: 'tin', label: words.inAClosedTin },
            { value: 'cool', label: words.coolAndDry },
            { value: 'fridge', label: words.inTheFridge },
          ]}
        />
      </Row>
      <NumberRow
        label={words.weeksFrozen}
        value={kept?.frozen ?? 0}
        onChange={(n) => change({ frozen: Math.round(n) || undefined })}
        path="kept.frozen"
      />
      <NumberRow
        label={words.thawsIn}
        value={kept?.thaw ?? 0}
        onChange={(n) => change({ thaw: Math.round(n) || undefined })}
        path="kept.thaw"
        unit={words.min}
      />
      {usual && <p className="follows">{usual.text.join(' ')}</p>}
    </Group>
  )
}

/** What the seller notes of the treat: it stands on the card, the run sheet and the paper. */
function TreatNote({ note, set }: { note?: string; set: Whole['set'] }) {
  const fault = useFault()('note')
  return (
    <Group name={words.note}>
      <div data-path="note">
        <Input.TextArea
          aria-label={words.noteOfTheTreat}
          value={note ?? ''}
          rows={3}
          placeholder={words.noteExample}
          status={fault ? 'error' : undefined}
          onChange={(e) => set({ note: e.target.value || undefined })}
        />
      </div>
      {fault && <Fault text={fault} />}
    </Group>
  )
}
