import type { Schemas } from '../api/client'
import { lookOf } from '../kit/chocolate'
import { useKitchen } from '../shell/kitchen'
import type { Step } from './StepRow'
import { words } from './words'
import './evening.css'

type Session = Schemas['BenchSession']

interface Props {
  sessions: Session[]
  steps: Step[]
  current?: Step
  now?: number // minute of the day, on the day itself
  later: Map<string, number> // minutes at which steps begin that run late, by batch and step
}

/** The time of work that goes on, or comes next; on another day, and when all is over, the last. */
const sessionAt = (list: Session[], now?: number) =>
  list.find((s) => now === undefined || now < Math.max(s.to, s.ends)) ?? list.at(-1)

const wide = 850 // px of the tin, about: whether there is room for words
const enough = 44 // px for a word

/** A time of work as one long tin: a compartment for each step, as wide as its minutes, and the moment marked. */
export function Evening({ sessions, steps, current, now, later }: Props) {
  const { clock } = useKitchen()
  const session = sessionAt(
    sessions.filter((s) => s.steps.length > 0),
    now,
  )
  if (!session) return null
  const pieces = session.steps.map((n) => {
    const s = steps[n]!
    return { s, start: (!s.doneAt && later.get(`${s.batch}/${s.step}`)) || s.start }
  })
  const done = pieces.filter(({ s }) => s.doneAt).length
  const ends = Math.max(...pieces.map(({ s, start }) => start + s.hands))
  const from = Math.min(session.from, ...session.setups.map((x) => x.at), ...pieces.map((p) => p.start))
  const to = Math.max(session.to, ends)
  const left = (at: number) => `${((at - from) / (to - from)) * 100}%`
  const width = (minutes: number) => `${(minutes / (to - from)) * 100}%`
  const fits = (minutes: number) => (minutes / (to - from)) * wide > enough
  const lanes = Math.max(session.people, ...pieces.map(({ s }) => s.hand + 1), 1)
  const lane = (hand: number) => ({ top: `${(hand / lanes) * 100}%`, height: `${100 / lanes}%` })
  const moment = now !== undefined && now > from && now < to ? now : undefined
  return (
    <figure className="evening no-print">
      <figcaption>{clock(from)}</figcaption>
      <div
        className="evening-tin"
        style={{ height: 14 + lanes * 26 }}
        role="img"
        aria-label={words.evening(done, pieces.length, clock(ends), current?.name)}
      >
        <div>
          {session.setups.map((x) => (
            <i
              key={`${x.at}-${x.hand}-${x.pot ?? ''}`}
              className="evening-setup"
              style={{ left: left(x.at), width: width(x.minutes), ...lane(x.hand) }}
            >
              {fits(x.minutes) && (x.wash ? words.cleanDown2 : words.melt2)}
            </i>
          ))}
          {pieces.map(({ s, start }) => {
            const look = lookOf(s.chocolate)
            const is = s.doneAt ? 'done' : s === current ? 'current' : ''
            return (
              <b
                key={`${s.batch}/${s.step}`}
                className={`evening-step ${is}`}
                title={`${clock(start)} ${s.name}, ${s.treat}`}
                style={{
                  left: left(start),
                  width: width(s.hands),
                  ...lane(s.hand),
                  background: look.fill,
                  borderColor: look.edge,
                  color: look.ink,
                }}
              >
                {fits(s.hands) && s.name}
              </b>
            )
          })}
          {moment !== undefined && <i className="evening-now" style={{ left: left(moment) }} />}
        </div>
      </div>
      <figcaption className={ends > session.to ? 'trouble' : undefined}>
        {words.doneBy} <b>{clock(ends)}</b>
      </figcaption>
    </figure>
  )
}
