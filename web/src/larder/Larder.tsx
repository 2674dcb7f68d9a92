import { useQuery } from '@tanstack/react-query'
import { Button } from 'antd'
import { useState } from 'react'
import { useNavigate } from 'react-router'
import { api, ask, type Schemas } from '../api/client'
import { Face } from '../kit/Face'
import { Sign } from '../kit/glyphs'
import { Link } from '../shell/Go'
import { dayName, dayShort, useKitchen } from '../shell/kitchen'
import { IngredientForm } from './IngredientForm'
import { ItemPanel } from './ItemPanel'
import { type Item, Jar } from './Jar'
import { SupplyForm } from './SupplyForm'
import './larder.css'
import { useSupplies } from './useSupplies'
import { words } from './words'

type Ingredient = Schemas['LarderIngredient']
type Supply = Schemas['LarderSupply']

/** The boards of the larder, in order, by their words. */
const boards: { name: keyof typeof words.boards; holds: (i: Item) => boolean }[] = [
  { name: 'chocolate', holds: (i) => i.kind === 'chocolate' },
  { name: 'fruit', holds: (i) => i.kind === 'fruit' || i.kind === 'nut' },
  { name: 'cold', holds: (i) => i.kind === 'dairy' || i.kind === 'fat' },
  { name: 'mixes', holds: (i) => Boolean(i.mix) },
  { name: 'dry', holds: (i) => i.kind === 'sugar' || i.kind === 'baked' },
  { name: 'other', holds: (i) => ['alcohol', 'flavour', 'colour', 'topping', 'other'].includes(i.kind ?? '') },
  { name: 'packaging', holds: (i) => i.packaging },
]

/** What is in the house, as jars on boards; what runs short and what expires; one jar looked into. */
export default function Larder() {
  const stock = useQuery({ queryKey: ['stock'], queryFn: () => ask(api.GET('/api/v1/stock', {})) })
  const ingredients = useQuery({ queryKey: ['ingredients'], queryFn: () => ask(api.GET('/api/v1/ingredients', {})) })
  const supplies = useSupplies()
  const { owns } = useKitchen()
  const [looked, setLooked] = useState<string>()
  const [ingredient, setIngredient] = useState<Ingredient | 'new'>()
  const [supply, setSupply] = useState<Supply | 'new'>()
  const items = stock.data?.items ?? []
  const navigate = useNavigate()
  const numbers = (i: Item) =>
    i.mix
      ? void navigate(`/treats/mixes/${i.id}`)
      : i.packaging
        ? setSupply(supplies.data?.supplies.find((s) => s.id === i.id))
        : setIngredient(ingredients.data?.ingredients.find((x) => x.id === i.id))
  const item = items.find((i) => i.id === looked)
  if (!stock.data) return <Face title={words.theLarder} of={[stock]} />
  return (
    <>
      <section className="work">
        <header className="work-head">
          <h1>{words.theLarder}</h1>
          <p className="soft">{words.eachJarShowsYourStock}</p>
          <Link className="button-link" to="/larder/shopping">
            {words.shoppingList}
          </Link>
          <Link className="button-link" to="/larder/receipt">
            {words.enterAReceipt}
          </Link>
        </header>
        {stock.isSuccess && items.length === 0 && <p className="empty">{words.yourIngredientsAppearHereStart}</p>}
        <div className="boards">
          {boards.map((b) => {
            const list = items.filter(b.holds)
            return list.length === 0 ? null : (
              <section key={b.name} className="jar-board">
                <ul>
                  {list.map((i) => (
                    <li key={i.id}>
                      <JarButton
                        item={i}
                        looked={i.id === looked}
                        onClick={() => setLooked(i.id === looked ? undefined : i.id)}
                      />
                    </li>
                  ))}
                </ul>
                <h2>{words.boards[b.name]}</h2>
              </section>
            )
          })}
        </div>
        {owns && (
          <p className="larder-add">
            <Button onClick={() => setIngredient('new')}>{words.addIngredient}</Button>
            <Button onClick={() => setSupply('new')}>{words.addPackaging}</Button>
            <Link to="/larder/file">{words.receiptsFromAFile}</Link>
          </p>
        )}
      </section>
      <aside className="takes" aria-label={item ? item.name : words.needsAttention}>
        {item ? (
          <ItemPanel key={item.id} item={item} numbers={() => numbers(item)} close={() => setLooked(undefined)} />
        ) : (
          <Attention items={items} worth={stock.data?.worth} look={setLooked} />
        )}
      </aside>
      {supply && (
        <SupplyForm
          key={supply === 'new' ? 'new' : supply.id}
          supply={supply === 'new' ? undefined : supply}
          close={() => setSupply(undefined)}
        />
      )}
      {ingredient && (
        <IngredientForm
          key={ingredient === 'new' ? 'new' : ingredient.id}
          ingredient={ingredient === 'new' ? undefined : ingredient}
          close={() => setIngredient(undefined)}
        />
      )}
    </>
  )
}

function JarButton({ item, looked, onClick }: { item: Item; looked: boolean; onClick: () => void }) {
  const kitchen = useKitchen()
  const sign = item.runs ? 'trouble' : item.expires || item.past || item.unaccounted ? 'caution' : undefined
  const says = item.runs
    ? words.shortOnDay(dayShort(item.runs.day))
    : item.expires
      ? words.untilDay(dayShort(item.expires.day))
      : item.past
        ? words.somePastBestBefore
        : item.unaccounted
          ? words.notRecorded
          : item.free.amount > 0
            ? words.amountFree(kitchen.amount(item.free))
            : words.noneFree
  return (
    <button type="button" className={looked ? 'glass looked' : 'glass'} aria-pressed={looked} onClick={onClick}>
      <Jar item={item} size={52} />
      <b>{item.name}</b>
      <span>{item.stock.amount > 0 ? kitchen.amount(item.stock) : words.none}</span>
      <small className={sign === 'trouble' ? 'trouble' : ''}>
        {sign && <Sign kind={sign} size={13} />} {says}
      </small>
    </button>
  )
}

/** What runs short, what expires, and what was used without being on record. */
function Attention({
  items,
  worth,
  look,
}: {
  items: Item[]
  worth?: Schemas['PriceMoney']
  look: (id: string) => void
}) {
  const kitchen = useKitchen()
  const runs = items.filter((i) => i.runs).sort((a, b) => a.runs!.day.localeCompare(b.runs!.day))
  const expires = items.filter((i) => i.expires).sort((a, b) => a.expires!.day.localeCompare(b.expires!.day))
  const past = items.filter((i) => i.past)
  const open = items.filter((i) => i.unaccounted)
  return (
    <>
      <p className="kicker">{words.needsAttention}</p>
      <section className="attend">
        <h3>{words.runsShort}</h3>
        {runs.length === 0 && <p className="soft">{words.nothingYouHaveAllThat}</p>}
        <ul>
          {runs.map((i) => (
            <li key={i.id}>
              <Button type="link" className="link" onClick={() => look(i.id)}>
                {i.name}
              </Button>{' '}
              <span>
                {kitchen.amount(i.runs!.amount)} {words.shortOn} {dayName(i.runs!.day)}
              </span>
              <small>{i.runs!.for.join(', ')}</small>
            </li>
          ))}
        </ul>
        {runs.length > 0 && <Link to="/larder/shopping">{words.whatToBuy}</Link>}
      </section>
      <section className="attend">
        <h3>{words.expiresSoon}</h3>
        {expires.length === 0 && <p className="soft">{words.nothingInTheNextTwo}</p>}
        <ul>
          {expires.map((i) => (
            <li key={i.id}>
              <Button type="link" className="link" onClick={() => look(i.id)}>
                {i.name}
              </Button>{' '}
              <span>
                {kitchen.amount(i.expires!.amount)} {words.until} {dayName(i.expires!.day)}
              </span>
              {i.expires!.uses.length > 0 && (
                <small>
                  {words.useItIn}{' '}
                  {i.expires!.uses.map((u, n) => (
                    <span key={u.id}>
                      {n > 0 && ', '}
                      <Link to={u.kind === 'mix' ? `/treats/mixes/${u.id}` : `/treats/${u.id}`}>{u.name}</Link>
                    </span>
                  ))}
                </small>
              )}
            </li>
          ))}
        </ul>
      </section>
      {past.length > 0 && (
        <section className="attend">
          <h3>{words.pastBestBefore}</h3>
          <ul>
            {past.map((i) => (
              <li key={i.id}>
                <Button type="link" className="link" onClick={() => look(i.id)}>
                  {i.name}
                </Button>{' '}
                <span>
                  {kitchen.amount(i.past!.amount)}
                  {words.since} {dayName(i.past!.day)}
                  {words.noLongerCountedAsStock}
                </span>
              </li>
            ))}
          </ul>
        </section>
      )}
      {open.length > 0 && (
        <section className="attend">
          <h3>{words.usedButNotRecorded}</h3>
          <ul>
            {open.map((i) => (
              <li key={i.id}>
                <Button type="link" className="link" onClick={() => look(i.id)}>
                  {i.name}
                </Button>{' '}
                <span>
                  {kitchen.amount(i.unaccounted!)}
                  {words.addTheReceiptOrCorrect}
                </span>
              </li>
            ))}
          </ul>
        </section>
      )}
      {items.length > 0 && kitchen.seesMoney && (
        <p className="soft">
          {words.stockValue} {worth && kitchen.money(worth)}.
        </p>
      )}
    </>
  )
}
