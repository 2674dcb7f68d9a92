import { useQuery } from '@tanstack/react-query'
import { Button, Segmented, InputNumber } from 'antd'
import { Fragment, type KeyboardEvent, type PointerEvent, useRef, useState } from 'react'
import { Link } from 'react-router'
import { api, ask, askTagged, type Schemas } from '../api/client'
import { Face } from '../kit/Face'
import { clockOf, Day as DayPick, minuteOf, Time } from '../kit/Day'
import { Sign } from '../kit/glyphs'
import { useSay } from '../kit/say'
import { Line, Part } from '../orders/Estimate'
import { dayLong, dayName, minutes, plusDays, useKitchen, whom } from '../shell/kitchen'
import { Anew } from './Anew'
import { DayBand } from './DayBand'
import { Fills } from './Fills'
import './plan.css'
import { QuickHours } from './QuickHours'
import { useChange } from './useChange'
import { type At, before, type Day, keyOf, type Outcome, rangeOf, type Step, type View } from './when'
import { words } from './words'

const grid = 5 // minutes that a step is put to

/** Days without hours: where the week has none at all, they are set here. */
function Idle() {
  const hours = useQuery({ queryKey: ['work-days'], queryFn: () => askTagged(api.GET('/api/v1/work-days', {})) })
  if (hours.data?.data.week.every((day) => day.length === 0)) return <QuickHours />
  return (
    <p className="empty">
      {words.noWorkingHoursOnThese} <Link to="/plan/hours">{words.setYourHours}</Link>
      {words.traysAndMouldsToSchedule}
    </p>
  )
}

/** The fortnight in large: who does what when, what waits where, and why something has no room. */
export default function Plan() {
  const kitchen = useKitchen()
  const [from, setFrom] = useState<string>()
  const view = useQuery({
    queryKey: ['plan', from],
    queryFn: () => ask(api.GET('/api/v1/plan', { params: { query: { from, days: 14 } } })),
    refetchInterval: 60_000,
  })
  if (!view.data) return <Face title={words.plan} of={[view]} />
  const first = from ?? kitchen.today()
  return (
    <Fortnight
      view={view.data}
      first={first}
      go={(days) => setFrom(days === 0 || plusDays(first, days) <= kitchen.today() ? undefined : plusDays(first, days))}
    />
  )
}

function Fortnight({ view, first, go }: { view: View; first: string; go: (days: number) => void }) {
  const kitchen = useKitchen()
  const { clock } = kitchen
  const say = useSay()
  const { change, undo } = useChange()
  const [selected, setSelected] = useState<string>()
  const [carried, setCarried] = useState<{ step: Step; at: At; by: 'keys' | 'hand' }>()
  const [outcome, setOutcome] = useState<Outcome>()
  const [side, setSide] = useState<'now' | 'before'>('now')
  const [told, setTold] = useState('')
  const grip = useRef<{ step: Step; offset: number; x: number; y: number; at?: At } | null>(null)
  const wasDragged = useRef(false)

  const moved = outcome?.revision === view.revision ? outcome.moved : []
  const days = side === 'before' && moved.length > 0 ? before(view.days, moved) : view.days
  const span = Math.max(240, ...days.map((d) => rangeOf(d)).map((r) => (r ? r.to - r.from : 0)))
  const all = view.days.flatMap((d) => d.steps.map((s) => ({ d, s })))
  const at = all.find((x) => keyOf(x.s) === selected)
  const dayOf = (s: Step) => all.find((x) => keyOf(x.s) === keyOf(s))?.d.day ?? view.today

  async function apply(body: Parameters<typeof change>[0]) {
    const done = await change(body)
    if (done) {
      setOutcome(done)
      setSide('now')
    }
    return done
  }
  async function drop(step: Step, at: At) {
    held.current = undefined
    setCarried(undefined)
    if (at.day === dayOf(step) && at.start === step.start && at.hand === step.hand && step.pinned) return
    await apply({ kind: 'pin', batch: step.batch, step: step.step, day: at.day, start: at.start, hand: at.hand })
  }
  const tell = (step: Step, at: At) =>
    setTold(`${step.name}: ${dayLong(at.day)}, ${clock(at.start)}, person ${at.hand + 1}`)

  // Where a step comes to stand on another day or with another person the server says; keys that are pressed meanwhile
  // wait for it.
  const carrying = useRef<Promise<void>>(Promise.resolve())
  const held = useRef<At>(undefined)
  const carry = (step: Step, by: { minutes: number } | { to: Schemas['PlanningCarried']['to'] }) =>
    (carrying.current = carrying.current.then(async () => {
      const at = held.current
      if (!at) return
      const snapped = Math.round(at.start / grid) * grid // the first touch puts it to the grid
      try {
        const next =
          'to' in by
            ? await ask(
                api.POST('/api/v1/calculators/slot', {
                  body: { ...at, batch: step.batch, step: step.step, to: by.to },
                }),
              )
            : { ...at, start: Math.min(Math.max(snapped + by.minutes, 0), 1439) }
        if (!held.current) return // put down meanwhile
        held.current = next
        setCarried({ step, at: next, by: 'keys' })
        tell(step, next)
      } catch (error) {
        say.refused(error)
      }
    }))

  // By keyboard: Enter lifts a step, arrows carry it, Enter puts it down, Esc leaves it.
  function press(step: Step, e: KeyboardEvent<HTMLButtonElement>) {
    if (e.ctrlKey || e.metaKey || e.altKey) return
    if (!carried) {
      if (e.key === 'Enter' && !step.done) {
        e.preventDefault()
        setSelected(keyOf(step))
        const here = { day: dayOf(step), start: step.start, hand: step.hand }
        held.current = here
        setCarried({ step, at: here, by: 'keys' })
        tell(step, here)
      } else if (e.key === 'u' && step.pinned) {
        e.preventDefault()
        void apply({ kind: 'unpin', batch: step.batch, step: step.step })
      }
      return
    }
    const by = (
      {
        ArrowLeft: { minutes: e.shiftKey ? -30 : -grid },
        ArrowRight: { minutes: e.shiftKey ? 30 : grid },
        ArrowUp: { to: 'previous-person' },
        ArrowDown: { to: 'next-person' },
        PageUp: { to: 'previous-day' },
        PageDown: { to: 'next-day' },
        '[': { to: 'previous-day' },
        ']': { to: 'next-day' },
      } as Record<string, { minutes: number } | { to: Schemas['PlanningCarried']['to'] }>
    )[e.key]
    if (by) {
      e.preventDefault()
      void carry(step, by)
    } else if (e.key === 'Enter') {
      e.preventDefault()
      void carrying.current.then(() => held.current && drop(step, held.current))
    } else if (e.key === 'Escape') {
      e.preventDefault()
      held.current = undefined
      setCarried(undefined)
      setTold(words.moveCancelled)
    }
  }

  // By hand: the lane under the pointer is where it would go.
  function under(x: number, y: number, offset: number): At | undefined {
    const lane = document.elementsFromPoint(x, y).find((el) => el instanceof HTMLElement && el.dataset.band)
    if (!(lane instanceof HTMLElement)) return
    const box = lane.getBoundingClientRect()
    const start = Number(lane.dataset.from) + ((x - box.left) / box.width) * Number(lane.dataset.span) - offset
    const hand = Math.min(
      Math.max(Math.floor((y - box.top) / (box.height / Number(lane.dataset.lanes))), 0),
      Number(lane.dataset.lanes) - 1,
    )
    return { day: lane.dataset.band!, start: Math.max(Math.round(start / grid) * grid, 0), hand }
  }
  function grab(step: Step, e: PointerEvent<HTMLButtonElement>) {
    if (step.done || e.button !== 0) return
    const lane = e.currentTarget.parentElement!
    const offset =
      ((e.clientX - e.currentTarget.getBoundingClientRect().left) / lane.getBoundingClientRect().width) *
      Number(lane.dataset.span)
    grip.current = { step, offset, x: e.clientX, y: e.clientY }
    wasDragged.current = false
    const move = (m: globalThis.PointerEvent) => {
      const g = grip.current
      if (!g || (!wasDragged.current && Math.hypot(m.clientX - g.x, m.clientY - g.y) < 5)) return
      wasDragged.current = true
      const to = under(m.clientX, m.clientY, g.offset)
      if (to) {
        g.at = to
        setCarried({ step: g.step, at: to, by: 'hand' })
      }
    }
    const stop = (end?: globalThis.PointerEvent | globalThis.KeyboardEvent) => {
      if (end instanceof globalThis.KeyboardEvent && end.key !== 'Escape') return
      window.removeEventListener('pointermove', move)
      window.removeEventListener('pointerup', stop)
      window.removeEventListener('pointercancel', stop)
      window.removeEventListener('keydown', stop)
      const g = grip.current
      grip.current = null
      setCarried(undefined)
      if (g?.at && wasDragged.current && end?.type === 'pointerup') void drop(g.step, g.at)
    }
    window.addEventListener('pointermove', move)
    window.addEventListener('pointerup', stop)
    window.addEventListener('pointercancel', stop)
    window.addEventListener('keydown', stop)
  }
  const ghosts = (d: Day) =>
    side === 'now'
      ? moved
          .filter((m) => m.from.day === d.day)
          .map((m) => ({
            key: keyOf(m),
            start: m.from.start,
            hand: m.from.hand,
            hands: all.find((x) => keyOf(x.s) === keyOf(m))?.s.hands ?? 10,
          }))
      : []

  return (
    <>
      <section className="work plan-place">
        <header className="work-head">
          <h1>{words.plan}</h1>
          <p className="soft">
            {words.dragAStepToPin} <kbd>{words.enter}</kbd>
            {words.moveItWithTheArrows} <kbd>{words.enter}</kbd>
            {words.everythingElseRearrangesAroundIt}
          </p>
          <Button
            aria-label={words.aWeekEarlier}
            title={words.aWeekEarlier}
            disabled={first <= view.today}
            onClick={() => go(-7)}
          >
            ‹
          </Button>
          <Button aria-label={words.fromToday} disabled={first === view.today} onClick={() => go(0)}>
            {words.today}
          </Button>
          <Button aria-label={words.aWeekLater} title={words.aWeekLater} onClick={() => go(7)}>
            ›
          </Button>
          <Link className="button-link" to="/plan/hours">
            {words.hoursAndSpace}
          </Link>
        </header>
        <p className="unseen" role="status">
          {told}
        </p>
        {days.map((d, i) => (
          <DayBand
            key={d.day}
            day={d}
            index={i}
            span={span}
            today={d.day === view.today}
            now={view.now}
            levels={view.levels}
            selected={selected}
            carried={carried}
            ghosts={ghosts(d)}
            select={(s) => {
              if (!wasDragged.current) setSelected(keyOf(s))
            }}
            grab={grab}
            press={press}
            off={(isOff) => void apply({ kind: isOff ? 'off' : 'usual', day: d.day })}
          />
        ))}
        {view.days.every((d) => d.hours.length === 0 && d.steps.length === 0) && <Idle />}
        {all.length === 0 && view.days.some((d) => d.hours.length > 0) && (
          <p className="empty">{words.nothingIsPlannedOnThese}</p>
        )}
        <Fills days={view.days} />
      </section>
      <aside className="takes" aria-label={words.summary}>
        <p className="kicker">{words.summary}</p>
        <div className="price-head">
          <span>
            <span className="big">{minutes(view.planned)}</span> <small className="soft">{words.planned}</small>
          </span>
          <span className="pay">
            <b className="fine">{minutes(view.free)}</b>
            <small>{words.stillFree}</small>
          </span>
        </div>
        <p className="beside">
          <b>{minutes(view.setup)}</b> {words.meltingAndCleaning}
        </p>
        {at && (
          <Chosen
            key={`${selected}-${at.d.day}-${at.s.start}-${at.s.hand}`}
            step={at.s}
            day={at.d.day}
            peopleOn={(day) => Math.max(...(view.days.find((d) => d.day === day)?.hours.map((h) => h.hands) ?? []), 1)}
            pin={(to) => void drop(at.s, to)}
            go={(by) => {
              const n = all.findIndex((x) => x === at) + by
              if (all[n]) setSelected(keyOf(all[n].s))
            }}
            unpin={() => void apply({ kind: 'unpin', batch: at.s.batch, step: at.s.step })}
          />
        )}
        {!at && all.length > 0 && (
          <Part name={words.step}>
            <button
              type="button"
              className="link"
              onClick={() => setSelected(keyOf((all.find((x) => !x.s.done) ?? all[0]!).s))}
            >
              {words.goThroughTheSteps}
            </button>
          </Part>
        )}
        {outcome && outcome.revision === view.revision && (
          <Part name={words.moves}>
            <p role="status">
              <b>{outcome.says}</b>{' '}
              {moved.length === 0
                ? words.nothingElseMoves
                : `${moved.length === 1 ? words.oneStepMoves : words.stepsMove(moved.length)}:`}
            </p>
            {moved.length > 0 && (
              <Segmented<'before' | 'now'>
                size="small"
                aria-label={words.beforeOrNow}
                value={side}
                onChange={setSide}
                options={[
                  { value: 'before', label: words.before2 },
                  { value: 'now', label: words.now },
                ]}
              />
            )}
            <ul className="moved">
              {moved.map((m) => (
                <li key={keyOf(m)}>
                  {m.name}, {m.treat}
                  <small>
                    {dayName(m.from.day)}, {clock(m.from.start)} →{' '}
                    <b>
                      {dayName(m.to.day)}, {clock(m.to.start)}
                    </b>{' '}
                    · {whom(m.for)}
                  </small>
                </li>
              ))}
            </ul>
            {outcome.otherwise.map((l) => (
              <p key={l}>{l}</p>
            ))}
            {outcome.lost.map((l) => (
              <p key={l} className="when trouble">
                <Sign kind="trouble" size={14} /> {l}
              </p>
            ))}
            {outcome.unpinned.map((l) => (
              <p key={l} className="soft">
                <Sign kind="caution" size={14} /> {l}
              </p>
            ))}
            {outcome.gained.map((l) => (
              <p key={l} className="fine">
                <Sign kind="fine" size={14} /> {l}
              </p>
            ))}
          </Part>
        )}
        {view.undo && (
          <p className="undo-line">
            <button
              type="button"
              className="link"
              onClick={() =>
                void undo(view.undo!.id).then(() => {
                  setOutcome(undefined)
                  setSide('now')
                })
              }
            >
              {words.undo}
            </button>
            <small className="soft">{view.undo.says}</small>
          </p>
        )}
        {view.short.length > 0 && (
          <Part name={words.short}>
            {view.short.map((s) => (
              <div key={s.batch} className="short-batch">
                <p className="when trouble">
                  <Sign kind="trouble" size={14} /> {s.text}
                </p>
                <small>
                  <Takers takers={s.for} />, {dayName(kitchen.local(s.ready).format('YYYY-MM-DD'))} ·{' '}
                  <Link to={`/orders/${s.for[0]!.order}`}>{words.whatWouldHelp}</Link>
                </small>
              </div>
            ))}
          </Part>
        )}
        <Anew
          taken={(done) => {
            setOutcome(done)
            setSide('now')
          }}
        />
      </aside>
    </>
  )
}

/** Whom a batch is for, each with the way to the order. */
function Takers({ takers }: { takers: Schemas['OrderShareOwner'][] }) {
  return takers.map((t, i) => (
    <Fragment key={t.order}>
      {i > 0 && (i + 1 < takers.length ? ', ' : words.and2)}
      <Link to={`/orders/${t.order}`}>{t.customer}</Link>
      {takers.length > 1 && ` (${t.count})`}
    </Fragment>
  ))
}

/** The step that is looked at, and where it is pinned: by day and time, for whoever does not drag. */
function Chosen({
  step,
  day,
  peopleOn,
  pin,
  unpin,
  go,
}: {
  step: Step
  day: string
  peopleOn: (day: string) => number
  pin: (to: At) => void
  unpin: () => void
  go: (by: 1 | -1) => void
}) {
  const { clock } = useKitchen()
  const [on, setOn] = useState(day)
  const [start, setStart] = useState(step.start)
  const [person, setPerson] = useState(step.hand)
  const people = peopleOn(on)
  const hand = Math.min(person, people - 1) // on another day there may be fewer
  return (
    <Part name={words.step}>
      <div className="step-acts">
        <Button size="small" aria-label={words.theStepBefore} onClick={() => go(-1)}>
          ‹
        </Button>
        <Button size="small" aria-label={words.theNextStep} onClick={() => go(1)}>
          ›
        </Button>
        <b>{step.name}</b>
      </div>
      <p>
        {step.count} {step.treat} {words.for} <Takers takers={step.for} />
      </p>
      {step.freeFrom.length > 0 && (
        <p className="trouble">
          <Sign kind="caution" size={14} /> {words.freeFrom} {step.freeFrom.join(', ')}
          {words.cleanToolsFirst}
        </p>
      )}
      <Line figure={words.to3(clock(step.start), clock(step.start + step.hands))}>
        {dayName(day)}
        {peopleOn(day) > 1 && words.person2(step.hand + 1)}
      </Line>
      {step.wash > 0 && <Line figure={minutes(step.wash)}>{words.washDownBefore}</Line>}
      {step.melt > 0 && (
        <Line figure={minutes(step.melt)}>
          {words.melt} {step.pot} {words.before}
        </Line>
      )}
      {step.wait > 0 && (
        <Line figure={minutes(step.wait)}>
          {words.waits}
          {step.spot && `: ${step.spot}`}
        </Line>
      )}
      {step.done ? (
        <p className="soft">{words.done2}</p>
      ) : (
        <div className="step-acts">
          <DayPick label={words.dayOfTheStep} value={on} onChange={setOn} />
          <Time label={words.timeOfTheStep} value={clockOf(start)} onChange={(time) => setStart(minuteOf(time))} />
          {people > 1 && (
            <label>
              {words.person}{' '}
              <InputNumber
                aria-label={words.personOfTheStep}
                min={1}
                max={people}
                value={hand + 1}
                style={{ width: 60 }}
                onChange={(n) => n && setPerson(n - 1)}
              />
            </label>
          )}
          <Button size="small" onClick={() => pin({ day: on, start, hand })}>
            {step.pinned && on === day && start === step.start ? words.pinned : words.pin}
          </Button>
          {step.pinned && (
            <Button size="small" onClick={unpin}>
              {words.unpin}
            </Button>
          )}
        </div>
      )}
    </Part>
  )
}
