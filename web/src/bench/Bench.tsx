import { useQuery, useQueryClient } from '@tanstack/react-query'
import { Button } from 'antd'
import { useRef } from 'react'
import { Link, useNavigate, useParams } from 'react-router'
import { api, ask } from '../api/client'
import { newKey } from '../device/register'
import { Face } from '../kit/Face'
import { lookOf } from '../kit/chocolate'
import { Glyph, Sign } from '../kit/glyphs'
import { useSay } from '../kit/say'
import { useAwake } from '../kit/useAwake'
import { dayLong, inDays, minutes, plusDays, useKitchen, whatOf, whom } from '../shell/kitchen'
import { Shortfalls } from '../orders/Shortfalls'
import { useChange } from '../plan/useChange'
import { useShortcut } from '../shell/useShortcut'
import { Outcome } from './Outcome'
import { Numbers, SetUp } from './SetUp'
import { Notes } from './Notes'
import { Rounds } from './Rounds'
import { Broke, type Step, StepRow } from './StepRow'
import { useTimers } from './timers'
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
  const queries = useQueryClient()
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
  const { change } = useChange()
  const timers = useTimers()
  const steps = sheet.data?.steps ?? []
  const now = steps.find((s) => !s.doneAt)
  const people = new Set(steps.map((s) => s.hand)).size
  const done = steps.filter((s) => s.doneAt).length
  const later = new Map((outlook.data?.steps ?? []).map((s) => [`${s.batch}/${s.step}`, s.start]))
  useAwake(day === kitchen.today() && Boolean(now))
  const tickButton = useRef<HTMLButtonElement>(null)

  useShortcut(['[', ']'], (key) => void navigate(`/bench/${plusDays(day, key === '[' ? -1 : 1)}`))

  async function tick(s: Step, isDone: boolean) {
    try {
      await ask(
        api.PUT('/api/v1/batches/{id}/steps/{step}', {
          params: { path: { id: s.batch, step: s.step } },
          body: { done: isDone },
        }),
      )
      if (isDone && s.wait > 0) timers.start({ key: keyOf(s), name: `${s.name}, ${s.treat}`, minutes: s.wait })
      if (!isDone) timers.stop(keyOf(s))
      await Promise.all([
        queries.invalidateQueries({ queryKey: ['run-sheet', day] }),
        queries.invalidateQueries({ queryKey: ['outlook', day] }),
        queries.invalidateQueries({ queryKey: ['plan'] }),
        queries.invalidateQueries({ queryKey: ['shelf'] }),
        queries.invalidateQueries({ queryKey: ['orders'] }),
        queries.invalidateQueries({ queryKey: ['order'] }),
      ])
      if (isDone) {
        say.done('tick', words.done2(s.name), () => void tick(s, false))
        tickButton.current?.focus()
      }
    } catch (error) {
      say.refused(error)
    }
  }

  async function lose(s: Step, pieces: number) {
    const key = newKey()
    try {
      const now = await ask(
        api.POST('/api/v1/batches/{id}/steps/{step}/losses', {
          params: { path: { id: s.batch, step: s.step }, header: { 'Idempotency-Key': key } },
          body: { pieces },
        }),
      )
      await Promise.all([
        queries.invalidateQueries({ queryKey: ['run-sheet', day] }),
        queries.invalidateQueries({ queryKey: ['shortfalls'] }),
      ])
      if (pieces > 0) say.done('loss', words.broke(now.broken, s.treat), () => void lose(s, -pieces))
    } catch (error) {
      say.refused(error)
    }
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
        {steps.length > 0 && (
          <span className="no-print head-acts">
            <Button onClick={() => window.print()}>{words.print}</Button>
            <a className="button-link" href={`/api/v1/days/${day}/run-sheet.pdf`} download={`run-sheet-${day}.pdf`}>
              PDF
            </a>
          </span>
        )}
      </header>
      {outlook.data && day === kitchen.today() && outlook.data.text && (
        <p className={outlook.data.trouble ? 'outlook trouble' : 'outlook'} role="status">
          <Sign kind={outlook.data.trouble ? 'trouble' : 'caution'} size={20} /> <span>{outlook.data.text}</span>
          <Button onClick={() => void change({ kind: 'settle' })}>{words.rescheduleTheRest}</Button>
        </p>
      )}
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
      {timers.list.length > 0 && (
        <ul className="timers" aria-label={words.timers}>
          {timers.list.map((t) => (
            <li key={t.key} className={t.left <= 0 ? 'ringing' : ''}>
              <b>
                {t.left > 0
                  ? `${Math.floor(t.left / 60)}:${String(Math.floor(t.left % 60)).padStart(2, '0')}`
                  : words.now}
              </b>{' '}
              {t.name}
              <Button size="small" onClick={() => timers.stop(t.key)}>
                {t.left > 0 ? words.stop : words.dismiss}
              </Button>
            </li>
          ))}
        </ul>
      )}
      {sheet.isSuccess && steps.length === 0 && <p className="empty">{words.nothingIsPlannedOnThis}</p>}
      <OnTheCounter day={day} />
      <Shortfalls />
      {(sheet.data?.results ?? []).map((r) => (
        <Outcome key={r.batch} result={r} day={day} />
      ))}
      {now && (
        <article className="now" aria-label={words.currentStep}>
          <span
            className="now-mark"
            style={{
              background: lookOf(now.chocolate).fill,
              color: lookOf(now.chocolate).ink,
              borderColor: lookOf(now.chocolate).edge,
            }}
          >
            <Glyph family={now.family} size={40} />
          </span>
          <div>
            <p className="now-when">
              {clock(now.start - now.melt - now.wash)} · {minutes(now.hands + now.melt)} {words.handsOn}
              {people > 1 && words.person(now.hand + 1)}
            </p>
            <h2>{now.name}</h2>
            <p className="now-what">
              {whatOf(kitchen, now)}
              {words.for} {whom(now.for)}
              {now.freeFrom.length > 0 && (
                <b className="trouble">
                  {' '}
                  {words.freeFrom} {now.freeFrom.join(', ')}
                  {words.cleanToolsFirst}
                </b>
              )}
            </p>
            {now.advice && (
              <ol className="now-advice">
                {now.melt > 0 && (
                  <li>
                    <b>{minutes(now.melt)}</b> {words.toMelt}
                  </li>
                )}
                {now.advice.map((line) => (
                  <li key={line}>
                    <Numbers text={line} />
                  </li>
                ))}
              </ol>
            )}
            {now.amounts.length > 0 && (
              <ul className="now-amounts">
                {now.amounts.map((a) => (
                  <li key={a}>{a}</li>
                ))}
              </ul>
            )}
            <Notes s={now} />
            {now.wait > 0 && (
              <p className="now-wait">
                {words.then} {minutes(now.wait)}
                {now.spot && `: ${now.spot}`}
              </p>
            )}
          </div>
          <div className="now-acts">
            <button type="button" ref={tickButton} className="done-button" onClick={() => void tick(now, true)}>
              {words.done}
            </button>
            <Broke s={now} lose={lose} large />
          </div>
        </article>
      )}
      {steps.length > 0 && !now && (
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
