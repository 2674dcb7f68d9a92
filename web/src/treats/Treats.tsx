import { useQuery, useQueryClient } from '@tanstack/react-query'
import { App, Button, Input, Segmented } from 'antd'
import { useState } from 'react'
import { Link, useNavigate } from 'react-router'
import { api, ask, Refused, type Schemas } from '../api/client'
import { lookOf } from '../kit/chocolate'
import { Sheet } from '../kit/Sheet'
import { type Family, familyPlural, familyWord, Glyph } from '../kit/glyphs'

const families: Family[] = ['bomb', 'fruit', 'bark']

const keeps = (hours: number) => (hours % 24 === 0 && hours > 24 ? `keeps ${hours / 24} days` : `keeps ${hours} hours`)

/** What a treat is, in a few words. */
function sketch(t: Schemas['TreatsTreat']): string {
  const f = t.formula
  if (!f) return 'no formula yet'
  const size = f.shell ? `${f.shell.across.amount} ${f.shell.across.unit}, ` : f.sheet ? `bags of ${f.sheet.bag.amount} ${f.sheet.bag.unit}, ` : ''
  return `${size}${keeps(f.keeps)}`
}

/** The book of treats, on its shelves by family. */
export default function Treats() {
  const treats = useQuery({ queryKey: ['treats'], queryFn: () => ask(api.GET('/api/v1/treats', {})) })
  const larder = useQuery({ queryKey: ['ingredients'], queryFn: () => ask(api.GET('/api/v1/ingredients', {})) })
  const [adding, setAdding] = useState(false)
  const chocolateOf = (t: Schemas['TreatsTreat']) => larder.data?.ingredients.find((i) => i.id === t.formula?.coatings[0]?.ingredient)?.chocolate ?? { kind: 'real' as const, colour: 'dark' as const }
  const unwritten = treats.data?.treats.filter((t) => !t.formula) ?? []
  return (
    <section className="wide">
      <header className="work-head">
        <h1>The book of treats</h1>
        <p className="soft">A treat’s formula is kept by version: an order that is quoted or promised stays with the one it was promised by.</p>
        <Button type="primary" size="large" onClick={() => setAdding(true)}>New treat</Button>
      </header>
      {treats.isSuccess && treats.data.treats.length === 0 && <p className="empty">What you make stands here, with all that is needed to reckon it. Begin with the treat that is asked for most: press New treat.</p>}
      <div className="book">
        {families.map((family) => {
          const list = treats.data?.treats.filter((t) => t.formula?.family === family) ?? []
          return list.length === 0 ? null : (
            <section key={family} className="board">
              <h2>{familyPlural[family]}</h2>
              <ul>
                {list.map((t) => {
                  const look = lookOf(chocolateOf(t))
                  return (
                    <li key={t.id}>
                      <Link to={`/treats/${t.id}`} className="treat-on-shelf">
                        <span className={`treat-tile c-${look.word}`} style={{ background: look.fill, color: look.ink, borderColor: look.edge }}>
                          <Glyph family={family} size={38} />
                        </span>
                        <b>{t.name}</b>
                        <small>{sketch(t)}</small>
                        <small>version {t.version}, in {t.orders} {t.orders === 1 ? 'order' : 'orders'}</small>
                      </Link>
                    </li>
                  )
                })}
              </ul>
            </section>
          )
        })}
        {unwritten.length > 0 && (
          <section className="board">
            <h2>Not written yet</h2>
            <ul>{unwritten.map((t) => <li key={t.id}><Link to={`/treats/${t.id}`}><b>{t.name}</b></Link></li>)}</ul>
          </section>
        )}
      </div>
      {adding && <NewTreat close={() => setAdding(false)} larder={larder.data?.ingredients ?? []} />}
    </section>
  )
}

/** A formula to start from, with the numbers that are common practice. */
async function start(family: Family, larder: Schemas['LarderIngredient'][]): Promise<Schemas['TreatFormula'] | undefined> {
  const chocolate = larder.find((i) => i.chocolate)
  const fruit = larder.find((i) => i.gramsEach && !i.chocolate)
  if (!chocolate || (family === 'fruit' && !fruit)) return undefined
  const { steps } = await ask(api.GET('/api/v1/families/{family}/steps', { params: { path: { family } } }))
  const used = steps.filter((s) => s.pot !== 'drizzle')
  const coat = (role: 'shell' | 'coat' | 'base', pool: number, each?: number): Schemas['TreatCoating'] => ({ role, ingredient: chocolate.id, pool: { amount: pool, unit: 'g' }, ...(each ? { each: { amount: each, unit: 'g' } } : {}) })
  const common = { family, portions: [], packs: [], steps: used }
  if (family === 'bomb') {
    return { ...common, loss: 0.08, keeps: 14 * 24, coatings: [coat('shell', 200)], shell: { across: { amount: 2.5, unit: 'in' }, wall: { amount: 3.5, unit: 'mm' }, cavities: 6, moulds: 2, drain: false } }
  }
  if (family === 'fruit') {
    return { ...common, loss: 0.05, keeps: 24, coatings: [coat('coat', 250, 8)], fruit: { ingredient: fruit!.id, share: 0.7 } }
  }
  return { ...common, loss: 0.03, keeps: 30 * 24, coatings: [coat('base', 60)], sheet: { length: { amount: 13, unit: 'in' }, width: { amount: 9.5, unit: 'in' }, depth: { amount: 0.125, unit: 'in' }, bag: { amount: 75, unit: 'g' }, whole: true } }
}

function NewTreat({ close, larder }: { close: () => void; larder: Schemas['LarderIngredient'][] }) {
  const [name, setName] = useState('')
  const [family, setFamily] = useState<Family>('bomb')
  const [refused, setRefused] = useState<Refused>()
  const { message } = App.useApp()
  const queries = useQueryClient()
  const navigate = useNavigate()
  async function make() {
    try {
      const formula = await start(family, larder)
      if (!formula) void message.info('The larder has no chocolate (or no fruit with a weight per piece) yet: the treat begins without a formula.')
      const made = await ask(api.POST('/api/v1/treats', { params: { header: { 'Idempotency-Key': crypto.randomUUID() } }, body: { name, formula } }))
      await queries.invalidateQueries({ queryKey: ['treats'] })
      close()
      void navigate(`/treats/${made.id}`)
    } catch (error) {
      if (!(error instanceof Refused)) throw error
      setRefused(error)
    }
  }
  return (
    <Sheet title="New treat" close={close} onOk={() => void make()} okText="Write it">
      <label className="field">
        <span>Name</span>
        <Input value={name} onChange={(e) => setName(e.target.value)} />
        {refused && <span className="fault" role="alert">{refused.at('name') ?? refused.message}</span>}
      </label>
      <div className="field">
        <span>Family</span>
        <Segmented value={family} onChange={setFamily} options={families.map((f) => ({ value: f, label: familyWord[f] }))} />
      </div>
    </Sheet>
  )
}
