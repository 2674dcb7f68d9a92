import { keepPreviousData, useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { App, Button, ConfigProvider, Input } from 'antd'
import { useCallback, useDeferredValue, useEffect, useLayoutEffect, useMemo, useRef, useState } from 'react'
import { useNavigate, useParams } from 'react-router'
import { api, ask, etag, missing, Refused, type Schemas } from '../api/client'
import { askAnew } from '../api/topics'
import { type Family, families, traitsOf } from '../api/families'
import { Both } from '../device/Both'
import { useFound, useKeep } from '../device/drafts'
import { onTop, same } from '../device/merge'
import { newKey } from '../device/register'
import { Restored } from '../device/Restored'
import { BothChanged, saveOver, type Tagged } from '../device/saveOver'
import { amountsRead } from '../kit/AmountInput'
import { Face } from '../kit/Face'
import { Lessons } from '../logbook/Lessons'
import { type Taken, useTable } from '../shell/tableTreat'
import { AsSaid } from './AsSaid'
import { BatchCard, beginWith, type Counting } from './BatchCard'
import { type Change, changeOf, FaultContext, faultsOf, type Pantry, usePantry } from './fields'
import { Numbers, useBody, Ways } from './Numbers'
import { Ribbon, Section } from './Section'
import { Steps } from './Steps'
import { Differences, Versions } from './Versions'
import { words } from './words'
import './treats.css'

export type Formula = Schemas['TreatFormula']
export type Treat = Schemas['TreatsTreat']

/** A treat: what it looks like inside, its numbers, its steps, and the batch card for a count. */
export default function TreatPage() {
  const { id } = useParams()
  const treat = useQuery({
    queryKey: ['treat', id],
    queryFn: () => ask(api.GET('/api/v1/treats/{id}', { params: { path: { id: id! } } })),
    placeholderData: undefined,
  })
  if (treat.error && missing(treat.error))
    return (
      <section className="wide">
        <h1>{words.treatNotFound}</h1>
        <p className="soft">{treat.error.message}</p>
      </section>
    )
  if (!treat.data) return <Face title={words.treat} of={[treat]} />
  if (!treat.data.formula) return <Unwritten treat={treat.data} />
  return <Editor key={id} treat={treat.data} formula={treat.data.formula} />
}

/** A treat that has a name only: choose its family, and it begins with what is in the larder. */
function Unwritten({ treat }: { treat: Treat }) {
  const queries = useQueryClient()
  const [refused, setRefused] = useState<string>()
  async function begin(family: Family) {
    try {
      const formula = await ask(api.GET('/api/v1/families/{family}/formula', { params: { path: { family } } }))
      await ask(
        api.PUT('/api/v1/treats/{id}', {
          params: { path: { id: treat.id }, header: { 'If-Match': etag(treat.revision) } },
          body: { name: treat.name, formula },
        }),
      )
      await askAnew(queries, ['treats'])
    } catch (error) {
      if (!(error instanceof Refused)) throw error
      setRefused(error.message)
    }
  }
  return (
    <section className="wide">
      <h1>{treat.name}</h1>
      <p className="empty">{words.thisTreatHasNoRecipe}</p>
      <p className="pills">
        {families.map((f) => (
          <Button key={f} onClick={() => void begin(f)}>
            {traitsOf(f).word}
          </Button>
        ))}
      </p>
      {refused && (
        <p className="fault" role="alert">
          {refused}
        </p>
      )}
    </section>
  )
}

/** What is edited of a treat: its fields are those that two people can change side by side. */
type Typed = Formula & { name: string }

const typedOf = (t: Treat): Tagged<Typed> => ({ data: { ...t.formula!, name: t.name }, revision: t.revision })

/** A treat as it was typed, and what it was typed on top of. */
interface KeptTreat {
  name: string
  formula: Formula
  base: Tagged<Typed>
}

function Editor({ treat, formula }: { treat: Treat; formula: Formula }) {
  const queries = useQueryClient()
  const { message } = App.useApp()
  const pantry = usePantry()
  const found = useFound<KeptTreat>(`treat/${treat.id}`)
  // What was typed on top of an older version is saved on top of that: what came between is merged.
  const [base, setBase] = useState(() => found.value?.base ?? typedOf(treat))
  const [name, setName] = useState(found.value?.name ?? treat.name)
  const [f, setF] = useState<Formula>(found.value?.formula ?? formula)
  // As it is at this moment, between two drawings as well: what changes it twice at once loses nothing.
  const now = useRef(f)
  const put = useCallback((next: Formula) => {
    now.current = next
    setF(next)
  }, [])
  useLayoutEffect(() => {
    now.current = f
  }, [f])
  const [counting, setCounting] = useState<Counting>(() => beginWith(formula.family))
  const card = useQuery({
    queryKey: ['card', f, counting],
    queryFn: ({ signal }) =>
      ask(api.POST('/api/v1/calculators/batch-card', { body: { formula: f, want: counting }, signal })),
    placeholderData: keepPreviousData,
    retry: false,
    gcTime: 60_000,
  })
  // While a number is refused, the drawing and the choices stay as they were last.
  const [last, setLast] = useState(card.data)
  if (card.data && card.data !== last) setLast(card.data)
  const dirty = !same({ ...f, name }, base.data)
  useKeep(
    `treat/${treat.id}`,
    { title: name, to: `/treats/${treat.id}` },
    { name, formula: f, base } satisfies KeptTreat,
    dirty,
    found,
  )
  const show = (typed: Typed, at: Tagged<Typed>) => {
    const { name: called, ...made } = typed
    setName(called)
    setF(made)
    setBase(at)
  }
  // What was typed since sent was sent stays on top; without it there is nothing to keep.
  const take = (typed: Typed, at: Tagged<Typed>, sent?: Typed) => {
    const { name: called, ...made } = typed
    setName((now) => (sent && now !== sent.name ? now : called))
    if (sent) {
      const { name: _, ...was } = sent
      put(onTop<Formula>(was, now.current, made))
    } else put(made)
    setBase(at)
  }
  const save = useMutation({
    mutationFn: async () => {
      await amountsRead()
      return saveOver(
        base,
        { ...now.current, name },
        ({ name: called, ...made }, revision) =>
          ask(
            api.PUT('/api/v1/treats/{id}', {
              params: { path: { id: treat.id }, header: { 'If-Match': etag(revision) } },
              body: { name: called, formula: made },
            }),
          ),
        (e) => typedOf(e.problem.current as Treat),
        take,
      )
    },
    onSuccess: async ({ answer, sent }) => {
      take(typedOf(answer).data, typedOf(answer), sent)
      queries.setQueryData(['treat', treat.id], answer)
      void message.success(words.savedAsVersionOrdersThat(answer.version))
      await askAnew(queries, ['treats'])
    },
  })
  const navigate = useNavigate()
  const copyKey = useRef(newKey())
  const copy = useMutation({
    mutationFn: () =>
      ask(
        api.POST('/api/v1/treats/{id}/copies', {
          params: { path: { id: treat.id }, header: { 'Idempotency-Key': copyKey.current } },
          body: {},
        }),
      ),
    onSuccess: async (made) => {
      copyKey.current = newKey()
      await askAnew(queries, ['treats'])
      void navigate(`/treats/${made.id}`)
    },
  })
  const refused = save.error instanceof Refused ? save.error : undefined
  // Changed elsewhere, while nothing is typed here: shown as it is now.
  if (!dirty && treat.revision > base.revision) show(typedOf(treat).data, typedOf(treat))
  // What is wrong stays on the page while the next answer is awaited, and is the same as long as it says the same.
  const [wrong, setWrong] = useState(card.error)
  if (!card.isFetching && card.error !== wrong && !sameFaults(card.error, wrong)) setWrong(card.error)
  const fault = useMemo(
    () => faultsOf([wrong, refused], (path) => (path === 'want' ? path : words.formula(path))),
    [wrong, refused],
  )
  const set = useCallback((change: Change) => put({ ...now.current, ...changeOf(change, now.current) }), [put])

  // A choice, or a chocolate that comes or goes, takes the proposed steps along; what was set by hand stays.
  const asked = useRef(0)
  const follow = useCallback(
    (change: Change) => {
      const before = now.current
      const after = { ...before, ...changeOf(change, before) }
      put(after)
      const mine = ++asked.current
      // A step that is changed while the answer is awaited is the seller's: it is asked again, with that in it.
      const settle = async () => {
        const sent = now.current
        const { steps } = await ask(
          api.POST('/api/v1/calculators/steps', { body: { before: { ...before, steps: sent.steps }, after: sent } }),
        )
        if (mine !== asked.current) return
        if (now.current.steps === sent.steps) put({ ...now.current, steps })
        else await settle()
      }
      void settle()
    },
    [put],
  )
  useTaken(f, set, setCounting, name)

  const discard = (to = typedOf(treat)) => {
    found.forget()
    save.reset()
    take(to.data, to)
  }
  // What follows is drawn when no key waits: of 40 steps it takes longer than a keystroke may.
  const c = useDeferredValue(card.data?.card)
  const drawn = useDeferredValue(last?.card)
  const choices = last?.choices ?? none
  const body = useBody(f)
  return (
    <FaultContext value={fault}>
      <section className="work treat-page">
        <h1 className="unseen">{name}</h1>
        <Restored found={Boolean(found.value) && dirty} forget={() => discard()} />
        <p className="kicker" role="status">
          {traitsOf(f.family).plural} {words.version} {treat.version}
          {words.in2} {treat.orders} {treat.orders === 1 ? words.order : words.orders}
          {dirty && words.changedNotSavedYet}
        </p>
        <Input
          className="title-input"
          aria-label={words.nameOfTheTreat}
          value={name}
          onChange={(e) => setName(e.target.value)}
          variant="borderless"
          status={refused?.at('name') ? 'error' : undefined}
        />
        {refused?.at('name') && (
          <p className="fault" role="alert">
            {refused.at('name')}
          </p>
        )}
        {save.error instanceof BothChanged && (
          <Both theirs={() => discard((save.error as BothChanged<Typed>).theirs)} mine={() => save.mutate()} />
        )}
        {!dirty && <Lessons treat={treat.id} />}
        <div className="treat-sheet">
          <ConfigProvider componentSize="small">
            <div>
              <Section f={body} finishes={f.finishes} card={drawn} pantry={pantry} />
              <Ways f={f} set={set} follow={follow} choices={choices} card={c} pantry={pantry} />
            </div>
            <div>
              <AsSaid f={f} set={set} wrong={Boolean(wrong)} />
              <Numbers f={f} set={set} follow={follow} choices={choices} card={c} pantry={pantry} />
            </div>
          </ConfigProvider>
        </div>
        <h3 className="ribbon-head">
          {words.method}
          {c && words.forWord(c.good)}
        </h3>
        {c && <Ribbon card={c} />}
        <Steps f={f} set={set} pantry={pantry} />
        <footer className="order-foot no-print">
          <Button type="primary" size="large" disabled={!dirty} loading={save.isPending} onClick={() => save.mutate()}>
            {words.saveAsVersion} {treat.version + (same({ ...f, name: '' }, { ...base.data, name: '' }) ? 0 : 1)}
          </Button>
          {dirty && (
            <Button type="link" className="link" onClick={() => discard()}>
              {words.undoAllChanges}
            </Button>
          )}
          <Button
            disabled={dirty}
            title={dirty ? words.saveFirstThenCopy : undefined}
            loading={copy.isPending}
            onClick={() => copy.mutate()}
          >
            {words.copyIt}
          </Button>
          {copy.error instanceof Refused && (
            <span className="fault" role="alert">
              {copy.error.problem.errors?.[0]?.message ?? copy.error.message}
            </span>
          )}
          {refused && !refused.problem.errors?.length && (
            <span className="fault" role="alert">
              {refused.message}
            </span>
          )}
        </footer>
        <Differences treat={treat} />
        <Versions treat={treat} />
      </section>
      <BatchCard
        treat={treat}
        f={f}
        card={c}
        why={card.data?.countWhy}
        error={wrong}
        counting={counting}
        setCounting={setCounting}
        pantry={pantry}
        dirty={dirty}
      />
    </FaultContext>
  )
}

/** What the scratch pad can put into the treat that lies on the table. */
function useTaken(f: Formula, set: (change: Partial<Formula>) => void, count: (c: Counting) => void, name: string) {
  const { lay } = useTable()
  const now = useRef({ f, set, count })
  useLayoutEffect(() => {
    now.current = { f, set, count }
  })
  const family = f.family
  const shelled = Boolean(f.shell)
  const inSheets = Boolean(f.sheet)
  const coated = f.coatings.some((c) => c.role === 'coat')
  useEffect(() => {
    lay({
      name,
      takes: {
        shell: shelled,
        sheet: inSheets,
        good: true,
        loss: true,
        centre: traitsOf(family).thick,
        pool: coated,
        portion: true,
      },
      take: (taken: Taken) => {
        const { f, set, count } = now.current
        if (taken.shell && f.shell)
          set({ shell: { ...f.shell, across: taken.shell.across, wall: taken.shell.wall, mass: undefined } })
        if (taken.sheet && f.sheet) set({ sheet: { ...f.sheet, ...taken.sheet } })
        if (taken.loss !== undefined) set({ loss: taken.loss })
        if (taken.good) count({ amount: taken.good, as: traitsOf(f.family).bagged ? 'bags' : 'pieces' })
        if (taken.pool) set({ coatings: f.coatings.map((c) => (c.role === 'coat' ? { ...c, pool: taken.pool! } : c)) })
        if (taken.portion) {
          const { ingredient, each } = taken.portion
          const list = f.portions ?? []
          const at = list.findIndex((p) => p.ingredient === ingredient)
          set({
            portions:
              at >= 0
                ? list.map((p, i) => (i === at ? { ...p, each } : p))
                : [...list, { ingredient, each, where: f.shell || f.mould ? 'in' : 'on' }],
          })
        }
        if (taken.centre && f.centre) set({ centre: { ...f.centre, each: taken.centre, across: undefined } })
      },
    })
  }, [lay, name, family, shelled, inSheets, coated])
  useEffect(() => () => lay(null), [lay])
}

/** Whether two refusals say the same of the same fields. */
const sameFaults = (a: Error | null, b: Error | null) =>
  a === b || (a instanceof Refused && b instanceof Refused && same(a.problem.errors, b.problem.errors))

const none: Schemas['TreatsChoice'][] = []

export type { Pantry }
