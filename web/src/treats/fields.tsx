import { useQuery } from '@tanstack/react-query'
import { Button, InputNumber, Select } from 'antd'
import { createContext, type ReactNode, useContext, useMemo, useState } from 'react'
import { Link } from 'react-router'
import { api, ask, Refused, type Schemas } from '../api/client'
import { AmountInput } from '../kit/AmountInput'
import { IngredientForm } from '../larder/IngredientForm'
import { QuickIngredient } from '../larder/QuickIngredient'
import type { Formula } from './TreatPage'
import { words } from './words'
import './treats.css'

export type Quantity = Schemas['MeasureQuantity']
export type Ingredient = Schemas['LarderIngredient']
export type Mix = Schemas['TreatsMix']

/** The larder's ingredients and the mixes, as they are asked for. */
export function useAsked() {
  const larder = useQuery({ queryKey: ['ingredients'], queryFn: () => ask(api.GET('/api/v1/ingredients', {})) })
  const mixes = useQuery({ queryKey: ['mixes'], queryFn: () => ask(api.GET('/api/v1/mixes', {})) })
  return { larder, mixes }
}

/** What can go into a treat: the same object as long as nothing of it changes. */
export function usePantry() {
  const { larder, mixes } = useAsked()
  return useMemo(() => {
    const ingredients = new Map(larder.data?.ingredients.map((i) => [i.id, i]))
    const mixed = new Map(mixes.data?.mixes.map((m) => [m.id, m]))
    return {
      ingredients,
      mixes: mixed,
      ready: Boolean(larder.data && mixes.data),
      name: (id: string) => ingredients.get(id)?.name ?? mixed.get(id)?.name ?? 'it',
    }
  }, [larder.data, mixes.data])
}

export type Pantry = ReturnType<typeof usePantry>

/** What all of a treat is made of: it stays the same object while its designs, steps and notes are typed. */
export type Body = Omit<Formula, 'loss' | 'keeps' | 'finishes' | 'whole' | 'packs' | 'steps' | 'note' | 'kept'>

/** A change of a treat, made of it as it is when the change is made. */
export type Change = Partial<Formula> | ((now: Formula) => Partial<Formula>)

/** A treat that is being edited. What it is drawn from stays the same as long as it says the same: see useEditing. */
export interface Editing {
  f: Body
  set: (change: Change) => void
  /** As set, and the steps that the family proposes follow. */
  follow: (change: Change) => void
  choices: Schemas['TreatsChoice'][]
  sizes?: Schemas['BatchSizes']
  rounds?: Schemas['BatchRounds']
  pots?: Schemas['BatchPot'][]
  pantry: Pantry
}

export const changeOf = (change: Change, now: Formula) => (typeof change === 'function' ? change(now) : change)

/** A starting value, or what the card has for it, in the same unit. */
export const like = (begins: Quantity, known: Schemas['MeasureShown'] | undefined, decimals: number) =>
  known ? { amount: Number(known.amount.toFixed(decimals)), unit: begins.unit } : begins

interface Faults {
  (path: string): string | undefined
  code: (message: string) => string | undefined
}

/** The faults of some answers, by path; and what each is in a word, by what is said of it. */
export function faultsOf(answers: (Error | null | undefined)[], located = (path: string) => path): Faults {
  const wrong = answers.filter((e): e is Refused => e instanceof Refused)
  return Object.assign((path: string) => wrong.map((e) => e.at(located(path))).find(Boolean), {
    code: (message: string) => wrong.map((e) => e.code(message)).find(Boolean),
  })
}

/** Faults that are mended by entering something of the ingredient. */
const properties = [
  'measure.density-missing',
  'measure.weight-per-piece-missing',
  'measure.unit-unknown',
  'family.density-missing',
  'family.has-no-weight-per-piece',
  'family.has-no-size-choose-one',
]

/** The faults of what is being edited, by path, for the fields below. */
export const FaultContext = createContext<Faults>(Object.assign(() => undefined, { code: () => undefined }))
export const useFault = () => useContext(FaultContext)

export const Group = ({ name, children }: { name: ReactNode; children: ReactNode }) => (
  <section className="group">
    <h3>{name}</h3>
    {children}
  </section>
)

export const Row = ({
  label,
  children,
  fault,
  of,
  path,
}: {
  label: ReactNode
  children: ReactNode
  fault?: string
  of?: string
  path?: string
}) => (
  <div className="number-row" data-path={path}>
    <span className="number-label">{label}</span>
    <span className="number-value">{children}</span>
    {fault && <Fault text={fault} of={of} />}
  </div>
)

/** A fault; where a property of an ingredient is missing, with the way to enter it. */
export function Fault({ text, of }: { text: string; of?: string }) {
  const [entering, setEntering] = useState(false)
  const pantry = usePantry()
  const missing = properties.includes(useContext(FaultContext).code(text) ?? '')
  const ingredient = of ? pantry.ingredients.get(of) : undefined
  const mix = of ? pantry.mixes.get(of) : undefined
  return (
    <span className="fault" role="alert">
      {text}{' '}
      {missing && ingredient && (
        <Button type="link" className="link" onClick={() => setEntering(true)}>
          {words.enterItFor} {ingredient.name}
        </Button>
      )}
      {missing && mix && (
        <Link to={`/treats/mixes/${mix.id}`}>
          {words.enterItFor} {mix.name}
        </Link>
      )}
      {entering && ingredient && <IngredientForm ingredient={ingredient} close={() => setEntering(false)} />}
    </span>
  )
}

/** A number with its unit. */
export function NumberRow({
  label,
  value,
  onChange,
  path,
  unit,
  step = 1,
  max,
  width = 110,
  name,
}: {
  label: ReactNode
  value: number
  onChange: (n: number) => void
  path: string
  unit?: string
  step?: number
  max?: number
  width?: number
  name?: string
}) {
  const fault = useFault()(path)
  return (
    <Row label={label} fault={fault} path={path}>
      <InputNumber
        aria-label={name ?? (typeof label === 'string' ? label : path)}
        value={Number(value.toFixed(3))}
        step={step}
        min={0}
        max={max}
        suffix={unit}
        controls={false}
        status={fault ? 'error' : undefined}
        style={{ width }}
        onChange={(n) => n !== null && onChange(n)}
      />
    </Row>
  )
}

/** An amount in any unit. */
export function AmountRow({
  label,
  value,
  onChange,
  path,
  of,
}: {
  label: string
  value: Quantity
  onChange: (q: Quantity) => void
  path: string
  of?: string
}) {
  const fault = useFault()(path)
  return (
    <Row label={label} fault={fault} of={of} path={path}>
      <AmountInput label={label} value={value} onChange={onChange} of={of} />
    </Row>
  )
}

/** An amount that may be left out: a link adds it with what it begins with, a cross takes it away again. */
export function OptionalAmount({
  label,
  add,
  value,
  begins,
  onChange,
  path,
  of,
}: {
  label: string
  add: string
  value?: Quantity
  begins: Quantity
  onChange: (q?: Quantity) => void
  path: string
  of?: string
}) {
  const fault = useFault()(path)
  if (!value)
    return (
      <Button type="link" className="link" onClick={() => onChange(begins)}>
        {add}
      </Button>
    )
  return (
    <Row label={label} fault={fault} of={of} path={path}>
      <AmountInput label={label} value={value} onChange={onChange} of={of} />
      <Button type="text" aria-label={words.leaveOut3(label)} onClick={() => onChange(undefined)}>
        ×
      </Button>
    </Row>
  )
}

/** Chooses an ingredient or a mix, and opens it. */
export function Pick({
  label,
  value,
  onChange,
  only,
  path,
  width = 186,
}: {
  label: string
  value: string
  onChange: (id: string) => void
  only: (i: Ingredient | Mix, mix: boolean) => boolean
  path: string
  width?: number
}) {
  const pantry = usePantry()
  const fault = useFault()(path)
  const [open, setOpen] = useState(false)
  const options = useMemo(() => {
    const of = (list: Iterable<Ingredient | Mix>, mix: boolean) =>
      [...list].filter((i) => only(i, mix)).map((i) => ({ value: i.id, label: i.name }))
    const mixes = of(pantry.mixes.values(), true)
    const ingredients = of(pantry.ingredients.values(), false)
    return mixes.length > 0
      ? [
          { label: words.mixes, options: mixes },
          { label: words.larder, options: ingredients },
        ]
      : ingredients
  }, [pantry, only])
  const ingredient = pantry.ingredients.get(value)
  const [sought, setSought] = useState('')
  const [adding, setAdding] = useState<{ name: string; common?: Schemas['FoodStarter'] }>()
  const starting = useStarting()
  const text = sought.trim()
  // What is common and not in the larder is found as well; what is in neither can be made under its name.
  const common = useMemo(() => {
    if (text.length < 2) return []
    const there = new Set([...pantry.ingredients.values()].map((i) => i.name.toLowerCase()))
    return (starting.data?.ingredients ?? []).filter(
      (i) => !there.has(i.name.toLowerCase()) && matches(i.name, text) && only(i as unknown as Ingredient, false),
    )
  }, [text, starting.data, pantry, only])
  return (
    <span className="pick" data-path={path}>
      <Select
        aria-label={label}
        value={pantry.ready && value ? value : undefined}
        placeholder={words.chooseOrType}
        loading={!pantry.ready}
        onChange={(id) => {
          setSought('')
          if (id === fresh) setAdding({ name: text })
          else if (id.startsWith(commonly))
            setAdding({ name: id.slice(commonly.length), common: common.find((i) => commonly + i.name === id) })
          else onChange(id)
        }}
        showSearch={{
          onSearch: setSought,
          filterOption: (text, o) => o?.value === fresh || matches(String(o?.label), text),
        }}
        style={{ width }}
        popupMatchSelectWidth={false}
        status={fault ? 'error' : undefined}
        options={
          [
            ...options,
            ...(common.length > 0
              ? [
                  {
                    label: words.commonIngredients,
                    options: common.map((i) => ({ value: commonly + i.name, label: i.name })),
                  },
                ]
              : []),
            { value: fresh, label: text ? words.addNamed(text) : words.newIngredient },
          ] as { value: string; label: string }[]
        }
      />
      {ingredient && (
        <Button
          type="text"
          className="look-at"
          aria-label={words.view(ingredient.name)}
          title={words.detailsAndWhatItIs(ingredient.name)}
          onClick={() => setOpen(true)}
        >
          …
        </Button>
      )}
      {pantry.mixes.has(value) && (
        <Link
          className="look-at"
          aria-label={words.view(pantry.name(value))}
          title={words.theMixAndWhatIt}
          to={`/treats/mixes/${value}`}
        >
          …
        </Link>
      )}
      {fault && !adding && <Fault text={fault} of={value} />}
      {open && ingredient && <IngredientForm ingredient={ingredient} close={() => setOpen(false)} />}
      {adding && (
        <QuickIngredient
          name={adding.name}
          common={adding.common}
          close={(made) => {
            setAdding(undefined)
            if (made) onChange(made.id)
          }}
        />
      )}
    </span>
  )
}

/** Common ingredients that a larder can begin with. */
export const useStarting = () =>
  useQuery({
    queryKey: ['starting'],
    queryFn: () => ask(api.GET('/api/v1/starting-ingredients', {})),
    staleTime: Infinity,
  })

/** Whether a name has all the words that are sought: "condensed milk" finds "Sweetened condensed milk". */
const matches = (name: string, sought: string) =>
  sought
    .toLowerCase()
    .split(/\s+/)
    .every((word) => name.toLowerCase().includes(word))

/** The common ingredient that is meant by a name, where one has all its words, the shortest of them. */
export const commonOf = (name: string, list: Schemas['FoodStarter'][]) =>
  list.filter((i) => matches(i.name, name)).sort((a, b) => a.name.length - b.name.length)[0]

const commonly = 'common '

/** The option of a list that makes what is missed in it. */
const fresh = 'new'

export const isChocolate = (i: Ingredient | Mix) => 'chocolate' in i && Boolean(i.chocolate)
export const anything = () => true
export const notMelted = (i: Ingredient | Mix) => !isChocolate(i)
export const byPiece = (i: Ingredient | Mix, mix: boolean) =>
  !mix && Boolean((i as Ingredient).gramsEach) && !isChocolate(i)
export const byWeight = (i: Ingredient | Mix, mix: boolean) =>
  mix || ((i as Ingredient).unit === 'g' && !isChocolate(i))

/** List editing: with one changed, or one left out. */
export const changed = <T,>(list: T[], at: number, change: Partial<T>) =>
  list.map((x, i) => (i === at ? { ...x, ...change } : x))
export const without = <T,>(list: T[], at: number) => list.filter((_, i) => i !== at)
