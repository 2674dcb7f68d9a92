import type { Schemas } from '../api/client'
import { lookOf } from '../kit/chocolate'
import { Numbers } from '../kit/Numbers'
import { useKitchen } from '../shell/kitchen'
import { BeginThis } from '../pots/OnTheCounter'
import { words } from './words'
import './bench.css'

/** What is melted and washed down in a time of work, and when to look at what waits. */
export function SetUp({ session, day }: { session: Schemas['BenchSession']; day: string }) {
  const kitchen = useKitchen()
  const { clock } = kitchen
  if (session.setups.length + session.looks.length === 0) return null
  return (
    <div className="set-up">
      {session.setups.length > 0 && (
        <ul aria-label={words.setUp}>
          {session.setups.map((x) => (
            <li key={`${x.at}-${x.hand}-${x.pot ?? ''}`}>
              <time>{clock(x.at)}</time>
              {x.wash ? (
                <span>
                  <b className="trouble">{words.cleanDown}</b>
                  {words.cleanTools} {x.for.join(', ')}
                </span>
              ) : (
                <span>
                  <i
                    className={`swatch c-${lookOf(x.chocolate!).word}`}
                    style={{ background: lookOf(x.chocolate!).fill, borderColor: lookOf(x.chocolate!).edge }}
                    aria-hidden="true"
                  />{' '}
                  <b>
                    {words.melt} {kitchen.amount(x.melt!)} {words.of} {x.pot}
                  </b>{' '}
                  {words.for2} {x.for.join(', ')} <BeginThis of={x} day={day} />
                  {(x.advice ?? []).map((line) => (
                    <small key={line}>
                      <Numbers text={line} />
                    </small>
                  ))}
                </span>
              )}
            </li>
          ))}
        </ul>
      )}
      {session.looks.length > 0 && (
        <p className="looks">
          <b>{words.check}</b>{' '}
          {session.looks.map((l, i) => (
            <span key={i}>
              {clock(l.at)} {l.spot}: {l.treat}
              {i + 1 < session.looks.length ? ' · ' : ''}
            </span>
          ))}
        </p>
      )}
    </div>
  )
}
