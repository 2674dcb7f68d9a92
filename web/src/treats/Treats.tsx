import { useQuery, useQueryClient } from '@tanstack/react-query'
import { App, Button, Input } from 'antd'
import { useState } from 'react'
import { Link, useNavigate } from 'react-router'
import { api, ask, Refused, type Schemas } from '../api/client'
import { askAnew } from '../api/topics'
import { newKey } from '../device/register'
import { Field } from '../kit/Field'
import { lookOf } from '../kit/chocolate'
import { type Family, families, traitsOf } from '../api/families'
import { Face } from '../kit/Face'
import { Glyph } from '../kit/glyphs'
import { OpenFile } from '../kit/OpenFile'
import { Sheet } from '../kit/Sheet'
import { useKitchen } from '../shell/kitchen'
import { words } from './words'
import './treats.css'

const said = (q?: Schemas['MeasureQuantity']) => (q ? `${Number(q.amount.toFixed(2))} ${q.unit}` : '')

/** What a treat is, in a few words. */
function sketch(t: Schemas['TreatsTreat']): string {
  const f = t.formula
  if (!f) return words.noRecipeYet2
  const size = f.shell
    ? said(f.shell.across)
    : f.sheet?.bag
      ? words.bagsOf2(said(f.sheet.bag))
      : f.sheet
        ? words.byInAPan(f.sheet.rows ?? 1, f.sheet.columns ?? 1)
        : f.mould
          ? words.cavitiesOf(said(f.mould.volume))
          : (f.finishes ?? []).length > 0
            ? words.ofDesigns(f.finishes!.length)
            : f.centre?.each
              ? words.centresOf(said(f.centre.each))
              : ''
  return [size, words.keepsFor(f.keeps)].filter(Boolean).join(', ')
}

/** The book of treats, on its shelves by family, and the mixes that they are made of. */
export default function Treats() {
  const kitchen = useKitchen()
  const treats = useQuery({ queryKey: ['treats'], queryFn: () => ask(api.GET('/api/v1/treats', {})) })
  const mixes = useQuery({ queryKey: ['mixes'], queryFn: () => ask(api.GET('/api/v1/mixes', {})) })
  const [adding, setAdding] = useState(false)
  const [wrong, setWrong] = useState<string>()
  const queries = useQueryClient()
  const navigate = useNavigate()
  const { message } = App.useApp()
  const unwritten = treats.data?.treats.filter((t) => !t.formula) ?? []

  async function open(chosen: File) {
    setWrong(undefined)
    try {
      const text = await chosen.text()
      const opened = await ask(
        api.POST('/api/v1/treat-files', {
          params: { header: { 'Idempotency-Key': newKey() } },
          body: { text },
        }),
      )
      await askAnew(queries, ['treats', 'larder', 'plan'])
      void message.success(
        words.isInYourBook(
          opened.treat.name,
          (opened.added ?? []).length > 0 ? words.newInTheKitchen(opened.added!.join(', ')) : '',
          (opened.moved ?? []).length > 0 ? words.itsStorageSpotIsNot(opened.moved!.join(', ')) : '',
        ),
        8,
      )
      void navigate(`/treats/${opened.treat.id}`)
    } catch (error) {
      if (!(error instanceof Refused)) throw error
      setWrong(error.problem.errors?.[0]?.message ?? error.message)
    }
  }

  if (!treats.data) return <Face title={words.yourTreats} of={[treats]} />
  return (
    <section className="wide">
      <header className="work-head">
        <h1>{words.yourTreats}</h1>
        <p className="soft">{words.recipesAreKeptByVersion}</p>
        <span className="head-actions">
          <Button type="primary" size="large" onClick={() => setAdding(true)}>
            {words.newTreat}
          </Button>
          <Link to="/treats/recipe" className="ant-btn-link-like">
            {words.readARecipe}
          </Link>
          <OpenFile label={words.treatsFile} accept=".json,application/json" open={open}>
            <Button type="link" className="link">
              {words.openATreatsFile}
            </Button>
          </OpenFile>
        </span>
      </header>
      {wrong && (
        <p className="fault" role="alert">
          {wrong}
        </p>
      )}
      {treats.isSuccess && treats.data.treats.length === 0 && (
        <p className="empty">{words.yourTreatsAppearHereStart}</p>
      )}
      <div className="book">
        {families.map((family) => {
          const list = treats.data?.treats.filter((t) => t.formula?.family === family) ?? []
          return list.length === 0 ? null : (
            <section key={family} className="board">
              <h2>{traitsOf(family).plural}</h2>
              <ul>
                {list.map((t) => {
                  const look = lookOf(t.look ?? { kind: 'real', colour: 'milk' })
                  return (
                    <li key={t.id}>
                      <Link to={`/treats/${t.id}`} className="treat-on-shelf">
                        <span
                          className={`treat-tile c-${look.word}`}
                          style={{ background: look.fill, color: look.ink, borderColor: look.edge }}
                        >
                          <Glyph family={family} size={38} />
                        </span>
                        <b>{t.name}</b>
                        <small>{sketch(t)}</small>
                        <small>
                          {words.version2} {t.version}
                          {words.in2} {t.orders} {t.orders === 1 ? words.order : words.orders}
                        </small>
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
            <h2>{words.noRecipeYet}</h2>
            <ul>
              {unwritten.map((t) => (
                <li key={t.id}>
                  <Link to={`/treats/${t.id}`}>
                    <b>{t.name}</b>
                  </Link>
                </li>
              ))}
            </ul>
          </section>
        )}
        {treats.isSuccess && (
          <section className="board">
            <h2>{words.mixes}</h2>
            <ul>
              {mixes.data?.mixes.map((m) => (
                <li key={m.id}>
                  <Link to={`/treats/mixes/${m.id}`} className="treat-on-shelf">
                    <span className="treat-tile bowl">
                      <BowlGlyph />
                    </span>
                    <b>{m.name}</b>
                    <small>
                      {m.parts.length} {words.partsYields} {kitchen.amount(m.weighed.yields)}
                    </small>
                  </Link>
                </li>
              ))}
              <li>
                <Link to="/treats/mixes/new" className="treat-on-shelf">
                  <span className="treat-tile bowl empty-bowl">+</span>
                  <b>{words.newMix}</b>
                  <small>{words.aGanacheACentreA}</small>
                </Link>
              </li>
            </ul>
          </section>
        )}
      </div>
      {adding && <NewTreat close={() => setAdding(false)} />}
    </section>
  )
}

export const BowlGlyph = ({ size = 38 }: { size?: number }) => (
  <svg
    width={size}
    height={size}
    viewBox="0 0 24 24"
    fill="none"
    stroke="currentColor"
    strokeWidth="1.8"
    strokeLinecap="round"
    strokeLinejoin="round"
    aria-hidden="true"
  >
    <path d="M3.5 11h17c0 4.6-3.4 8-8.5 8s-8.5-3.4-8.5-8z" />
    <path d="M13 11 17.6 4.4M9 8.4c0-1.6 1.6-1.8 1.6-3.4" />
  </svg>
)

/** What stands in the way of a treat whose centre is a mix, where there is none yet. */
const needsMix = ['family.truffle-needs-mix-for-its', 'family.fudge-needs-mix-that-poured']

function NewTreat({ close }: { close: () => void }) {
  const [name, setName] = useState('')
  const [family, setFamily] = useState<Family>(families[0]!)
  const [refused, setRefused] = useState<Refused>()
  const queries = useQueryClient()
  const navigate = useNavigate()
  async function make() {
    try {
      const formula = await ask(api.GET('/api/v1/families/{family}/formula', { params: { path: { family } } }))
      const made = await ask(
        api.POST('/api/v1/treats', {
          params: { header: { 'Idempotency-Key': newKey() } },
          body: { name, formula },
        }),
      )
      await queries.invalidateQueries({ queryKey: ['treats'] })
      close()
      void navigate(`/treats/${made.id}`)
    } catch (error) {
      if (!(error instanceof Refused)) throw error
      setRefused(error)
    }
  }
  return (
    <Sheet title={words.newTreat} close={close} onOk={() => void make()} okText={words.createTreat}>
      <Field label={words.name} fault={refused && (refused.at('name') ?? refused.message)}>
        <Input value={name} onChange={(e) => setName(e.target.value)} />
      </Field>
      {needsMix.includes(refused?.problem.code ?? '') && (
        <p>
          <Link to="/treats/mixes/new">{words.newMix}</Link> · <Link to="/treats/recipe">{words.readARecipe}</Link>
        </p>
      )}
      <Field label={words.family} group>
        <span className="pills">
          {families.map((f) => (
            <Button key={f} className="pill" aria-pressed={f === family} onClick={() => setFamily(f)}>
              <Glyph family={f} size={16} /> {traitsOf(f).word}
            </Button>
          ))}
        </span>
      </Field>
      <p className="soft">{words.weStartWithCommonValues}</p>
    </Sheet>
  )
}
