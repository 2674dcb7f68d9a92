import { useQuery } from '@tanstack/react-query'
import { Button, Segmented } from 'antd'
import { useState } from 'react'
import { api, ask, askTagged } from '../api/client'
import { Face } from '../kit/Face'
import { Sign } from '../kit/glyphs'
import { Told } from '../kit/Told'
import { Part } from '../orders/Estimate'
import { Link } from '../shell/Go'
import { dayName, minutes, plusDays, useKitchen, whom } from '../shell/kitchen'
import { Anew } from './Anew'
import { Chosen, Takers } from './Chosen'
import { DayBand } from './DayBand'
import { Fills } from './Fills'
import './plan.css'
import { QuickHours } from './QuickHours'
import { useCarry } from './useCarry'
import { History } from './History'
import { useChange } from './useChange'
import { type At, before, type Day, keyOf, type Outcome, rangeOf, type Step, type View } from './when'
import { words } from './words'

/** Days without hours: where the week has none at all, they are set here. */
function Idle() {
  const hours = useQuery({ queryKey: ['work-days'], queryFn: () => askTagged(api.GET('/api/v1/work-days', {})) })
  if (hours.data?.data.week.every((day) => day.length === 0)) return <QuickHours />
  return (
    <p className="empty">
      <Told text={words.noWorkingHoursOnThese} parts={{ hours: <Link to="/plan/hours">{words.setYourHours}</Link> }} />
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
  const { change, undo } = useChange()
  const [selected, setSelected] = useState<string>()
  const [outcome, setOutcome] = useState<Outcome>()
  const [side, setSide] = useState<'now' | 'before'>('now')

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
    if (at.day === dayOf(step) && at.start === step.start && at.hand === step.hand && step.pinned) return
    await apply({ kind: 'pin', batch: step.batch, step: step.step, day: at.day, start: at.start, hand: at.hand })
  }
  const { carried, told, press, grab } = useCarry({
    at: (step) => ({ day: dayOf(step), start: step.start, hand: step.hand }),
    select: (step) => setSelected(keyOf(step)),
    drop,
    unpin: (step) => void apply({ kind: 'unpin', batch: step.batch, step: step.step }),
  })
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
            <Told text={words.dragAStepToPin} parts={{ enter: <kbd>{words.enter}</kbd> }} />
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
            select={(s) => setSelected(keyOf(s))}
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
            leave={() => void apply({ kind: 'drop', batch: at.s.batch })}
          />
        )}
        {!at && all.length > 0 && (
          <Part name={words.step}>
            <Button
              type="link"
              className="link"
              onClick={() => setSelected(keyOf((all.find((x) => !x.s.done) ?? all[0]!).s))}
            >
              {words.goThroughTheSteps}
            </Button>
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
            <Button
              type="link"
              className="link"
              onClick={() =>
                void undo(view.undo!.id).then(() => {
                  setOutcome(undefined)
                  setSide('now')
                })
              }
            >
              {words.undo}
            </Button>
            <small className="soft">{view.undo.says}</small>
          </p>
        )}
        <History />
        {view.short.length > 0 && (
          <Part name={words.short}>
            {view.short.map((s) => (
              <div key={s.batch} className="short-batch">
                <p className="when trouble">
                  <Sign kind="trouble" size={14} /> {s.text}
                </p>
                <small>
                  {s.for[0] ? (
                    <>
                      <Takers takers={s.for} />, {dayName(kitchen.local(s.ready).format('YYYY-MM-DD'))} ·{' '}
                      <Link to={`/orders/${s.for[0].order}`}>{words.whatWouldHelp}</Link>
                    </>
                  ) : (
                    <Button type="link" className="link" onClick={() => void apply({ kind: 'drop', batch: s.batch })}>
                      {words.takeOutOfThePlan}
                    </Button>
                  )}
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
