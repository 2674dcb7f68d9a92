import { useQuery, useQueryClient } from '@tanstack/react-query'
import { App, Button, Input, InputNumber, Segmented, Select } from 'antd'
import { useState } from 'react'
import { api, ask, etag, Refused, type Schemas } from '../api/client'
import { AmountInput } from '../kit/AmountInput'
import { lookOf } from '../kit/chocolate'
import { Sign } from '../kit/glyphs'
import { Sheet } from '../kit/Sheet'
import { allergens } from '../orders/draft'
import { useKitchen } from '../shell/kitchen'

type Ingredient = Schemas['LarderIngredient']
type Supply = Schemas['LarderSupply']

const newIngredient: Schemas['LarderIngredientFields'] = { name: '', unit: 'g', allergens: [], paid: '0.00', paidFor: { amount: 500, unit: 'g' } }
const newSupply: Schemas['LarderSupplyFields'] = { name: '', stock: { amount: 0, unit: 'each' }, paid: '0.00', paidFor: { amount: 100, unit: 'each' } }

/** Packaging with its stock, and ingredients with what they cost and what must be known to reckon with them. */
export default function Larder() {
  const kitchen = useKitchen()
  const supplies = useQuery({ queryKey: ['supplies'], queryFn: () => ask(api.GET('/api/v1/supplies', {})) })
  const ingredients = useQuery({ queryKey: ['ingredients'], queryFn: () => ask(api.GET('/api/v1/ingredients', {})) })
  const [supply, setSupply] = useState<Supply | 'new'>()
  const [ingredient, setIngredient] = useState<Ingredient | 'new'>()
  const money = (amount: string) => kitchen.money({ amount, currency: kitchen.session.currency ?? 'USD' })
  return (
    <>
      <section className="work">
        <header className="work-head">
          <h1>Ingredients</h1>
          <p className="soft">What was last paid makes the cost; weights and densities turn cups into grams.</p>
          <Button onClick={() => setIngredient('new')}>Add one</Button>
        </header>
        {ingredients.data?.ingredients.length === 0 && <p className="empty">What you make treats of stands here. Begin with a chocolate: press Add one.</p>}
        <ul className="jars">
          {ingredients.data?.ingredients.map((i) => {
            const look = i.chocolate && lookOf(i.chocolate)
            return (
              <li key={i.id}>
                <button type="button" onClick={() => setIngredient(i)} className="jar">
                  <span className="jar-name">
                    {look && <i className={`swatch c-${look.word}`} style={{ background: look.fill, borderColor: look.edge }} aria-hidden="true" />}
                    <b>{i.name}</b>
                    <small>{[i.chocolate && `${i.chocolate.kind} chocolate, ${look?.word}`, i.gramsEach && `${i.gramsEach} g each`, i.density && `${i.density} g/mL`, i.allergens.length > 0 && i.allergens.join(', ')].filter(Boolean).join(' · ') || 'nothing noted'}</small>
                  </span>
                  <span className="jar-price">{money(i.paid)} <small>for {kitchen.amount(i.paidForShown)}</small></span>
                </button>
              </li>
            )
          })}
        </ul>
      </section>
      <aside className="reckoning" aria-label="Packaging">
        <p className="kicker">Packaging</p>
        {supplies.data?.supplies.length === 0 && <p className="soft">Boxes, bags, liners and ribbon stand here with their stock. Packing an order takes them off the shelf.</p>}
        <ul className="jars">
          {supplies.data?.supplies.map((s) => {
            const short = s.setAside.amount > s.stock.amount
            return (
              <li key={s.id}>
                <button type="button" className="jar" onClick={() => setSupply(s)}>
                  <span className="jar-name"><b>{s.name}</b><small className={short ? 'trouble' : ''}>{short && <Sign kind="trouble" size={13} />} {kitchen.amount(s.setAside)} set aside for promised orders</small></span>
                  <span className="jar-price"><b>{kitchen.amount(s.shown)}</b></span>
                </button>
              </li>
            )
          })}
        </ul>
        <Button onClick={() => setSupply('new')}>Add packaging</Button>
      </aside>
      {supply && <SupplyForm key={supply === 'new' ? 'new' : supply.id} supply={supply === 'new' ? undefined : supply} close={() => setSupply(undefined)} />}
      {ingredient && <IngredientForm key={ingredient === 'new' ? 'new' : ingredient.id} ingredient={ingredient === 'new' ? undefined : ingredient} close={() => setIngredient(undefined)} />}
    </>
  )
}

/** What both forms do when they are saved. */
function useStore(close: () => void) {
  const queries = useQueryClient()
  const { message } = App.useApp()
  const [refused, setRefused] = useState<Refused>()
  return {
    refused,
    fault: (path: string) => refused?.at(path) && <span className="fault" role="alert">{refused.at(path)}</span>,
    store: async (send: Promise<unknown>, name: string) => {
      try {
        await send
        await queries.invalidateQueries()
        void message.success(`${name} is saved.`)
        close()
      } catch (error) {
        if (!(error instanceof Refused)) throw error
        setRefused(error)
        if (error.status === 412) await queries.invalidateQueries()
      }
    },
    rest: refused && !refused.problem.errors?.length ? <p className="fault" role="alert">{refused.status === 412 ? 'It was changed meanwhile. Close this, look at what it is now, and change it again.' : refused.message}</p> : null,
  }
}

function SupplyForm({ supply, close }: { supply?: Supply; close: () => void }) {
  const [f, setF] = useState<Schemas['LarderSupplyFields']>(supply ? { name: supply.name, stock: supply.stock, paid: supply.paid, paidFor: supply.paidFor } : newSupply)
  const { store, fault, rest } = useStore(close)
  const save = () => store(supply
    ? ask(api.PUT('/api/v1/supplies/{id}', { params: { path: { id: supply.id }, header: { 'If-Match': etag(supply.revision) } }, body: f }))
    : ask(api.POST('/api/v1/supplies', { params: { header: { 'Idempotency-Key': crypto.randomUUID() } }, body: f })), f.name)
  return (
    <Sheet title={supply ? supply.name : 'Packaging'} close={close} onOk={() => void save()}>
      <label className="field"><span>Name</span><Input value={f.name} onChange={(e) => setF({ ...f, name: e.target.value })} />{fault('name')}</label>
      <div className="field"><span>On the shelf</span><AmountInput label="On the shelf" value={f.stock} onChange={(stock) => setF({ ...f, stock })} />{fault('stock')}</div>
      {supply && <label className="field"><span>Why it changes</span><Input value={f.reason} placeholder="counted" onChange={(e) => setF({ ...f, reason: e.target.value })} /></label>}
      <div className="field"><span>Last paid</span><span className="paid"><Input aria-label="Last paid" value={f.paid} inputMode="decimal" onChange={(e) => setF({ ...f, paid: e.target.value })} style={{ width: 90 }} /> for <AmountInput label="For how much" value={f.paidFor} onChange={(paidFor) => setF({ ...f, paidFor })} /></span>{fault('paid')}{fault('paidFor')}</div>
      {rest}
    </Sheet>
  )
}

function IngredientForm({ ingredient, close }: { ingredient?: Ingredient; close: () => void }) {
  const [f, setF] = useState<Schemas['LarderIngredientFields']>(() => {
    if (!ingredient) return newIngredient
    const { id: _id, revision: _revision, paidForShown: _shown, ...fields } = ingredient
    return fields
  })
  const { store, fault, rest } = useStore(close)
  const save = () => store(ingredient
    ? ask(api.PUT('/api/v1/ingredients/{id}', { params: { path: { id: ingredient.id }, header: { 'If-Match': etag(ingredient.revision) } }, body: f }))
    : ask(api.POST('/api/v1/ingredients', { params: { header: { 'Idempotency-Key': crypto.randomUUID() } }, body: f })), f.name)
  const optional = (key: 'density' | 'gramsEach', label: string, unit: string) => (
    <label className="field"><span>{label}</span><InputNumber value={f[key] ?? null} min={0} controls={false} suffix={unit} style={{ width: 150 }} onChange={(n) => setF({ ...f, [key]: n ?? undefined })} />{fault(key)}</label>
  )
  return (
    <Sheet title={ingredient ? ingredient.name : 'Ingredient'} close={close} onOk={() => void save()}>
      <label className="field"><span>Name</span><Input value={f.name} onChange={(e) => setF({ ...f, name: e.target.value })} />{fault('name')}</label>
      {!ingredient && <div className="field"><span>Kept</span><Segmented<'g' | 'each'> value={f.unit} onChange={(unit) => setF({ ...f, unit, paidFor: { amount: f.paidFor.amount, unit } })} options={[{ value: 'g', label: 'by weight' }, { value: 'each', label: 'by the piece' }]} />{fault('unit')}</div>}
      <div className="field"><span>Chocolate</span>
        <Select aria-label="Chocolate" value={f.chocolate ? `${f.chocolate.kind} ${f.chocolate.colour}` : 'no'} style={{ width: 240 }}
          onChange={(v) => { const [kind, colour] = v.split(' '); setF({ ...f, chocolate: v === 'no' ? undefined : { kind: kind as 'real', colour: colour as 'dark', tint: f.chocolate?.tint } }) }}
          options={[{ value: 'no', label: 'it is none' }, ...['real', 'compound'].flatMap((kind) => ['dark', 'milk', 'white'].map((colour) => ({ value: `${kind} ${colour}`, label: `${kind}, ${colour}` })))]} />
        <small>Real chocolate has cocoa butter and is tempered; compound is melted and used.</small></div>
      {optional('density', 'Weight of a millilitre', 'g/mL')}
      {optional('gramsEach', 'Weight of a piece', 'g')}
      <div className="field"><span>Allergens</span><Select aria-label="Allergens" mode="multiple" value={f.allergens} onChange={(a) => setF({ ...f, allergens: a })} options={allergens.map((a) => ({ value: a, label: a }))} style={{ width: '100%' }} /></div>
      <div className="field"><span>Last paid</span><span className="paid"><Input aria-label="Last paid" value={f.paid} inputMode="decimal" onChange={(e) => setF({ ...f, paid: e.target.value })} style={{ width: 90 }} /> for <AmountInput label="For how much" value={f.paidFor} onChange={(paidFor) => setF({ ...f, paidFor })} /></span>{fault('paid')}{fault('paidFor')}</div>
      {rest}
    </Sheet>
  )
}
