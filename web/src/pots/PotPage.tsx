import { useQueryClient } from '@tanstack/react-query'
import { Button } from 'antd'
import { useRef, useState } from 'react'
import { Link, useParams } from 'react-router'
import { api, ask, missing, Refused } from '../api/client'
import { askAnew } from '../api/topics'
import { useActs } from '../bench/queue'
import { words as bench } from '../bench/words'
import { Face } from '../kit/Face'
import { Sign } from '../kit/glyphs'
import { useSay } from '../kit/say'
import { useAwake } from '../kit/useAwake'
import { useKitchen } from '../shell/kitchen'
import { useShortcut } from '../shell/useShortcut'
import { Curve } from './Curve'
import { Deeds } from './Deeds'
import { End } from './End'
import { AtTheBowl } from './AtTheBowl'
import { didOf, type Pot, scalesOf, type Touch, usePot, useSeconds, weight, whileOf } from './pot'
import { Scale } from './Scale'
import { Typed } from './Typed'
import { useChime } from './useChime'
import { words } from './words'
import './pots.css'

/** A bowl on the counter: how warm it is, what to do now, and when. */
export default function PotPage() {
  const { id = '' } = useParams()
  const pot = usePot(id)
  if (pot.error && missing(pot.error)) return <p className="empty">{pot.error.message}</p>
  if (!pot.data) return <Face title={words.bowl} of={[pot]} />
  return <Counter key={id} p={pot.data} />
}

/** Says what was done to a bowl. */
function useDeeds(p: Pot) {
  const kitchen = useKitchen()
  const queries = useQueryClient()
  const say = useSay()
  const busy = useRef(false)
  const { act } = useActs()
  const anew = () => askAnew(queries, ['pots'])
  async function undo(deed: string) {
    try {
      await ask(api.DELETE('/api/v1/pots/{id}/deeds/{was}', { params: { path: { id: p.id, was: deed } } }))
      await anew()
    } catch (error) {
      say.refused(error)
    }
  }
  async function note(t: Pick<Touch, 'what' | 'seconds' | 'low' | 'grams'> & { pieces?: number }) {
    if (busy.current) return // a double touch is one
    busy.current = true
    const { what, seconds, low, grams, pieces } = t
    const did = didOf(kitchen, t)
    const outcome = await act(
      { kind: 'deed', pot: p.id, deed: { what, seconds, low, grams, pieces } },
      words.deedOf(p.name, did),
      `/bench/bowls/${p.id}`,
    )
    busy.current = false
    if (outcome instanceof Refused) say.refused(outcome)
    else say.done('deed', outcome === 'sent' ? words.noted(did) : bench.isKept(did))
  }
  return { note, undo }
}

function Counter({ p }: { p: Pot }) {
  const kitchen = useKitchen()
  const { note, undo } = useDeeds(p)
  const [ending, setEnding] = useState(false)
  const seconds = useSeconds(p)
  useChime(p, seconds)
  useAwake(!p.ended)
  const a = p.advice
  const primary = a?.touches[0]
  // One touch, one key: the first that needs no amount typed.
  useShortcut(['d'], () => primary && needsNothing(primary) && void note(primary))
  return (
    <section className="wide pot" aria-label={words.bowl}>
      <article className={a?.urgent ? 'pot-main urgent' : 'pot-main'}>
        <header>
          <div className="pot-says" role="status" aria-live="polite">
            <h1>{a ? a.do : p.name}</h1>
            <p className="pot-of">
              {words.of(kitchen.amount(p.mass), p.name)}
              {a && ` · ${words.inIt(kitchen.amount(a.in))}`}
            </p>
            {a?.then.map((line) => (
              <p key={line} className="pot-then">
                {line}
              </p>
            ))}
          </div>
          <Figure p={p} seconds={seconds} />
        </header>
        {a?.trouble && (
          <p className="pot-trouble" role="alert">
            <Sign kind="caution" size={20} /> {words[a.trouble]}
          </p>
        )}
        <Curve p={p} />
      </article>
      <aside className="pot-side">
        {a && <Typed p={p} />}
        {a && <Scale p={p} note={note} />}
        {a?.left !== undefined && (
          <p className="pot-left">
            <b>{words.left(a.left)}</b>
            {a.topUp && <span className="trouble"> {words.topUp(kitchen.amount(a.topUp))}</span>}
          </p>
        )}
        {a && <AtTheBowl key={`${a.stage} ${a.touches[0]?.what ?? ''}`} p={p} note={note} />}
        {p.ended && <Over p={p} />}
        <Deeds p={p} undo={undo} note={note} />
        <footer className="pot-ends">
          {!p.ended && <Button onClick={() => setEnding(true)}>{words.end}</Button>}
          <Link to={`/bench/${p.day}`}>{words.backToBench}</Link>
        </footer>
      </aside>
      {ending && <End p={p} close={() => setEnding(false)} />}
      <p className="pot-caution soft">{words.caution}</p>
    </section>
  )
}

const needsNothing = (t: Touch) => t.what !== 'dipped' && t.what !== 'took'

/** How warm it is, or how long it still takes: the figure to be read from where one stands. */
function Figure({ p, seconds }: { p: Pot; seconds: number }) {
  const { temp, degree } = scalesOf(useKitchen())
  const a = p.advice
  if (!a) {
    const last = p.curve.temps.at(-1)
    return last ? (
      <div className="pot-figure">
        <b>{temp(last.value)}</b> <i>{degree}</i>
      </div>
    ) : null
  }
  const left = a.ends ? Math.max(a.ends - seconds, 0) : 0
  const old = a.temp !== undefined ? Math.round(seconds - a.read) : 0
  return (
    <div className="pot-figure">
      {a.temp === undefined ? (
        <small>{words.notYet}</small>
      ) : (
        <>
          <b data-testid="temperature">{temp(a.temp)}</b> <i>{degree}</i>
        </>
      )}
      {left > 0 && (
        <p className="pot-count">
          {left < 100 ? Math.ceil(left) : `${Math.floor(left / 60)}:${String(Math.floor(left % 60)).padStart(2, '0')}`}
          {left < 100 && <small> s</small>}
        </p>
      )}
      {left === 0 && a.due && <Due due={a.due} seconds={seconds} />}
      {a.temp !== undefined && (old > 20 || a.trouble) && <p className="pot-old">{words.ago(Math.max(old, 0))}</p>}
    </div>
  )
}

function Due({ due, seconds }: { due: NonNullable<NonNullable<Pot['advice']>['due']>; seconds: number }) {
  const left = due.at - seconds
  return (
    <p className="pot-due">
      {left < 8
        ? words.anyMoment(due.what)
        : words.inAbout(due.what, whileOf(left), whileOf(Math.max(due.from - seconds, 5)), whileOf(due.to - seconds))}
    </p>
  )
}

/** A bowl that is over: how it came out, and that it can be taken up again. */
function Over({ p }: { p: Pot }) {
  const kitchen = useKitchen()
  const queries = useQueryClient()
  const say = useSay()
  async function resume() {
    try {
      await ask(api.DELETE('/api/v1/pots/{id}/end', { params: { path: { id: p.id } } }))
      await askAnew(queries, ['pots'])
    } catch (error) {
      say.refused(error)
    }
  }
  return (
    <section className="pot-over">
      <h2>{words.cameOut[p.result]}</h2>
      <p>{words.overSince(kitchen.moment(p.ended!))}</p>
      {p.remains !== undefined && (
        <p>
          {words.remains}: <b>{weight(kitchen, p.remains)}</b>
        </p>
      )}
      {p.note && <p>{p.note}</p>}
      {p.learned && <p className="soft">{words.learned(Math.round(p.learned.watts), p.learned.bursts)}</p>}
      <Button onClick={() => void resume()}>{words.resume}</Button>
    </section>
  )
}
