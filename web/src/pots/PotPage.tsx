import { useQueryClient } from '@tanstack/react-query'
import { Button } from 'antd'
import { useState } from 'react'
import { useParams } from 'react-router'
import { api, ask, missing } from '../api/client'
import { askAnew } from '../api/topics'
import { Face } from '../kit/Face'
import { useSay } from '../kit/say'
import { useAwake } from '../kit/useAwake'
import { Link } from '../shell/Go'
import { useKitchen } from '../shell/kitchen'
import { useShortcut } from '../shell/useShortcut'
import { Deeds } from './Deeds'
import { End } from './End'
import { AtTheBowl } from './AtTheBowl'
import { Main } from './Main'
import { type Pot, type Touch, usePot, useSeconds, weight } from './pot'
import { Scale } from './Scale'
import { Typed } from './Typed'
import { useChime } from './useChime'
import { useDeeds } from './useDeeds'
import { useWaitingBowls } from './useWaitingBowls'
import { WaitingBowl } from './WaitingBowl'
import { words } from './words'
import './pots.css'

/** A bowl on the counter: how warm it is, what to do now, and when. */
export default function PotPage() {
  const { id = '' } = useParams()
  const pot = usePot(id)
  const begun = useWaitingBowls().find((b) => b.begin.id === id)
  if (begun && !pot.data) return <WaitingBowl of={begun} />
  if (pot.error && missing(pot.error)) return <p className="empty">{pot.error.message}</p>
  if (!pot.data) return <Face title={words.bowl} of={[pot]} />
  return <Counter key={id} p={pot.data} />
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
      <Main p={p} seconds={seconds} />
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
          <Link to={`/bench/wrong?${String(new URLSearchParams({ pot: p.id, day: p.day, name: p.name }))}`}>
            {words.wrong}
          </Link>
          <Link to={`/bench/${p.day}`}>{words.backToBench}</Link>
        </footer>
      </aside>
      {ending && <End p={p} close={() => setEnding(false)} />}
      <p className="pot-caution soft">{words.caution}</p>
    </section>
  )
}

const needsNothing = (t: Touch) => t.what !== 'dipped' && t.what !== 'took'

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
