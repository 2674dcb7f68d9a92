import { Button } from 'antd'
import type { KeyboardEvent } from 'react'
import type { Schemas } from '../api/client'
import { lookOf } from '../kit/chocolate'
import { Car, Glyph } from '../kit/glyphs'
import { Link } from '../shell/Go'
import { dayLong, dayName, minutes, useKitchen, whatOf, whom } from '../shell/kitchen'
import { type At, corners, type Day, keyOf, lanesOf, rangeOf, type Step } from './when'
import { words } from './words'
import './away.css'

interface Props {
  day: Day
  index: number // of the day among those that are shown: the levels count from the first
  span: number // minutes that the width of every day stands for
  today: boolean
  now: number
  levels: Schemas['PlanningLevel'][]
  selected?: string
  carried?: { step: Step; at: At } // a step on its way: it shows where it would be put
  ghosts: { key: string; start: number; hand: number; hands: number }[] // where steps stood before
  select: (s: Step) => void
  grab: (s: Step) => object // what a chip needs to be dragged
  press: (s: Step, e: KeyboardEvent<HTMLButtonElement>) => void
  off: (isOff: boolean) => void
}

/** A day as an open tin: the hands above, a lane for each person, and the waiting places and moulds as levels below. */
export function DayBand(p: Props) {
  const { clock } = useKitchen()
  const { day } = p
  const range = rangeOf(day)
  const shown = range ? day.steps.filter((s) => s.start + s.hands > range.from && s.start < range.to) : []
  const elsewhere = day.steps.length - shown.length
  const name = (
    <div className="band-name">
      <h2>{dayName(day.day)}</h2>
      {day.hours.length > 0 && (
        <b className={day.free > 0 ? 'fine' : 'soft'}>
          {minutes(day.free)} {words.free}
          {elsewhere > 0 && (
            <small className="soft">
              {' '}
              · {elsewhere} {words.done}
            </small>
          )}
        </b>
      )}
      {day.hours.length === 0 && <span className="soft">{day.reason || (day.off ? words.off : words.noHours)}</span>}
      {day.away.map((a) => (
        <Link key={a.from} to={`/handover/drive/${day.day}`} className="band-away">
          <Car /> {clock(a.from)} {words.to} {clock(a.to)}
        </Link>
      ))}
      <span className="band-acts">
        {day.steps.length > 0 && <Link to={`/bench/${day.day}`}>{words.runSheet}</Link>}
        {day.hours.length > 0 && (
          <Button
            type="link"
            className="link quiet"
            aria-label={words.dayOffOn(dayLong(day.day))}
            onClick={() => p.off(true)}
          >
            {words.dayOff}
          </Button>
        )}
        {day.off && (
          <Button
            type="link"
            className="link"
            aria-label={words.useUsualHoursOn(dayLong(day.day))}
            onClick={() => p.off(false)}
          >
            {words.useUsualHours}
          </Button>
        )}
      </span>
    </div>
  )
  if (!range) {
    return (
      <article className="day-band closed" aria-label={dayLong(day.day)}>
        {name}
        <div className="band-lid" aria-hidden="true">
          <span />
        </div>
      </article>
    )
  }
  const width = (n: number) => `${(n / p.span) * 100}%`
  const hours = Array.from({ length: Math.floor((range.to - range.from) / 30) + 1 }, (_, i) => range.from + i * 30)
  const lanes = lanesOf(day)
  const from = p.index * 1440 + range.from
  const to = p.index * 1440 + range.to
  const levels = p.levels
    .map((l) => ({ ...l, corners: corners(l.fills, from, to) }))
    .filter((l) => l.corners.some((c) => c.amount > 0))
  return (
    <article className={p.today ? 'day-band today' : 'day-band'} aria-label={dayLong(day.day)}>
      {name}
      <div className="band-body" style={{ width: width(range.to - range.from) }}>
        <div className="band-hours" aria-hidden="true">
          {hours.map((h) => (
            <span key={h} style={{ left: `${((h - range.from) / (range.to - range.from)) * 100}%` }}>
              {h % 60 === 0 || range.to - range.from < 200 ? clock(h) : ''}
            </span>
          ))}
        </div>
        <div
          className="lanes"
          data-band={day.day}
          data-from={range.from}
          data-span={range.to - range.from}
          data-lanes={lanes}
          style={{ height: lanes * 46 }}
        >
          <Inside {...{ range, day, lanes }} />
          {p.today && p.now > range.from && p.now < range.to && (
            <i className="now-line" style={{ left: inRange(p.now, range) }} aria-hidden="true" />
          )}
          {day.away
            .filter((a) => a.to > range.from && a.from < range.to && a.hand < lanes)
            .map((a) => (
              <i
                key={a.from}
                className="away-chip"
                aria-hidden="true"
                title={`${words.onTheRoad}, ${clock(a.from)} ${words.to} ${clock(a.to)}`}
                style={{
                  left: inRange(Math.max(a.from, range.from), range),
                  width: part(Math.min(a.to, range.to) - Math.max(a.from, range.from), range),
                  top: a.hand * 46 + 3,
                }}
              >
                <Car />
              </i>
            ))}
          {p.ghosts.map((g) => (
            <i
              key={g.key}
              className="ghost"
              aria-hidden="true"
              style={{ left: inRange(g.start, range), width: part(g.hands, range), top: g.hand * 46 + 3 }}
            />
          ))}
          {shown.map((s) => (
            <Chip
              key={keyOf(s)}
              {...{ s, range, day }}
              selected={p.selected === keyOf(s)}
              carried={p.carried !== undefined && keyOf(p.carried.step) === keyOf(s)}
              select={p.select}
              grab={p.grab}
              press={p.press}
              people={lanes}
              scale={590 / p.span}
            />
          ))}
          {p.carried?.at.day === day.day && (
            <i
              className="carried"
              aria-hidden="true"
              style={{
                left: inRange(p.carried.at.start, range),
                width: part(p.carried.step.hands, range),
                top: p.carried.at.hand * 46 + 1,
              }}
            >
              {clock(p.carried.at.start)}
            </i>
          )}
        </div>
        {levels.map((l) => (
          <Level key={l.id} level={l} from={from} to={to} />
        ))}
      </div>
    </article>
  )
}

type Range = { from: number; to: number }
const inRange = (minute: number, r: Range) => `${((minute - r.from) / (r.to - r.from)) * 100}%`
const part = (n: number, r: Range) => `${(n / (r.to - r.from)) * 100}%`

/** Where there are hands: the white inside of the tin. */
const Inside = ({ range, day, lanes }: { range: Range; day: Day; lanes: number }) => (
  <>
    {day.hours.flatMap((h) =>
      Array.from({ length: Math.min(h.hands, lanes) }, (_, hand) => (
        <i
          key={`${h.from}-${hand}`}
          className="inside"
          aria-hidden="true"
          style={{ left: inRange(h.from, range), width: part(h.to - h.from, range), top: hand * 46 }}
        />
      )),
    )}
  </>
)

interface ChipProps extends Pick<Props, 'select' | 'grab' | 'press'> {
  s: Step
  range: Range
  day: Day
  selected: boolean
  carried: boolean
  people: number
  scale: number // px a minute, about: whether there is room for words
}

/** A step: what melts and washes before it, its hands, and its waiting as a thin line. */
function Chip({ s, range, day, selected, carried, people, scale, ...p }: ChipProps) {
  const kitchen = useKitchen()
  const { clock } = kitchen
  const look = lookOf(s.chocolate)
  const top = s.hand * 46
  const setup = s.done ? 0 : s.melt + s.wash
  const room = s.hands * scale
  const says = [
    words.stepOf(s.name, whatOf(kitchen, s), whom(s.for)),
    words.stepAt(dayName(day.day), clock(s.start), clock(s.start + s.hands)) +
      (people > 1 ? words.byPerson(s.hand + 1) : ''),
    ...(s.wash > 0 ? [words.cleanDownBefore(minutes(s.wash))] : []),
    ...(s.melt > 0 ? [words.meltBefore(s.pot, minutes(s.melt))] : []),
    ...(s.wait > 0 ? [words.thenWaits(minutes(s.wait), s.spot)] : []),
    ...(s.done ? [words.done] : s.short ? [words.notScheduled] : s.pinned ? [words.isPinned] : []),
  ]
  return (
    <>
      {setup > 0 && (
        <i
          className="setup"
          aria-hidden="true"
          style={{ left: inRange(s.start - setup, range), width: part(setup, range), top: top + 3 }}
        >
          {setup * scale > 34 ? (s.wash > 0 && s.melt === 0 ? words.wash : words.melt) : ''}
        </i>
      )}
      {s.wait > 0 && (
        <i
          className={`waits ${s.place ?? ''}`}
          aria-hidden="true"
          style={{
            left: inRange(s.start + s.hands, range),
            width: part(Math.max(Math.min(s.wait, range.to - s.start - s.hands), 0), range),
            top: top + 41,
          }}
        />
      )}
      <button
        type="button"
        className={`step-chip c-${look.word}${s.done ? ' done' : ''}${s.short ? ' short' : ''}${s.pinned ? ' pinned' : ''}${selected ? ' selected' : ''}${carried ? ' lifted' : ''}${room <= 84 ? ' small' : ''}`}
        style={{
          left: inRange(s.start, range),
          width: part(s.hands, range),
          top: top + 3,
          ...(s.short ? {} : { background: look.fill, color: look.ink, borderColor: look.edge }),
        }}
        title={says.join('\n')}
        aria-label={says.join(', ')}
        aria-pressed={selected}
        data-step={keyOf(s)}
        onClick={() => p.select(s)}
        onKeyDown={(e) => p.press(s, e)}
        {...p.grab(s)}
      >
        {room > 15 && <Glyph family={s.family} size={15} />}
        {room > 32 && <span>{room > 84 ? s.name : short(s)}</span>}
        {s.pinned && !s.done && <PinMark />}
      </button>
    </>
  )
}

/** The id of a step is the kitchen's own word for it: shells-3, dip. */
const short = (s: Step) => s.step.replace('-', ' ')

const PinMark = () => (
  <svg className="pin-mark" width="11" height="11" viewBox="0 0 12 12" aria-hidden="true">
    <circle cx="6" cy="4" r="3.2" fill="#c8500a" stroke="#fff" strokeWidth="1" />
    <path d="M6 7.2V11.4" stroke="#c8500a" strokeWidth="1.7" strokeLinecap="round" />
  </svg>
)

/** A waiting place or the moulds: how full it is over the day. */
function Level({
  level,
  from,
  to,
}: {
  level: Schemas['PlanningLevel'] & { corners: { at: number; amount: number }[] }
  from: number
  to: number
}) {
  const most = Math.max(...level.corners.map((c) => c.amount))
  const y = (amount: number) => 16 - (Math.min(amount, level.holds) / Math.max(level.holds, 1)) * 14
  const path = level.corners
    .map((c, i) => `${i === 0 ? 'M' : 'H'}${c.at - from}${i === 0 ? ` ${y(c.amount)}` : `V${y(c.amount)}`}`)
    .join('')
  return (
    <div
      className={`level ${level.kind} ${level.id}`}
      role="img"
      aria-label={words.atMostOf(level.name, most, level.holds, level.kind === 'spot' ? words.trays2 : words.moulds)}
    >
      <span className="level-name">
        {level.kind === 'mould' ? words.moulds : level.name}{' '}
        <b className={most >= level.holds ? 'full' : ''}>
          {most}/{level.holds}
        </b>
      </span>
      <svg viewBox={`0 0 ${to - from} 16`} preserveAspectRatio="none" aria-hidden="true">
        <rect x="0" y="0" width={to - from} height="16" className="level-room" />
        <path d={`${path}H${to - from}V16H0Z`} className="level-fill" />
      </svg>
    </div>
  )
}
