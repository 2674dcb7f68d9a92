import { useQuery } from '@tanstack/react-query'
import { Button, Input } from 'antd'
import { useState } from 'react'
import { api, ask, etag, type Schemas } from '../api/client'
import { AmountInput } from '../kit/AmountInput'
import { lookOf } from '../kit/chocolate'
import { Sign } from '../kit/glyphs'
import { Sheet } from '../kit/Sheet'
import { useKitchen } from '../shell/kitchen'
import { IngredientForm } from './IngredientForm'
import { useStore } from './store'

type Ingredient = Schemas['LarderIngredient']
type Supply = Schemas['LarderSupply']

/** The shelves of the larder, in order. */
const kinds: Ingredient['kind'][] = ['chocolate', 'fruit', 'nut', 'dairy', 'sugar', 'fat', 'baked', 'alcohol', 'flavour', 'colour', 'topping', 'other']
const kindWord: Partial<Record<Ingredient['kind'], string>> = { chocolate: 'Chocolate', fruit: 'Fruit', nut: 'Nuts and nut butters', dairy: 'Dairy', sugar: 'Sugars', fat: 'Fats', baked: 'Baked and flours', alcohol: 'Spirits', flavour: 'Flavours', colour: 'Colours', topping: 'Toppings', other: 'Other' }

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
        {kinds.map((kind) => {
          const list = ingredients.data?.ingredients.filter((i) => i.kind === kind) ?? []
          return list.length === 0 ? null : (
            <section key={kind} className="jar-shelf">
              <h2>{kindWord[kind] ?? kind}</h2>
              <ul className="jars">
                {list.map((i) => {
                  const look = i.chocolate && lookOf(i.chocolate)
                  return (
                    <li key={i.id}>
                      <button type="button" onClick={() => setIngredient(i)} className="jar">
                        <span className="jar-name">
                          {look && <i className={`swatch c-${look.word}`} style={{ background: look.fill, borderColor: look.edge }} aria-hidden="true" />}
                          <b>{i.name}</b>
                          <small>{[i.chocolate && `${i.chocolate.kind}, ${look?.word}`, i.gramsEach && `${i.gramsEach} g each`, i.density && `${i.density} g/mL`, i.fit < 1 && `${Math.round(i.fit * 100)} % fit to use`, (i.measures ?? []).length > 0 && (i.measures ?? []).map((m) => `${m.name} ${m.grams} g`).join(', '), i.allergens.length > 0 && i.allergens.join(', ')].filter(Boolean).join(' · ') || 'nothing noted'}</small>
                        </span>
                        <span className="jar-price">{money(i.paid)} <small>for {kitchen.amount(i.paidForShown)}</small></span>
                      </button>
                    </li>
                  )
                })}
              </ul>
            </section>
          )
        })}
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

function SupplyForm({ supply, close }: { supply?: Supply; close: () => void }) {
  const [f, setF] = useState<Schemas['LarderSupplyFields']>(supply ? { name: supply.name, stock: supply.stock, paid: supply.paid, paidFor: supply.paidFor } : newSupply)
  const { store, fault, rest } = useStore()
  const save = () => store(supply
    ? ask(api.PUT('/api/v1/supplies/{id}', { params: { path: { id: supply.id }, header: { 'If-Match': etag(supply.revision) } }, body: f }))
    : ask(api.POST('/api/v1/supplies', { params: { header: { 'Idempotency-Key': crypto.randomUUID() } }, body: f })), f.name, close)
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
