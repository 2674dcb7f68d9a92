import { keepPreviousData, useQuery, useQueryClient } from '@tanstack/react-query'
import { App, Button, ConfigProvider, Input, InputNumber, Segmented, Select, Slider } from 'antd'
import { type ReactNode, useEffect, useState } from 'react'
import { useParams } from 'react-router'
import { api, ask, etag, Refused, type Schemas } from '../api/client'
import { Figure } from '../kit/Figure'
import { AmountInput } from '../kit/AmountInput'
import { familyPlural, Sign } from '../kit/glyphs'
import { minutes, useKitchen } from '../shell/kitchen'
import { Line, Part } from '../orders/Reckoning'
import { Ribbon, Section } from './Section'

type Formula = Schemas['TreatFormula']
type Treat = Schemas['TreatsTreat']

/** A treat: what it looks like inside, its numbers, its steps, and the batch card for a count. */
export default function TreatPage() {
  const { id } = useParams()
  const treat = useQuery({ queryKey: ['treat', id], queryFn: () => ask(api.GET('/api/v1/treats/{id}', { params: { path: { id: id! } } })), placeholderData: undefined })
  if (treat.error) return <section className="wide"><h1>This treat is not here</h1><p className="soft">{treat.error.message}</p></section>
  if (!treat.data) return <p className="loading" role="status">One moment…</p>
  if (!treat.data.formula) {
    return (
      <section className="wide">
        <h1>{treat.data.name}</h1>
        <p className="empty">This treat has no formula yet, so nothing can be reckoned with it. Put a chocolate into the Larder (and for dipped fruit the fruit, with its weight per piece), then write the treat anew from the book.</p>
      </section>
    )
  }
  return <Editor key={id} treat={treat.data} formula={treat.data.formula} />
}

function Editor({ treat, formula }: { treat: Treat; formula: Formula }) {
  const kitchen = useKitchen()
  const queries = useQueryClient()
  const { message } = App.useApp()
  const [saved, setSaved] = useState(treat)
  const [name, setName] = useState(treat.name)
  const [f, setF] = useState<Formula>(formula)
  const [count, setCount] = useState(f.family === 'bark' ? 20 : 40)
  const [refused, setRefused] = useState<Refused>()
  const larder = useQuery({ queryKey: ['ingredients'], queryFn: () => ask(api.GET('/api/v1/ingredients', {})) })
  const supplies = useQuery({ queryKey: ['supplies'], queryFn: () => ask(api.GET('/api/v1/supplies', {})) })
  const card = useQuery({
    queryKey: ['card', f, count],
    queryFn: ({ signal }) => ask(api.POST('/api/v1/calculators/batch-card', { body: { formula: f, count }, signal })),
    placeholderData: keepPreviousData,
    retry: false,
    gcTime: 60_000,
  })
  const dirty = name !== saved.name || JSON.stringify(f) !== JSON.stringify(saved.formula)
  useEffect(() => {
    if (!dirty) return
    const ask = (e: BeforeUnloadEvent) => e.preventDefault()
    window.addEventListener('beforeunload', ask)
    return () => window.removeEventListener('beforeunload', ask)
  }, [dirty])
  const wrong = [card.error, refused].filter((e): e is Refused => e instanceof Refused)
  const fault = (path: string) => wrong.map((e) => e.at(`formula.${path}`)).find(Boolean)
  const set = (change: Partial<Formula>) => setF((now) => ({ ...now, ...change }))
  const ingredient = (id: string) => larder.data?.ingredients.find((i) => i.id === id)

  async function save(revision = saved.revision) {
    try {
      const now = await ask(api.PUT('/api/v1/treats/{id}', { params: { path: { id: treat.id }, header: { 'If-Match': etag(revision) } }, body: { name, formula: f } }))
      setSaved(now)
      setRefused(undefined)
      queries.setQueryData(['treat', treat.id], now)
      await queries.invalidateQueries({ predicate: (q) => q.queryKey[0] !== 'treat' })
      void message.success(`Saved as version ${now.version}. Orders that are quoted or promised stay with theirs.`)
    } catch (error) {
      if (!(error instanceof Refused)) throw error
      setRefused(error)
    }
  }
  const theirs = refused?.status === 412 ? (refused.problem.current as Treat) : undefined

  const number = (label: string, value: number, onChange: (n: number) => void, path: string, unit?: string, step = 1) => (
    <Row label={label} fault={fault(path)}>
      <InputNumber aria-label={label} value={Number(value.toFixed(3))} step={step} min={0} suffix={unit} controls={false} status={fault(path) ? 'error' : undefined} style={{ width: 110 }} onChange={(n) => n !== null && onChange(n)} />
    </Row>
  )
  const amount = (label: string, value: Schemas['MeasureQuantity'], onChange: (q: Schemas['MeasureQuantity']) => void, path: string) => (
    <Row label={label}>
      <AmountInput label={label} value={value} onChange={onChange} fault={fault(path)} />
    </Row>
  )
  const pick = (label: string, value: string, onChange: (id: string) => void, of: 'chocolate' | 'fruit' | 'any', path: string) => (
    <span className="pick">
      <Select aria-label={label} value={value} onChange={onChange} showSearch={{ optionFilterProp: 'label' }} style={{ width: 190 }} status={fault(path) ? 'error' : undefined}
        options={larder.data?.ingredients.filter((i) => (of === 'chocolate' ? i.chocolate : of === 'fruit' ? i.gramsEach && !i.chocolate : !i.chocolate)).map((i) => ({ value: i.id, label: i.name }))} />
      {fault(path) && <span className="fault" role="alert">{fault(path)}</span>}
    </span>
  )
  const coatings = (change: (c: Schemas['TreatCoating']) => Schemas['TreatCoating'], role: string) => set({ coatings: f.coatings.map((c) => (c.role === role ? change(c) : c)) })
  const main = f.coatings[0]
  const sheetWord = f.family === 'bark' ? 'a sheet' : 'a piece'
  const c = card.data
  return (
    <>
      <section className="work treat-page">
        <p className="kicker" role="status">
          {familyPlural[f.family]} · version {saved.version}, in {saved.orders} {saved.orders === 1 ? 'order' : 'orders'}{dirty && ' · changed, not saved yet'}
        </p>
        <Input className="title-input" aria-label="Name of the treat" value={name} onChange={(e) => setName(e.target.value)} variant="borderless" status={refused?.at('name') ? 'error' : undefined} />
        {refused?.at('name') && <p className="fault" role="alert">{refused.at('name')}</p>}
        {theirs && (
          <div className="conflict" role="alert">
            <p>Someone saved version {theirs.version} of this treat meanwhile. Yours is still here.</p>
            <Button onClick={() => { setSaved(theirs); setName(theirs.name); if (theirs.formula) setF(theirs.formula); setRefused(undefined) }}>Take theirs</Button>
            <Button onClick={() => void save(theirs.revision)}>Save mine as the next version</Button>
          </div>
        )}
        <div className="treat-sheet">
          <Section f={f} chocolate={ingredient(main?.ingredient ?? '')?.chocolate} drizzle={ingredient(f.coatings.find((x) => x.role === 'drizzle')?.ingredient ?? '')?.chocolate} />
          <ConfigProvider componentSize="small">
          <div className="numbers">
            {f.shell && (
              <Group name="Shell">
                {amount('Mould, across', f.shell.across, (across) => set({ shell: { ...f.shell!, across } }), 'shell.across')}
                {amount('Wall', f.shell.wall, (wall) => set({ shell: { ...f.shell!, wall } }), 'shell.wall')}
                {number('Cavities in a mould', f.shell.cavities, (cavities) => set({ shell: { ...f.shell!, cavities } }), 'shell.cavities')}
                {number('Moulds', f.shell.moulds, (moulds) => set({ shell: { ...f.shell!, moulds } }), 'shell.moulds')}
                <Row label="How the mould is coated">
                  <Segmented aria-label="How the mould is coated" value={f.shell.drain ? 'drain' : 'spoon'} onChange={(v) => set({ shell: { ...f.shell!, drain: v === 'drain' } })} options={[{ value: 'spoon', label: 'spoon it' }, { value: 'drain', label: 'fill and drain' }]} />
                </Row>
              </Group>
            )}
            {f.fruit && (
              <Group name="Fruit">
                <Row label="Which">{pick('Fruit', f.fruit.ingredient, (id) => set({ fruit: { ...f.fruit!, ingredient: id } }), 'fruit', 'fruit.ingredient')}</Row>
                {number('Fit to dip', f.fruit.share * 100, (n) => set({ fruit: { ...f.fruit!, share: n / 100 } }), 'fruit.share', '%')}
              </Group>
            )}
            {f.sheet && (
              <Group name="Sheet">
                {amount('Length', f.sheet.length, (length) => set({ sheet: { ...f.sheet!, length } }), 'sheet.length')}
                {amount('Width', f.sheet.width, (width) => set({ sheet: { ...f.sheet!, width } }), 'sheet.width')}
                {amount('Depth of chocolate', f.sheet.depth, (depth) => set({ sheet: { ...f.sheet!, depth } }), 'sheet.depth')}
                {amount('A bag holds', f.sheet.bag, (bag) => set({ sheet: { ...f.sheet!, bag } }), 'sheet.bag')}
                <Row label="The last sheet">
                  <Segmented aria-label="The last sheet" value={f.sheet.whole ? 'whole' : 'part'} onChange={(v) => set({ sheet: { ...f.sheet!, whole: v === 'whole' } })} options={[{ value: 'whole', label: 'whole' }, { value: 'part', label: 'as large as needed' }]} />
                </Row>
              </Group>
            )}
            <Group name="Chocolate">
              {f.coatings.map((coating, i) => (
                <div key={coating.role} className="coating">
                  <Row label={roleWord[coating.role]}>
                    {pick(roleWord[coating.role], coating.ingredient, (id) => coatings((x) => ({ ...x, ingredient: id }), coating.role), 'chocolate', `coatings[${i}].ingredient`)}
                  </Row>
                  {coating.each && amount(`on ${sheetWord}`, coating.each, (each) => coatings((x) => ({ ...x, each }), coating.role), `coatings[${i}].each`)}
                  {amount('left in the bowl to work from', coating.pool, (pool) => coatings((x) => ({ ...x, pool }), coating.role), `coatings[${i}].pool`)}
                </div>
              ))}
            </Group>
            <Group name={f.family === 'bark' ? 'On a sheet' : 'In and on a piece'}>
              {f.portions.map((p, i) => (
                <Row key={i} label={pick('Ingredient', p.ingredient, (id) => set({ portions: f.portions.map((x, j) => (j === i ? { ...x, ingredient: id } : x)) }), 'any', `portions[${i}].ingredient`)}>
                  <AmountInput label={`Amount of ${ingredient(p.ingredient)?.name ?? 'it'}`} value={p.each} fault={fault(`portions[${i}].each`)} onChange={(each) => set({ portions: f.portions.map((x, j) => (j === i ? { ...x, each } : x)) })} />
                  <Button type="text" aria-label={`Leave out ${ingredient(p.ingredient)?.name ?? 'it'}`} onClick={() => set({ portions: f.portions.filter((_, j) => j !== i) })}>×</Button>
                </Row>
              ))}
              <button type="button" className="link" onClick={() => {
                const other = larder.data?.ingredients.find((x) => !x.chocolate)
                if (other) set({ portions: [...f.portions, { ingredient: other.id, each: { amount: 1, unit: 'g' } }] })
              }}>+ an ingredient</button>
            </Group>
            <Group name="Packed in">
              {f.packs.map((p, i) => (
                <Row key={i} label={<Select aria-label="Packaging" value={p.supply} style={{ width: 150 }} options={supplies.data?.supplies.map((s) => ({ value: s.id, label: s.name }))} onChange={(supply) => set({ packs: f.packs.map((x, j) => (j === i ? { ...x, supply } : x)) })} />}>
                  <AmountInput label="Amount of packaging" width={90} value={p.amount} fault={fault(`packs[${i}].amount`)} onChange={(amount) => set({ packs: f.packs.map((x, j) => (j === i ? { ...x, amount } : x)) })} />
                  <span className="soft">for</span>
                  <InputNumber aria-label="Serves so many" value={p.per} min={1} controls={false} style={{ width: 60 }} onChange={(per) => per !== null && set({ packs: f.packs.map((x, j) => (j === i ? { ...x, per } : x)) })} />
                  <Button type="text" aria-label="Leave this packaging out" onClick={() => set({ packs: f.packs.filter((_, j) => j !== i) })}>×</Button>
                </Row>
              ))}
              <button type="button" className="link" onClick={() => {
                const s = supplies.data?.supplies[0]
                if (s) set({ packs: [...f.packs, { supply: s.id, amount: { amount: 1, unit: s.stock.unit === 'each' ? 'each' : 'cm' }, per: 1 }] })
              }}>+ packaging</button>
            </Group>
            <Group name="Loss and keeping">
              {number(f.family === 'bark' ? 'Crumbs' : 'Lost on the way', f.loss * 100, (n) => set({ loss: n / 100 }), 'loss', '%', 0.5)}
              {number('Keeps', f.keeps, (keeps) => set({ keeps: Math.round(keeps) }), 'keeps', 'h')}
            </Group>
          </div>
          </ConfigProvider>
        </div>
        <h3 className="ribbon-head">How it is made, for {count}</h3>
        {c && <Ribbon card={c} />}
        <details className="steps">
          <summary>Change the minutes of the steps</summary>
          <table>
            <thead><tr><th>Step</th><th>once</th><th>{f.family === 'bark' ? 'a sheet' : 'a round'}</th><th>{f.family === 'bark' ? 'a bag' : 'a piece'}</th><th>then waits</th></tr></thead>
            <tbody>
              {f.steps.map((s, i) => {
                const change = (x: Partial<Schemas['TreatWork']>) => set({ steps: f.steps.map((y, j) => (j === i ? { ...y, ...x } : y)) })
                const cell = (key: 'perBatch' | 'perRound' | 'perPiece' | 'wait', what: string) => (
                  <td><InputNumber aria-label={`${s.name}: ${what}`} value={s[key]} min={0} controls={false} suffix="min" style={{ width: 88 }} status={fault(`steps[${i}].${key}`) ? 'error' : undefined} onChange={(n) => n !== null && change({ [key]: key === 'wait' ? Math.round(n) : n })} /></td>
                )
                return (
                  <tr key={s.id}>
                    <td><Input aria-label="What to do" value={s.name} onChange={(e) => change({ name: e.target.value })} /></td>
                    {cell('perBatch', 'minutes once')}{cell('perRound', 'minutes a round')}{cell('perPiece', 'minutes a piece')}{cell('wait', 'minutes of waiting')}
                  </tr>
                )
              })}
            </tbody>
          </table>
        </details>
        <footer className="order-foot">
          <Button type="primary" size="large" disabled={!dirty} onClick={() => void save()}>Save as version {saved.version + (JSON.stringify(f) === JSON.stringify(saved.formula) ? 0 : 1)}</Button>
          {dirty && <button type="button" className="link" onClick={() => { setName(saved.name); if (saved.formula) setF(saved.formula) }}>Undo all changes</button>}
          {refused && !refused.problem.errors?.length && !theirs && <span className="fault" role="alert">{refused.message}</span>}
        </footer>
      </section>
      <aside className="reckoning" aria-label="The batch card">
        <p className="kicker">Batch card</p>
        {card.error && <p className="fault" role="alert"><Sign kind="trouble" size={14} /> {card.error.message}</p>}
        {c && (
          <>
            <div className="price-head">
              <span className="big">{count} {f.family === 'bark' ? c.sold : 'good'}</span>
              <span className="pay"><Figure why={c.startWhy}><b className="fine">{f.family === 'bark' ? `${c.start} ${c.start === 1 ? 'sheet' : 'sheets'}` : `start ${c.start}`}</b></Figure></span>
            </div>
            <Slider ariaLabelForHandle="How many" min={1} max={120} value={count} onChange={setCount} tooltip={{ open: false }} />
            {c.rounds && f.family !== 'bark' && <Part name="Rounds"><Line figure={c.rounds.count} why={c.rounds.why}>{c.rounds.text}</Line></Part>}
            {c.pots.map((p) => (
              <Part key={p.role} name="Pot">
                <Line figure={kitchen.amount(p.melted)} why={p.why}>{p.name}</Line>
                {p.seed && <Line figure={kitchen.amount(p.seed)} why={p.advice}>of it held back as seed</Line>}
                <Line figure={kitchen.amount(p.used)} why={p.why}>used</Line>
                <Line figure={kitchen.amount(p.reclaimed)} why={p.why}>comes back</Line>
                <small className="soft">{p.advice}</small>
              </Part>
            ))}
            <Part name="Take">
              {c.needs.filter((n) => !c.pots.some((p) => p.ingredient === n.ingredient)).map((n) => <Line key={n.ingredient} figure={kitchen.amount(n.used)} why={n.why} note={kitchen.other(n.used)}>{n.name}</Line>)}
            </Part>
            <Part name="Time">
              <Line figure={minutes(c.hands)} why={c.handsWhy}>hands</Line>
              <Line figure={minutes(c.wait)} why={c.handsWhy}>setting and drying</Line>
            </Part>
            <Part name="Care">
              <p className="care">{c.allergens.length > 0 ? `Contains ${c.allergens.join(', ')}.` : 'None of the nine allergens in the recipe.'} One weighs {Math.round(c.pieceMass)} g.</p>
              {c.spare && <p className="care">{c.spare}</p>}
            </Part>
          </>
        )}
      </aside>
    </>
  )
}

const roleWord: Record<Schemas['TreatCoating']['role'], string> = { shell: 'Shell', coat: 'Coat', base: 'Base', drizzle: 'Lines' }

const Group = ({ name, children }: { name: string; children: ReactNode }) => (
  <section className="group">
    <h3>{name}</h3>
    {children}
  </section>
)

const Row = ({ label, children, fault }: { label: ReactNode; children: ReactNode; fault?: string }) => (
  <div className="number-row">
    <span className="number-label">{label}</span>
    <span className="number-value">{children}</span>
    {fault && <span className="fault" role="alert">{fault}</span>}
  </div>
)

