import { useQuery, useQueryClient } from '@tanstack/react-query'
import { Button } from 'antd'
import { useEffect, useRef, useState } from 'react'
import { Link, useNavigate, useParams } from 'react-router'
import { api, ask, type Schemas } from '../api/client'
import { Face } from '../kit/Face'
import { lookOf } from '../kit/chocolate'
import { Glyph, Sign } from '../kit/glyphs'
import { useSay } from '../kit/say'
import { dayLong, inDays, minutes, plusDays, useKitchen, whom } from '../shell/kitchen'
import { Shortfalls } from '../orders/Shortfalls'
import { useChange } from '../plan/useChange'
import { shortcuts } from '../shell/shortcuts'
import { useTimers } from './timers'
import { words } from './words'

type Step = Schemas['BenchStep']

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

  useEffect(() => {
    const press = (e: KeyboardEvent) => {
      if (!shortcuts() || ['INPUT', 'TEXTAREA', 'SELECT'].includes((e.target as HTMLElement).tagName)) return
      if (e.key === '[' || e.key === ']') void navigate(`/bench/${plusDays(day, e.key === '[' ? -1 : 1)}`)
    }
    window.addEventListener('keydown', press)
    return () => window.removeEventListener('keydown', press)
  }, [day, navigate])

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
        say.done('tick', `Done: ${s.name}.`, () => void tick(s, false))
        tickButton.current?.focus()
      }
    } catch (error) {
      say.refused(error)
    }
  }

  async function lose(s: Step, pieces: number) {
    try {
      const now = await ask(
        api.POST('/api/v1/batches/{id}/steps/{step}/losses', {
          params: { path: { id: s.batch, step: s.step } },
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
            ` · ${done} of ${steps.length} steps done · starts ${clock(sheet.data.begins)}, done by ${clock(sheet.data.ends!)}`}
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
              <b>{clock(h.at)}</b> {h.customer}, {h.way === 'delivery' ? `delivered to ${h.place}` : 'picked up'}
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
      {timers.list.length > 0 && (
        <ul className="timers" aria-label={words.timers}>
          {timers.list.map((t) => (
            <li key={t.key} className={t.left <= 0 ? 'ringing' : ''}>
              <b>
                {t.left > 0 ? `${Math.floor(t.left / 60)}:${String(Math.floor(t.left % 60)).padStart(2, '0')}` : 'now'}
              </b>{' '}
              {t.name}
              <Button size="small" onClick={() => timers.stop(t.key)}>
                {t.left > 0 ? 'Stop' : 'Dismiss'}
              </Button>
            </li>
          ))}
        </ul>
      )}
      {sheet.isSuccess && steps.length === 0 && <p className="empty">{words.nothingIsPlannedOnThis}</p>}
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
              {people > 1 && ` · person ${now.hand + 1}`}
            </p>
            <h2>{now.name}</h2>
            <p className="now-what">
              {now.treat}
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
        const own = session.steps.map((n) => steps[n]!)
        if (own.length === 0) return null
        return (
          <section
            key={session.from}
            className="bench-session"
            aria-label={`${clock(session.from)} to ${clock(session.to)}`}
          >
            <h2>
              {clock(session.from)} {words.to} {clock(session.to)}{' '}
              <small className="soft">
                {session.people > 1 ? `${session.people} people, ` : ''}
                {words.doneBy} {clock(session.ends)}
              </small>
            </h2>
            <SetUp session={session} />
            <ol
              className="run-sheet"
              aria-label={(sheet.data?.sessions.length ?? 0) > 1 ? `Run sheet, ${i + 1}` : 'Run sheet'}
            >
              {own.map((s) => (
                <StepRow
                  key={keyOf(s)}
                  s={s}
                  at={s === now}
                  people={people}
                  later={later.get(keyOf(s))}
                  tick={tick}
                  lose={lose}
                />
              ))}
            </ol>
          </section>
        )
      })}
    </section>
  )
}

// An amount as it stands in a sentence: 104 to 113 °F, 1 lb 4 oz, 27%.
const figure = String.raw`\d[\d./]*(?:\s\d+\/\d+)?`
const unit = String.raw`(?:°[CF]|%|kg|g|lb|oz|min(?:utes)?|s|h|mL|tsp|tbsp)(?![\p{L}\d])`
const amount = new RegExp(`(${figure}(?:\\s(?:to|or)\\s${figure})?\\s?${unit}(?:\\s${figure}\\soz)?)`, 'u')

/** A line of instructions, its amounts, times and temperatures large enough to be read from where one works. */
function Numbers({ text }: { text: string }) {
  return text.split(amount).map((part, i) => (i % 2 ? <b key={i}>{part}</b> : part))
}

/** What is melted and washed down in a time of work, and when to look at what waits. */
function SetUp({ session }: { session: Schemas['BenchSession'] }) {
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
                  {words.for2} {x.for.join(', ')}
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

interface RowProps {
  s: Step
  at: boolean
  people: number
  later?: number // when it would begin, where one is behind
  tick: (s: Step, done: boolean) => Promise<void>
  lose: (s: Step, pieces: number) => Promise<void>
}

/** A piece that broke is one touch, where it broke. */
function Broke({ s, lose, large }: { s: Step; lose: RowProps['lose']; large?: boolean }) {
  if (!s.counted) return null
  return (
    <span className="broke">
      <Button
        size={large ? 'large' : 'small'}
        aria-label={words.oneBrokeAt(s.name, s.treat)}
        onClick={() => void lose(s, 1)}
      >
        {words.oneBroke}
      </Button>
      {s.broken > 0 && <small className="trouble">{words.broken(s.broken)}</small>}
    </span>
  )
}

function StepRow({ s, at, people, later, tick, lose }: RowProps) {
  const { clock } = useKitchen()
  const look = lookOf(s.chocolate)
  return (
    <li className={s.doneAt ? 'done' : at ? 'at' : ''}>
      <time>
        {clock(s.start - s.melt - s.wash)}
        {later !== undefined && !s.doneAt && (
          <small className="late">
            {words.now} {clock(later - s.melt - s.wash)}
          </small>
        )}
      </time>
      <span className="run-mark" style={{ background: look.fill, color: look.ink, borderColor: look.edge }}>
        <Glyph family={s.family} size={18} />
      </span>
      <span className="run-what">
        {s.wash > 0 && (
          <small className="run-melt">
            {words.cleanDown2} {minutes(s.wash)}
            {words.cleanTools2}
          </small>
        )}
        {s.melt > 0 && (
          <small className="run-melt">
            {words.melt2} {minutes(s.melt)}
            {words.thenAt} {clock(s.start)}
          </small>
        )}
        <b>{s.name}</b>
        {s.short && (
          <small className="trouble">
            <Sign kind="trouble" size={13} /> {words.noRoomInThe} <Link to="/plan">{words.plan}</Link>{' '}
            {words.anyMoreThisIsWhen}
          </small>
        )}
        <small>
          {s.treat}, {whom(s.for)}
          {s.freeFrom.length > 0 && (
            <b className="trouble">
              {' '}
              {words.freeFrom} {s.freeFrom.join(', ')}
            </b>
          )}
          {s.amounts.length > 0 && ` · ${s.amounts.join(' · ')}`}
        </small>
        {s.advice && s.melt === 0 && <small className="run-advice">{s.advice.join(' ')}</small>}
      </span>
      <span className="run-time">
        <b>
          {minutes(s.hands)}
          {people > 1 && `, person ${s.hand + 1}`}
        </b>
        {s.wait > 0 && (
          <small className="wait">
            {minutes(s.wait)}
            {s.spot && `: ${s.spot}`}
            {words.until} {clock(s.start + s.hands + s.wait)}
          </small>
        )}
        <Broke s={s} lose={lose} />
      </span>
      <label className="tick">
        <input
          type="checkbox"
          checked={Boolean(s.doneAt)}
          onChange={(e) => void tick(s, e.target.checked)}
          aria-label={`${s.name}, ${s.treat} for ${whom(s.for)}: done`}
        />
        <span aria-hidden="true" />
      </label>
    </li>
  )
}

/** How a batch that is made came out; the till sets it against what was expected. */
function Outcome({ result, day }: { result: Schemas['BenchResult']; day: string }) {
  const queries = useQueryClient()
  const say = useSay()
  const [good, setGood] = useState(result.good?.toString() ?? '')
  const [took, setTook] = useState(result.minutes?.toString() ?? '')
  const kept = (result.good?.toString() ?? '') === good && (result.minutes?.toString() ?? '') === took
  async function save() {
    try {
      await ask(
        api.PUT('/api/v1/batches/{id}/result', {
          params: { path: { id: result.batch } },
          body: { good: good === '' ? undefined : Number(good), minutes: took === '' ? undefined : Number(took) },
        }),
      )
      await Promise.all([
        queries.invalidateQueries({ queryKey: ['run-sheet', day] }),
        queries.invalidateQueries({ queryKey: ['till'] }),
        queries.invalidateQueries({ queryKey: ['shortfalls'] }),
      ])
      say.done('outcome', `${result.treat}: result saved.`)
    } catch (error) {
      say.refused(error)
    }
  }
  return (
    <form
      className="outcome no-print"
      onSubmit={(e) => {
        e.preventDefault()
        void save()
      }}
    >
      <b>{result.treat}</b> {words.for2} {whom(result.for)} {words.doneGoodPieces}{' '}
      <input
        className="blank"
        aria-label={`Good ${result.sold} of ${result.treat} for ${whom(result.for)}`}
        inputMode="numeric"
        size={4}
        value={good}
        placeholder={String(result.likely)}
        onChange={(e) => setGood(e.target.value.replace(/\D/g, ''))}
      />{' '}
      {result.counted ? `of ${result.started} started` : result.sold}
      {words.timeTaken}{' '}
      <input
        className="blank"
        aria-label={`Minutes of ${result.treat} for ${whom(result.for)}`}
        inputMode="numeric"
        size={4}
        value={took}
        placeholder={String(result.expected)}
        onChange={(e) => setTook(e.target.value.replace(/\D/g, ''))}
      />{' '}
      {words.min}
      {!kept && <Button htmlType="submit">{words.save}</Button>}
    </form>
  )
}

/** Keeps the screen awake while there is work on the bench. */
function useAwake(on: boolean) {
  useEffect(() => {
    if (!on || !('wakeLock' in navigator)) return
    let lock: WakeLockSentinel | undefined
    let gone = false
    const hold = () => {
      if (document.visibilityState !== 'visible') return
      navigator.wakeLock.request('screen').then(
        (l) => (gone ? void l.release() : (lock = l)),
        () => {}, // a browser may refuse, on a low battery for example: the screen then sleeps as usual
      )
    }
    hold()
    document.addEventListener('visibilitychange', hold)
    return () => {
      gone = true
      document.removeEventListener('visibilitychange', hold)
      void lock?.release()
    }
  }, [on])
}
