import { useQuery } from '@tanstack/react-query'
import { Button } from 'antd'
import { useMemo, useRef, useState } from 'react'
import { useNavigate, useParams } from 'react-router'
import { api, ask, Refused } from '../api/client'
import { newKey } from '../device/register'
import { Face } from '../kit/Face'
import { useSay } from '../kit/say'
import { useAwake } from '../kit/useAwake'
import { Link } from '../shell/Go'
import { dayLong, inDays, plusDays, useKitchen } from '../shell/kitchen'
import { Shortfalls } from '../orders/Shortfalls'
import { useShortcut } from '../shell/useShortcut'
import { Evening } from './Evening'
import { Late } from './Late'
import { Outcome } from './Outcome'
import { SetUp } from './SetUp'
import { Rounds } from './Rounds'
import { type Step, StepRow } from './StepRow'
import { Now } from './Now'
import { type Act, useActs, waitsAt, withWaiting } from './queue'
import { remembered } from './device'
import { Timers } from './Timers'
import { useAloud } from './useAloud'
import { OnTheCounter } from '../pots/OnTheCounter'
import { DayHeat } from '../drive/DayHeat'
import { words } from './words'
import './bench.css'

const keyOf = (s: Step) => `${s.batch}/${s.step}`

/** A day's run sheet: one step at a time, in large letters, and the rest in order below. */
export default function Bench() {
  const kitchen = useKitchen()
  const { clock } = kitchen
  const navigate = useNavigate()
  const say = useSay()
  const day = useParams().day ?? kitchen.today()
  const sheet = useQuery({
    queryKey: ['run-sheet', day],
    queryFn: () => ask(api.GET('/api/v1/days/{day}/run-sheet', { params: { path: { day } } })),
    placeholderData: undefined,
  })
  const outlook = useQuery({
    queryKey: ['outlook', day],
    queryFn: () => ask(api.GET('/api/v1/days/{day}/outlook', { params: { path: { day } } })),
    enabled: day === kitchen.today(),
    refetchInterval: 30_000,
  })
  const { waiting, act } = useActs()
  const shown = useMemo(() => sheet.data && withWaiting(sheet.data, waiting), [sheet.data, waiting])
  const steps = shown?.steps ?? []
  const current = steps.find((s) => !s.doneAt)
  const [at, setAt] = useState<string>() // the step that is looked at, where it is not the current one
  const now = steps.find((s) => keyOf(s) === at) ?? current
  const people = new Set(steps.map((s) => s.hand)).size
  const done = steps.filter((s) => s.doneAt).length
  const later = new Map((outlook.data?.steps ?? []).map((s) => [`${s.batch}/${s.step}`, s.start]))
  useAwake(day === kitchen.today() && Boolean(current))
  const aloud = useAloud(now && day === kitchen.today() ? [now.name, ...now.amounts].join('. ') : undefined)
  const look = (by: number) => {
    const i = now ? steps.indexOf(now) + by : -1
    if (steps[i]) setAt(keyOf(steps[i]))
  }
  useShortcut(['k', 'j'], (key) => look(key === 'k' ? 1 : -1))
  useShortcut(['d'], () => now && void tick(now, !now.doneAt))
  useShortcut(['t'], () => now && now.wait > 0 && startTimer(now))
  useShortcut(['r'], aloud.again)
  const startTimer = (s: Step) =>
    void does(
      {
        kind: 'timer',
        id: newKey(),
        name: `${s.name}, ${s.treat}`,
        place: s.spot ?? '',
        seconds: s.wait * 60,
        everywhere: remembered.get('everywhere'),
      },
      words.timerOf(s.name),
    )
  const tickButton = useRef<HTMLButtonElement>(null)

  useShortcut(['[', ']'], (key) => void navigate(`/bench/${plusDays(day, key === '[' ? -1 : 1)}`))

  /** Does something; where there is no network it is kept, and said so. True where it was done or is kept. */
  async function does(a: Act, title: string) {
    const outcome = await act(a, title, `/bench/${day}`)
    if (outcome instanceof Refused) say.refused(outcome)
    else if (outcome === 'waits') say.done('kept', words.isKept(title))
    return outcome
  }
  async function tick(s: Step, done: boolean) {
    const everywhere = remembered.get('everywhere')
    const outcome = await does(
      { kind: 'tick', batch: s.batch, step: s.step, done, everywhere },
      done ? words.ticked(s.name) : words.unticked(s.name),
    )
    if (outcome instanceof Refused || !done) return
    setAt(undefined)
    if (outcome === 'sent') say.done('tick', words.done2(s.name), () => void tick(s, false))
    tickButton.current?.focus()
  }
  async function lose(s: Step, pieces: number) {
    const outcome = await does(
      { kind: 'lose', batch: s.batch, step: s.step, pieces },
      words.lost(pieces, `${s.name}, ${s.treat}`),
    )
    if (outcome === 'sent' && pieces > 0)
      say.done('loss', words.broke(s.broken + pieces, s.treat), () => void lose(s, -pieces))
  }

  if (!sheet.data) return <Face title={words.bench} of={[sheet]} />
  return (
    <section className="wide bench">
      <header className="work-head">
        <span className="day-steps">
          <Button
            aria-label={words.theDayBefore}
            title={words.theDayBefore}
            onClick={() => void navigate(`/bench/${plusDays(day, -1)}`)}
          >
            ‹
          </Button>
          <Button
            aria-label={words.theDayAfter}
            title={words.theDayAfter}
            onClick={() => void navigate(`/bench/${plusDays(day, 1)}`)}
          >
            ›
          </Button>
        </span>
        <h1>{dayLong(day)}</h1>
        <p className="soft">
          {inDays(kitchen.today(), day)}
          {sheet.data?.begins !== undefined &&
            words.ofStepsDoneStartsDone(done, steps.length, clock(sheet.data.begins), clock(sheet.data.ends!))}
        </p>
        <span className="no-print head-acts">
          <Link className="button-link" to="/bench/logbook">
            {words.logbook}
          </Link>
          {steps.length > 0 && (
            <>
              <Button onClick={() => window.print()}>{words.print}</Button>
              <a className="button-link" href={`/api/v1/days/${day}/run-sheet.pdf`} download={`run-sheet-${day}.pdf`}>
                PDF
              </a>
            </>
          )}
        </span>
      </header>
      <Evening
        sessions={sheet.data.sessions}
        steps={steps}
        current={current}
        now={day === kitchen.today() ? kitchen.minute() : undefined}
        later={later}
      />
      {outlook.data && day === kitchen.today() && <Late outlook={outlook.data} day={day} />}
      {(sheet.data?.handovers ?? []).length > 0 && (
        <ul className="of-the-day" aria-label={words.handoversOfTheDay}>
          {sheet.data!.handovers.map((h) => (
            <li key={h.order}>
              <b>{clock(h.at)}</b> {h.customer},{' '}
              {h.way === 'delivery' ? words.deliveredTo(h.place ?? '') : words.pickedUp}
              {h.leave && (
                <>
                  ,{' '}
                  <b>
                    {words.leaveAt} {clock(h.leave)}
                  </b>
                </>
              )}
            </li>
          ))}
        </ul>
      )}
      {sheet.data?.handovers.some((h) => h.way === 'delivery') && <DayHeat day={sheet.data.day} />}
      <div className="bench-ways">
        <Timers waiting={waiting} act={(a, title) => void does(a, title)} />
        <OnTheCounter day={day} />
      </div>
      {sheet.isSuccess && steps.length === 0 && <p className="empty">{words.nothingIsPlannedOnThis}</p>}
      {kitchen.owns && <Shortfalls />}
      {(sheet.data?.results ?? []).map((r) => (
        <Outcome key={r.batch} result={r} day={day} />
      ))}
      {now && (
        <Now
          s={now}
          day={day}
          people={people}
          place={now === current ? undefined : words.looking(steps.indexOf(now) + 1, steps.length)}
          tickButton={tickButton}
          tick={tick}
          lose={lose}
          look={look}
          toCurrent={() => setAt(undefined)}
          startTimer={startTimer}
          aloud={aloud}
          does={(a, title) => void does(a, title)}
          note={(text) =>
            void does({ kind: 'note', batch: now.batch, step: now.step, id: newKey(), text }, words.noteOf(now.name))
          }
          unnote={(id, text) => void does({ kind: 'unnote', id }, words.removeNote(text))}
        />
      )}
      {steps.length > 0 && !current && (
        <p className="empty">
          {words.allOfThisDaysSteps} <Link to="/handover">{words.goToHandovers}</Link>
        </p>
      )}
      {(sheet.data?.sessions ?? []).map((session, i) => {
        if (session.steps.length === 0) return null
        return (
          <section
            key={session.from}
            className="bench-session"
            aria-label={words.to2(clock(session.from), clock(session.to))}
          >
            <h2>
              {clock(session.from)} {words.to} {clock(session.to)}{' '}
              <small className="soft">
                {session.people > 1 ? words.people(session.people) : ''}
                {words.doneBy} {clock(session.ends)}
              </small>
            </h2>
            <SetUp session={session} day={day} />
            <ol
              className="run-sheet"
              aria-label={(sheet.data?.sessions.length ?? 0) > 1 ? words.runSheet(i + 1) : words.runSheet2}
            >
              {session.rows.map((row) => {
                const rows = row.steps.map((n) => (
                  <StepRow
                    key={keyOf(steps[n]!)}
                    s={steps[n]!}
                    at={steps[n] === now}
                    waits={waitsAt(waiting, steps[n]!)}
                    people={people}
                    later={later.get(keyOf(steps[n]!))}
                    tick={tick}
                    lose={lose}
                  />
                ))
                return row.text ? (
                  <Rounds
                    key={keyOf(steps[row.steps[0]!]!)}
                    of={row.steps.map((n) => steps[n]!)}
                    text={row.text}
                    now={now}
                  >
                    {rows}
                  </Rounds>
                ) : (
                  rows
                )
              })}
            </ol>
          </section>
        )
      })}
    </section>
  )
}
