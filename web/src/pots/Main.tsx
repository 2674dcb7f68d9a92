import { Sign } from '../kit/glyphs'
import { useKitchen } from '../shell/kitchen'
import { Curve } from './Curve'
import { type Pot, scalesOf, whileOf } from './pot'
import { words } from './words'
import './pots.css'

/** What to do now with a bowl, how warm it is, and its curve; to be read from where one stands. */
export function Main({ p, seconds, silent }: { p: Pot; seconds: number; silent?: boolean }) {
  const kitchen = useKitchen()
  const a = p.advice
  return (
    <article className={a?.urgent && !silent ? 'pot-main urgent' : 'pot-main'}>
      <header>
        <div className="pot-says" role="status" aria-live="polite">
          <h1>{a && !silent ? a.do : p.name}</h1>
          <p className="pot-of">
            {words.of(kitchen.amount(p.mass), p.name)}
            {a && ` · ${words.inIt(kitchen.amount(a.in))}`}
          </p>
          {(silent ? [] : (a?.then ?? [])).map((line) => (
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
  )
}

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
