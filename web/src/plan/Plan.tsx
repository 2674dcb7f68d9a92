import { useQuery } from '@tanstack/react-query'
import { Button, Segmented } from 'antd'
import { type KeyboardEvent, type PointerEvent, useRef, useState } from 'react'
import { Link } from 'react-router'
import { api, ask, askTagged, type Schemas } from '../api/client'
import { Face } from '../kit/Face'
import { Sign } from '../kit/glyphs'
import { useSay } from '../kit/say'
import { Part } from '../orders/Estimate'
import { dayLong, dayName, minutes, plusDays, useKitchen, whom } from '../shell/kitchen'
import { Anew } from './Anew'
import { Chosen, Takers } from './Chosen'
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
    setTold(words.movedTo(step.name, dayLong(at.day), clock(at.start)) + words.byPerson(at.hand + 1))

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
