import { useQuery, useQueryClient } from '@tanstack/react-query'
import { Button, Input, Select } from 'antd'
import { useDeferredValue, useMemo, useState } from 'react'
import { useNavigate } from 'react-router'
import { api, ask, Refused, type Schemas } from '../api/client'
import { useFound, useKeep } from '../device/drafts'
import { AmountInput } from '../kit/AmountInput'
import { Sign } from '../kit/glyphs'
import { OpenFile } from '../kit/OpenFile'
import { QuickIngredient } from '../larder/QuickIngredient'
import { minutes } from '../shell/kitchen'
import { commonOf, type Quantity, usePantry, useStarting } from './fields'
import { words } from './words'
import './treats.css'

type Line = Schemas['ScratchReadLine']
interface Settled {
  of?: string
  amount?: Quantity
  agreed?: boolean // the person looked at a doubtful line
  out?: boolean
}

/**
 * A recipe as somebody wrote it, line by line: what was read, what is doubtful, which ingredient is meant; and then a
 * mix of it.
 */
export default function FromRecipe() {
  const found = useFound<string>('recipe')
  const [text, setText] = useState(found.value ?? '')
  useKeep('recipe', { title: 'A recipe', to: '/treats/recipe' }, text.slice(0, 1 << 20), text.trim() !== '', found)
  const asked = useDeferredValue(text)
  const [which, setWhich] = useState(0)
  const [wrong, setWrong] = useState<string>()
  const read = useQuery({
    queryKey: ['recipe', asked],
    queryFn: ({ signal }) => ask(api.POST('/api/v1/calculators/recipe', { body: { text: asked }, signal })),
    enabled: asked.trim() !== '',
    retry: false,
    gcTime: 60_000,
    placeholderData: undefined,
  })
  const refused =
    read.error instanceof Refused ? (read.error.problem.errors?.[0]?.message ?? read.error.message) : undefined
  const recipes = read.data?.recipes ?? []
  const recipe = recipes[Math.min(which, recipes.length - 1)]
  async function open(chosen: File) {
    setWrong(undefined)
    if (chosen.size > 1 << 20) setWrong(words.thisFileIsOver1)
    else setText(await chosen.text())
  }
  return (
    <section className="wide recipe-page">
      <header className="work-head">
        <h1>{words.readARecipe}</h1>
        <p className="soft">{words.pasteARecipeOrOpen}</p>
        <OpenFile
          label={words.recipeFile}
          accept=".json,.jsonld,.txt,text/plain,application/json,application/ld+json"
          open={open}
        >
          <Button>{words.openAFile}</Button>
        </OpenFile>
      </header>
      <div className="recipe-columns">
        <div>
          <Input.TextArea
            className="pad-text"
            aria-label={words.recipeText}
            rows={14}
            value={text}
            placeholder={words.recipeExample}
            onChange={(e) => {
              setText(e.target.value)
              setWhich(0)
            }}
          />
          {(wrong ?? refused) && (
            <p className="fault" role="alert">
              {wrong ?? refused}
            </p>
          )}
          {text === '' && <p className="soft">{words.oneIngredientALine}</p>}
        </div>
        <div>
          {read.data && (
            <p className="soft" role="status">
              {read.data.text}
            </p>
          )}
          {recipes.length > 1 && (
            <Select
              aria-label={words.whichRecipe}
              value={which}
              onChange={setWhich}
              style={{ width: '100%' }}
              options={recipes.map((r, i) => ({ value: i, label: r.name ?? words.recipe(i + 1) }))}
            />
          )}
          {recipe && <Lines key={`${asked} ${which}`} recipe={recipe} />}
        </div>
      </div>
    </section>
  )
}

function Lines({ recipe }: { recipe: Schemas['ScratchReadRecipe'] }) {
  const pantry = usePantry()
  const queries = useQueryClient()
  const navigate = useNavigate()
  const [settled, setSettled] = useState<Record<number, Settled>>({})
  const [name, setName] = useState(recipe.name ?? '')
  const [adding, setAdding] = useState<number>()
  const [wrong, setWrong] = useState<string>()
  const lines = recipe.lines
  const settle = (i: number, x: Settled) => setSettled((now) => ({ ...now, [i]: { ...now[i], ...x } }))
  const options = useMemo(
    () => [
      { value: 'new', label: words.addToTheLarder },
      ...[...pantry.ingredients.values()].map((i) => ({ value: i.id, label: i.name })),
      ...[...pantry.mixes.values()].map((m) => ({ value: m.id, label: `${m.name} (mix)` })),
    ],
    [pantry],
  )
  const ofLine = (l: Line, i: number) => settled[i]?.of ?? (l.suggestions[0]?.sure ? l.suggestions[0].id : undefined)
  /** The amount as it goes into a mix: of a range its lower end is read, and that is a doubt to agree with. */
  const amountOf = (l: Line, i: number): Quantity | undefined =>
    settled[i]?.amount ?? (l.measure && !l.packs && l.amount ? { amount: l.amount.amount, unit: l.measure } : l.amount)
  const doubtOf = (l: Line, i: number) => {
    if (settled[i]?.out) return undefined
    if (l.doubt && !settled[i]?.agreed && !settled[i]?.amount) return l.doubt
    if (l.upto && !settled[i]?.amount && !settled[i]?.agreed)
      return words.aRangeToWhichAmount(l.amount?.amount ?? 0, l.upto)
    if (!amountOf(l, i)) return words.noAmountIsGivenWrite
    if (!ofLine(l, i))
      return l.suggestions.length > 0 ? words.isThisTheRightIngredient : words.whichIngredientIsThisChoose
    return undefined
  }
  const open = lines.filter((l, i) => doubtOf(l, i)).length
  // What is missed is mostly common: it comes with its weights and allergens.
  const starting = useStarting()
  const common =
    adding === undefined ? undefined : commonOf(lines[adding]!.ingredient, starting.data?.ingredients ?? [])

  async function learn(i: number, id: string) {
    settle(i, { of: id })
    if (!pantry.ingredients.has(id) || !lines[i]!.ingredient) return
    try {
      await ask(api.PUT('/api/v1/ingredient-names', { body: { written: lines[i]!.ingredient, ingredient: id } }))
    } catch (error) {
      if (!(error instanceof Refused)) throw error
      setWrong(error.message)
    }
  }

  // What is for one part of the treat is mostly a mix of its own: shell, filling, top.
  const groups = [...new Set(lines.map((l) => l.part ?? ''))].filter(Boolean)
  const openIn = (part: string) => lines.some((l, i) => l.part === part && doubtOf(l, i))

  function toMix(part?: string) {
    const parts = lines.flatMap((l, i) =>
      settled[i]?.out || (part && l.part !== part) ? [] : [{ of: ofLine(l, i)!, amount: amountOf(l, i)! }],
    )
    void queries.invalidateQueries({ queryKey: ['recipe'] })
    void navigate('/treats/mixes/new', {
      state: {
        fields: {
          name: part ? [name, part].filter(Boolean).join(': ') : name,
          parts,
          loss: 0,
          method: recipe.instructions.join('\n') || undefined,
        },
      },
    })
  }

  return (
    <>
      {recipe.yield && (
        <p className="soft">
          {words.makes} {recipe.yield}
        </p>
      )}
      <ol className="read-lines">
        {lines.map((l, i) => {
          const doubt = doubtOf(l, i)
          const out = settled[i]?.out
          const amount = amountOf(l, i)
          return (
            <li key={i} className={out ? 'out' : doubt ? 'doubtful' : 'settled'}>
              {l.part && l.part !== lines[i - 1]?.part && <h3 className="part-of-recipe">{l.part}</h3>}
              <p className="original">{l.original}</p>
              {!out && (
                <p className="reading">
                  <AmountInput
                    label={words.amountInLine(i + 1)}
                    width={104}
                    value={amount ?? { amount: 0, unit: 'g' }}
                    of={ofLine(l, i)}
                    onChange={(q) => settle(i, { amount: q })}
                  />
                  <Select
                    aria-label={words.ingredientOfLine(i + 1)}
                    value={ofLine(l, i)}
                    placeholder={l.suggestions[0]?.name ? `${l.suggestions[0].name}?` : words.chooseOne}
                    showSearch={{ optionFilterProp: 'label' }}
                    style={{ width: 210 }}
                    options={options}
                    onChange={(id) => (id === 'new' ? setAdding(i) : void learn(i, id))}
                  />
                  {l.note && <i className="soft">{l.note}</i>}
                  <Button
                    type="link"
                    className="link"
                    aria-label={words.leaveOutLine(i + 1)}
                    onClick={() => settle(i, { out: true })}
                  >
                    {words.leaveOut}
                  </Button>
                </p>
              )}
              {out && (
                <Button type="link" className="link" onClick={() => settle(i, { out: false })}>
                  {words.includeAgain}
                </Button>
              )}
              {doubt && (
                <p className="doubt">
                  <Sign kind="caution" size={14} /> {doubt}{' '}
                  {!ofLine(l, i) &&
                    l.suggestions.map((s) => (
                      <Button key={s.id} className="pill" onClick={() => void learn(i, s.id)}>
                        {s.name}
                      </Button>
                    ))}
                  {(l.doubt || l.upto) && !settled[i]?.agreed && amount && (
                    <Button className="pill" onClick={() => settle(i, { agreed: true })}>
                      {words.asWritten} {Number(amount.amount.toPrecision(4))} {amount.unit}
                    </Button>
                  )}
                </p>
              )}
              {adding === i && (
                <QuickIngredient
                  name={common?.name ?? capital(l.ingredient)}
                  common={common}
                  close={(made) => {
                    setAdding(undefined)
                    if (made) void learn(i, made.id)
                  }}
                />
              )}
            </li>
          )
        })}
      </ol>
      {recipe.steps.length > 0 && (
        <>
          <h3 className="part-of-recipe">{words.method}</h3>
          <ol className="read-steps">
            {recipe.steps.map((s, i) => (
              <li key={i}>
                {s.text}{' '}
                <small className="soft">
                  {[
                    s.minutes ? (s.waits ? words.waits(minutes(s.minutes), s.place ?? '') : minutes(s.minutes)) : '',
                    s.warmth ?? '',
                  ]
                    .filter(Boolean)
                    .join(' · ')}
                </small>
              </li>
            ))}
          </ol>
        </>
      )}
      <p className="recipe-foot">
        <Input
          aria-label={words.nameOfTheMix}
          placeholder={words.nameOfTheMix}
          value={name}
          onChange={(e) => setName(e.target.value)}
          style={{ width: 220 }}
        />
        <Button type="primary" disabled={open > 0 || lines.every((_, i) => settled[i]?.out)} onClick={() => toMix()}>
          {words.makeAMixOfIt}
        </Button>
        {groups.map((part) => (
          <Button key={part} disabled={openIn(part)} onClick={() => toMix(part)}>
            {words.aMixOfPart(part)}
          </Button>
        ))}
        {open > 0 && (
          <span className="soft">
            {open} {open === 1 ? words.lineIs : words.linesAre} {words.toCheck}
          </span>
        )}
      </p>
      {wrong && (
        <p className="fault" role="alert">
          {wrong}
        </p>
      )}
    </>
  )
}

const capital = (s: string) => s.charAt(0).toUpperCase() + s.slice(1)
