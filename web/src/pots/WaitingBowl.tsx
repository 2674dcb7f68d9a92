import { Button } from 'antd'
import { useState } from 'react'
import { useActs } from '../bench/queue'
import { drop } from '../device/drafts'
import { Numbers } from '../kit/Numbers'
import { Link } from '../shell/Go'
import { useKitchen } from '../shell/kitchen'
import { Deeds } from './Deeds'
import { End } from './End'
import { scalesOf, weight } from './pot'
import { Typed } from './Typed'
import { useDeeds } from './useDeeds'
import type { WaitingBowlOf } from './useWaitingBowls'
import { words } from './words'
import './pots.css'

/**
 * What can be done at such a bowl: read and type, note what is done, end it. What to do next is worked out by the
 * kitchen; here it is what the run sheet said.
 */
export function WaitingBowl({ of }: { of: WaitingBowlOf }) {
  const kitchen = useKitchen()
  const { degree } = scalesOf(kitchen)
  const { waiting } = useActs()
  const [ending, setEnding] = useState(false)
  const { id, name, day, chocolate, grams } = of.begin
  const ours = waiting.filter((w) => !w.refused && 'pot' in w.act && w.act.pot === id)
  const read = ours.flatMap((w) => (w.act.kind === 'reading' ? [w.act.value] : [])).at(-1)
  const over = ours.some((w) => w.act.kind === 'end')
  const p = {
    id,
    name,
    began: of.at,
    chocolate,
    curve: { temps: [], grams: [] },
    deeds: ours.flatMap((w) => (w.act.kind === 'deed' ? [{ ...w.act.deed, id: w.place, at: w.at }] : [])),
    ended: over ? of.at : undefined,
  }
  const { note } = useDeeds(p)
  return (
    <section className="wide pot" aria-label={words.bowl}>
      <article className="pot-main">
        <header>
          <div className="pot-says">
            <h1>{name}</h1>
            <p className="pot-of">{words.of(weight(kitchen, grams), name)}</p>
            <p className="pot-then" role="status">
              {words.begunAlone(kitchen.time(of.at))}
            </p>
            {(of.advice ?? []).map((line) => (
              <p key={line} className="pot-then">
                <Numbers text={line} />
              </p>
            ))}
          </div>
          {read !== undefined && (
            <div className="pot-figure">
              <b>{read}</b> <i>{degree}</i>
            </div>
          )}
        </header>
      </article>
      <aside className="pot-side">
        {!over && <Typed p={p} />}
        <Deeds p={p} undo={async (place) => drop(place)} note={note} />
        <footer className="pot-ends">
          {!over && <Button onClick={() => setEnding(true)}>{words.end}</Button>}
          <Link to={day ? `/bench/${day}` : '/bench'}>{words.backToBench}</Link>
        </footer>
      </aside>
      {ending && <End p={p} close={() => setEnding(false)} />}
      <p className="pot-caution soft">{words.caution}</p>
    </section>
  )
}
