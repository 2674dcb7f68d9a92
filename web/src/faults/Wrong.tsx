import { keepPreviousData, useQuery, useQueryClient } from '@tanstack/react-query'
import { Button, Checkbox, Segmented } from 'antd'
import { type ReactNode, useState } from 'react'
import { useSearchParams } from 'react-router'
import { api, ask, type Schemas } from '../api/client'
import { askAnew } from '../api/topics'
import { Blank } from '../kit/Blank'
import { Face } from '../kit/Face'
import { useSay } from '../kit/say'
import { scalesOf } from '../pots/pot'
import { Link } from '../shell/Go'
import { useKitchen } from '../shell/kitchen'
import { Causes } from './Causes'
import { words } from './words'
import './faults.css'

type Where = Schemas['FaultsWhere']
type Told = Schemas['FaultsTold']

/** Something is wrong at a step, at a bowl, or nowhere that is on record: what is behind it, and what to do. */
export default function Wrong() {
  const [query] = useSearchParams()
  const batch = query.get('batch') ?? undefined
  const pot = query.get('pot') ?? undefined
  const day = query.get('day') ?? undefined
  const step = query.get('step') ?? undefined
  const sign = query.get('sign') ?? undefined
  const at = { batch, pot, step: batch && step }
  const head = (
    <header className="work-head">
      <h1>{words.title}</h1>
      {query.get('name') && <p className="soft">{query.get('name')}</p>}
      <span className="head-acts">
        {pot && <Link to={`/bench/bowls/${pot}`}>{words.backToBowl}</Link>}
        {day && <Link to={`/bench/${day}`}>{words.backToBench}</Link>}
      </span>
    </header>
  )
  return <Seen key={`${batch} ${step} ${pot} ${sign}`} at={at} first={sign} head={head} />
}

/** What is seen, narrowed down question by question. */
function Seen(p: { at: Pick<Where, 'batch' | 'step' | 'pot'>; first?: string; head: ReactNode }) {
  const { at, first } = p
  const recorded = Boolean(at.batch ?? at.pot)
  const [w, setW] = useState<Where>({ ...at, units: 1, kind: recorded ? undefined : 'real', sign: first })
  const set = (change: Partial<Where>) => setW({ ...w, ...change })
  const told = useQuery({
    queryKey: ['fault', w],
    queryFn: ({ signal }) => ask(api.POST('/api/v1/faults/question', { body: w, signal })),
    placeholderData: keepPreviousData,
    retry: false,
  })
  const t = told.data
  if (!t) return <Face title={words.title} of={[told]} />
  const sign = t.signs.find((s) => s.sign === w.sign)
  return (
    <section className="wide wrong">
      {p.head}
      <div className="wrong-at">{recorded ? <Amounts t={t} w={w} set={set} /> : <Making w={w} set={set} />}</div>
      {sign ? (
        <h2 className="wrong-sign">
          {sign.name}{' '}
          <Button type="link" className="link" onClick={() => set({ sign: undefined, said: [], skipped: [] })}>
            {words.anotherSign}
          </Button>
        </h2>
      ) : (
        <Signs t={t} choose={(s) => set({ sign: s, said: [], skipped: [] })} />
      )}
      {sign && (
        <div className="wrong-told" aria-busy={told.isPlaceholderData}>
          <Questions t={t} w={w} set={set} />
          <Causes t={t} w={w} recorded={recorded} late={told.isPlaceholderData} />
        </div>
      )}
      {recorded && <Noted at={at} />}
      <p className="soft wrong-caution">{words.notSafe}</p>
    </section>
  )
}

interface Part {
  w: Where
  set: (change: Partial<Where>) => void
}

/** How many it is seen at, and how much is in the bowl. */
function Amounts({ t, w, set }: Part & { t: Told }) {
  const [bowl, setBowl] = useState('')
  const { weightUnit, fromWeight, grams } = scalesOf(useKitchen())
  return (
    <p>
      {t.begun > 0 && (
        <>
          {words.howMany}{' '}
          <Blank
            label={words.howMany}
            inputMode="numeric"
            wide={4}
            value={String(w.units ?? '')}
            onChange={(e) => set({ units: Math.min(Number(e.target.value.replace(/\D/g, '')), 10000) })}
          />{' '}
          {words.ofBegun(t.begun, t.unit)} ·{' '}
        </>
      )}
      {words.inTheBowl}{' '}
      <Blank
        label={words.inBowl(weightUnit)}
        inputMode="decimal"
        wide={6}
        value={bowl}
        placeholder={grams(t.bowl.amount)}
        onChange={(e) => {
          const typed = e.target.value.replace(/[^\d.]/g, '').slice(0, 6)
          setBowl(typed)
          set({ bowl: typed ? Math.min(fromWeight(Number(typed) || 0), 20000) : undefined })
        }}
      />{' '}
      {weightUnit}
    </p>
  )
}

/** Of something that is not on record: what it is made of, and how. */
function Making({ w, set }: Part) {
  const kinds = (['real', 'compound'] as const).map((value) => ({ value, label: words.kinds[value] }))
  const ways = Object.entries(words.ways) as [NonNullable<Where['ways']>[number], string][]
  return (
    <>
      <Segmented aria-label={words.kind} value={w.kind} options={kinds} onChange={(kind) => set({ kind })} />
      <fieldset aria-label={words.making}>
        {ways.map(([way, name]) => (
          <Checkbox
            key={way}
            checked={w.ways?.includes(way) ?? false}
            onChange={(e) =>
              set({ ways: [...(w.ways ?? []).filter((x) => x !== way), ...(e.target.checked ? [way] : [])] })
            }
          >
            {name}
          </Checkbox>
        ))}
      </fieldset>
    </>
  )
}

/** What can be seen there; what the step can show comes first. */
function Signs({ t, choose }: { t: Told; choose: (sign: string) => void }) {
  const some = (fits: boolean) => t.signs.filter((s) => s.fits === fits)
  const list = (of: Told['signs']) => (
    <ul className="wrong-signs">
      {of.map((s) => (
        <li key={s.sign}>
          <button type="button" onClick={() => choose(s.sign)}>
            {s.name}
          </button>
        </li>
      ))}
    </ul>
  )
  return (
    <>
      <h2>{words.whatDoYouSee}</h2>
      {list(some(true))}
      {some(false).length > 0 && (
        <details>
          <summary>{words.notHere}</summary>
          {list(some(false))}
        </details>
      )}
    </>
  )
}

/** One question at a time, and what the record has answered. */
function Questions({ t, w, set }: Part & { t: Told }) {
  return (
    <div className="wrong-asks">
      {t.ask && (
        <div role="group" aria-label={t.ask.text} className="wrong-ask">
          <p>{t.ask.text}</p>
          {[true, false].map((is) => (
            <Button
              key={String(is)}
              size="large"
              onClick={() => set({ said: [...(w.said ?? []), { fact: t.ask!.fact, is }] })}
            >
              {is ? words.yes : words.no}
            </Button>
          ))}
          <Button size="large" type="text" onClick={() => set({ skipped: [...(w.skipped ?? []), t.ask!.fact] })}>
            {words.dontKnow}
          </Button>
        </div>
      )}
      {t.known.length > 0 && (
        <>
          <h3>{words.onRecord}</h3>
          <ul className="wrong-known">
            {t.known.map((k) => (
              <li key={k.fact}>
                {k.text} <b>{k.is ? words.yes : words.no}</b>
              </li>
            ))}
          </ul>
        </>
      )}
    </div>
  )
}

/** What was noted at the same place, each to be taken back. */
function Noted({ at }: { at: Pick<Where, 'batch' | 'step' | 'pot'> }) {
  const kitchen = useKitchen()
  const queries = useQueryClient()
  const say = useSay()
  const list = useQuery({
    queryKey: ['faults', at],
    queryFn: () => ask(api.GET('/api/v1/faults', { params: { query: { batch: at.batch, pot: at.pot } } })),
  })
  const here = (list.data?.faults ?? []).filter((f) => !at.step || f.step === at.step)
  async function takeBack(id: string) {
    try {
      await ask(api.DELETE('/api/v1/faults/{id}', { params: { path: { id } } }))
      say.done('fault', words.takenBack)
    } catch (error) {
      say.refused(error)
    }
    await askAnew(queries, ['plan', 'larder', 'faults'])
  }
  if (here.length === 0) return null
  return (
    <>
      <h3>{words.notedHere}</h3>
      <ul className="wrong-noted">
        {here.map((f) => (
          <li key={f.id}>
            {kitchen.time(f.at)} <b>{f.sign}</b>. {f.cause} {f.grade && words.grades[f.grade]}
            {f.pieces > 0 && ` · ${words.lost(f.pieces)}`}{' '}
            <Button
              type="link"
              className="link"
              aria-label={words.takeBackOf(f.sign)}
              onClick={() => void takeBack(f.id)}
            >
              {words.takeBack}
            </Button>
          </li>
        ))}
      </ul>
    </>
  )
}
