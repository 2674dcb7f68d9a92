import { useQuery } from '@tanstack/react-query'
import { Button, Input, InputNumber, Segmented, Select } from 'antd'
import { useState } from 'react'
import { api, ask, etag, type Schemas } from '../api/client'
import { useFamilies } from '../api/families'
import { useSheetForm } from '../device/useSheetForm'
import { Fault, Field } from '../kit/Field'
import { Sheet } from '../kit/Sheet'
import { Link } from '../shell/Go'
import { PaidField } from './PaidField'
import { words } from './words'
import './larder.css'

type Ingredient = Schemas['LarderIngredient']
type Fields = Schemas['LarderIngredientFields']

const kinds = Object.keys(words.kinds) as (keyof typeof words.kinds)[]
const diets: NonNullable<Fields['diets']> = ['vegan', 'no alcohol', 'no gelatine', 'low sugar']
/** What a new ingredient begins with. */
export const fresh: Fields = {
  name: '',
  kind: 'other',
  unit: 'g',
  measures: [],
  fit: 1,
  allergens: [],
  diets: ['no alcohol', 'no gelatine'],
  madeOf: [],
  paid: '0.00',
  paidFor: { amount: 500, unit: 'g' },
}

function fieldsOf(ingredient: Ingredient): Fields {
  const { id: _id, revision: _revision, paidForShown: _shown, sizes: _sizes, ...fields } = ingredient
  return fields
}

/** What is known of an ingredient, and what it is used in. A new one can begin from a common one. */
export function IngredientForm({
  ingredient,
  close,
  name,
}: {
  ingredient?: Ingredient
  close: (made?: Ingredient) => void
  name?: string
}) {
  const { f, set, save, over, fault, notice, rest } = useSheetForm<Fields, Ingredient>({
    place: `ingredient/${ingredient?.id ?? `new ${name ?? ''}`}`,
    title: words.newIngredient,
    to: '/larder',
    begun: ingredient ? fieldsOf(ingredient) : { ...fresh, name: name ?? '' },
    revision: ingredient?.revision,
    fieldsOf,
    create: (body, key) =>
      ask(api.POST('/api/v1/ingredients', { params: { header: { 'Idempotency-Key': key } }, body })),
    put: (body, revision) =>
      ask(
        api.PUT('/api/v1/ingredients/{id}', {
          params: { path: { id: ingredient!.id }, header: { 'If-Match': etag(revision) } },
          body,
        }),
      ),
    done: close,
  })
  const [source, setSource] = useState<string>()
  const allergens = useQuery({
    queryKey: ['allergens'],
    queryFn: () => ask(api.GET('/api/v1/allergens', {})),
    staleTime: Infinity,
  })
  const starting = useQuery({
    queryKey: ['starting'],
    queryFn: () => ask(api.GET('/api/v1/starting-ingredients', {})),
    staleTime: Infinity,
    enabled: !ingredient,
  })
  const used = useQuery({
    queryKey: ['ingredient', ingredient?.id],
    queryFn: () => ask(api.GET('/api/v1/ingredients/{id}', { params: { path: { id: ingredient!.id } } })),
    enabled: Boolean(ingredient),
  })
  const optional = (key: 'density' | 'gramsEach', label: string, unit: string) => (
    <Field label={label} fault={fault(key)}>
      <InputNumber
        value={f[key] ?? null}
        min={0}
        controls={false}
        suffix={unit}
        style={{ width: 150 }}
        onChange={(n) => set({ [key]: n ?? undefined })}
      />
    </Field>
  )
  const measures = f.measures ?? []
  return (
    <Sheet title={ingredient ? ingredient.name : words.ingredient} close={() => close()} cancel={over} onOk={save}>
      {notice}
      {!ingredient && (
        <Field
          label={words.startFromACommonIngredient}
          help={
            source && (
              <>
                {words.commonValues}
                {source}
                {words.yoursMayDifferGoBy}
              </>
            )
          }
        >
          <Select
            aria-label={words.startFromACommonIngredient}
            placeholder={words.butterHazelnutsDarkChocolate}
            style={{ width: '100%' }}
            showSearch={{ optionFilterProp: 'label' }}
            value={undefined as string | undefined}
            options={starting.data?.ingredients.map((i) => ({ value: i.name, label: i.name }))}
            onChange={(chosen) => {
              const common = starting.data?.ingredients.find((i) => i.name === chosen)
              if (!common) return
              const { source: from, ...fields } = common
              set({
                ...fields,
                density: fields.density,
                gramsEach: fields.gramsEach,
                fresh: fields.fresh,
                chocolate: fields.chocolate,
                paidFor: { amount: f.paidFor.amount, unit: 'g' },
              })
              setSource(from)
            }}
          />
        </Field>
      )}
      <Field label={words.name} fault={fault('name')}>
        <Input value={f.name} onChange={(e) => set({ name: e.target.value })} />
      </Field>
      <Field label={words.kind} fault={fault('kind')}>
        <Select
          aria-label={words.kind}
          value={f.kind}
          style={{ width: 150 }}
          onChange={(kind) =>
            set({
              kind,
              chocolate: kind === 'chocolate' ? (f.chocolate ?? { kind: 'real', colour: 'dark' }) : undefined,
            })
          }
          options={kinds.map((k) => ({ value: k, label: words.kinds[k] }))}
        />
      </Field>
      {f.chocolate && (
        <Field label={words.chocolate} fault={fault('chocolate.bands')} help={words.realChocolateHasCocoaButter} group>
          <Select
            aria-label={words.chocolate}
            value={`${f.chocolate.kind} ${f.chocolate.colour}`}
            style={{ width: 190 }}
            onChange={(v) => {
              const [kind, colour] = v.split(' ')
              set({
                chocolate: {
                  ...f.chocolate,
                  kind: kind as 'real',
                  colour: colour as 'dark',
                  bands: kind === 'real' ? f.chocolate?.bands : undefined,
                },
              })
            }}
            options={['real', 'compound'].flatMap((kind) =>
              ['dark', 'milk', 'white'].map((colour) => ({ value: `${kind} ${colour}`, label: `${kind}, ${colour}` })),
            )}
          />
          {f.chocolate.kind === 'real' && <Temperatures of={f.chocolate} set={(chocolate) => set({ chocolate })} />}
        </Field>
      )}
      {!ingredient && (
        <Field label={words.counted} fault={fault('unit')}>
          <Segmented<'g' | 'each'>
            value={f.unit}
            onChange={(unit) => set({ unit, paidFor: { amount: f.paidFor.amount, unit } })}
            options={[
              { value: 'g', label: words.byWeight },
              { value: 'each', label: words.byThePiece },
            ]}
          />
        </Field>
      )}
      <div className="pair">
        {optional('density', words.weightPerMillilitre, 'g/mL')}
        {optional('gramsEach', words.weightPerPiece, 'g')}
      </div>
      <Field label={words.measuresOfItsOwnA} group>
        {measures.map((m, i) => (
          <span className="paid" key={i}>
            {words.one}{' '}
            <Input
              aria-label={words.nameOfTheMeasure}
              value={m.name}
              placeholder={words.packet}
              style={{ width: 120 }}
              onChange={(e) =>
                set({ measures: measures.map((x, j) => (j === i ? { ...x, name: e.target.value } : x)) })
              }
            />
            {words.weighs}{' '}
            <InputNumber
              aria-label={words.weightOfA(m.name)}
              value={m.grams}
              min={0}
              controls={false}
              suffix="g"
              style={{ width: 90 }}
              onChange={(n) => set({ measures: measures.map((x, j) => (j === i ? { ...x, grams: n ?? 0 } : x)) })}
            />
            <Button
              type="text"
              aria-label={words.leaveOutThe(m.name)}
              onClick={() => set({ measures: measures.filter((_, j) => j !== i) })}
            >
              ×
            </Button>
            <Fault>{fault(`measures[${i}].name`)}</Fault>
            <Fault>{fault(`measures[${i}].grams`)}</Fault>
          </span>
        ))}
        <Button type="link" className="link" onClick={() => set({ measures: [...measures, { name: '', grams: 0 }] })}>
          {words.addAMeasure}
        </Button>
      </Field>
      <Field label={words.usableShare} fault={fault('fit')}>
        <InputNumber
          value={Math.round(f.fit * 1000) / 10}
          min={0}
          max={100}
          controls={false}
          suffix="%"
          style={{ width: 110 }}
          onChange={(n) => set({ fit: (n ?? 0) / 100 })}
        />
      </Field>
      <Field label={words.keepsAtHomeFor} fault={fault('fresh')} help={words.wePutItOnThe}>
        <InputNumber
          value={f.fresh ?? null}
          min={1}
          max={365}
          precision={0}
          controls={false}
          suffix={words.days}
          style={{ width: 110 }}
          onChange={(n) => set({ fresh: n ?? undefined })}
        />
      </Field>
      <Field label={words.allergens} fault={fault('allergens')}>
        <Select
          aria-label={words.allergens}
          mode="multiple"
          value={f.allergens}
          onChange={(a) => set({ allergens: a })}
          options={allergens.data?.allergens.map((a) => ({
            value: a.name,
            label: a.us && a.eu ? a.name : `${a.name} (${a.us ? 'US' : 'EU'})`,
          }))}
          style={{ width: '100%' }}
        />
      </Field>
      <Field label={words.suits} fault={(f.diets ?? []).map((_, i) => fault(`diets[${i}]`)).find(Boolean)}>
        <Select
          aria-label={words.suits}
          mode="multiple"
          value={f.diets}
          onChange={(d) => set({ diets: d })}
          options={diets.map((d) => ({ value: d, label: d }))}
          style={{ width: '100%' }}
        />
      </Field>
      <Field label={words.madeOfForTheLabel}>
        <Input
          value={(f.madeOf ?? []).join(', ')}
          placeholder={words.sugarCocoaButterMilkPowder}
          onChange={(e) => set({ madeOf: e.target.value ? e.target.value.split(/, ?/) : [] })}
          onBlur={() => set({ madeOf: (f.madeOf ?? []).map((x) => x.trim()).filter(Boolean) })}
        />
      </Field>
      <PaidField f={f} set={set} fault={fault} of={ingredient?.id} />
      {used.data && <UsedIn uses={used.data.usedIn ?? []} />}
      {rest}
    </Sheet>
  )
}

/** What something is used in, each to be gone to. */
export const UsedIn = ({ uses }: { uses: Schemas['TreatUse'][] }) => (
  <p className="used-in">
    {uses.length === 0 ? words.notUsedInATreat : words.usedIn}
    {uses.map((u, i) => (
      <span key={u.id}>
        {i > 0 && ', '}
        <Link to={u.kind === 'mix' ? `/treats/mixes/${u.id}` : `/treats/${u.id}`}>{u.name}</Link>
      </span>
    ))}
  </p>
)

/** A real chocolate's own temperatures, where its maker gives them; they begin as those of its colour. */
function Temperatures({
  of,
  set,
}: {
  of: NonNullable<Fields['chocolate']>
  set: (c: NonNullable<Fields['chocolate']>) => void
}) {
  const families = useFamilies()
  if (!of.bands) {
    return (
      <Button
        type="link"
        className="link"
        disabled={!families.data}
        onClick={() => set({ ...of, bands: families.data?.bands[of.colour] })}
      >
        {words.addTheMakersTemperatures}
      </Button>
    )
  }
  const bands = of.bands
  return (
    <span className="temperatures">
      {(['melt', 'cool', 'work'] as const).map((name) => (
        <span key={name} className="paid">
          <span>{name}</span>{' '}
          {(['from', 'to'] as const).map((end) => (
            <InputNumber
              key={end}
              aria-label={`${name} ${end}, C`}
              value={bands[name][end]}
              controls={false}
              style={{ width: 62 }}
              onChange={(n) => n !== null && set({ ...of, bands: { ...bands, [name]: { ...bands[name], [end]: n } } })}
            />
          ))}{' '}
          °C
        </span>
      ))}
      <Button type="link" className="link" onClick={() => set({ ...of, bands: undefined })}>
        {words.useTheUsualOnesFor}
      </Button>
    </span>
  )
}
