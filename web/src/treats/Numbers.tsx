import { Input } from 'antd'
import { traitsOf } from '../api/families'
import { CentreFields } from './CentreFields'
import { Choices } from './ChoiceFields'
import { Chocolates } from './ChocolateFields'
import { Designs } from './DesignFields'
import { type Editing, Fault, Group, NumberRow, useFault } from './fields'
import { Packs } from './PackFields'
import { Portions } from './PortionFields'
import { Mould, Sheet, Shell } from './ShapeFields'
import { words } from './words'
import './treats.css'

/** The numbers of a treat, by what they are about. Which there are follows from the family. */
export function Numbers(e: Editing) {
  const { f } = e
  const is = traitsOf(f.family)
  const one = words.aUnit(is.unit)
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
        list={f.portions ?? []}
        set={(portions) => e.set({ portions })}
        f={f}
        rest={e.card?.sizes.rest}
        pantry={e.pantry}
      />
      {is.designs && <Designs {...e} one={one} />}
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
      <TreatNote {...e} />
    </div>
  )
}

/** What the seller notes of the treat: it stands on the card, the run sheet and the paper. */
function TreatNote({ f, set }: Editing) {
  const fault = useFault()('note')
  return (
    <Group name={words.note}>
      <div data-path="note">
        <Input.TextArea
          aria-label={words.noteOfTheTreat}
          value={f.note ?? ''}
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
