import { Button, Input, InputNumber, Select } from 'antd'
import { useState } from 'react'
import type { Schemas } from '../api/client'
import { starting } from '../api/families'
import { AmountInput } from '../kit/AmountInput'
import type { Coating } from './ChocolateFields'
import { notMelted, type Pantry, Pick, Row, useFault } from './fields'
import { words } from './words'
import './treats.css'

/** What is stirred in; of a tint also what waits until it is judged, and what it comes to. */
type Stirred = Schemas['TreatStirred'] & Partial<Judged>
type Judged = Omit<Schemas['TreatTint'], keyof Schemas['TreatStirred']>

interface Props {
  coating: Coating
  path: string
  change: (x: Partial<Coating>) => void
  pantry: Pantry
  name: string
  pot?: Schemas['BatchPot']
}

/** What is stirred into the bowl, and how it is melted: opened when it is wanted. */
export function BowlRows({ coating, path, change, pantry, name, pot }: Props) {
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
