import { keepPreviousData, useQuery } from '@tanstack/react-query'
import { Button, Input, InputNumber } from 'antd'
import dayjs from 'dayjs'
import { api, ask, type Schemas } from '../api/client'
import { Face } from '../kit/Face'
import { lookOf } from '../kit/chocolate'
import { Day, Time } from '../kit/Day'
import { Glyph, Sign } from '../kit/glyphs'
import { Link } from '../shell/Go'
import { dayName, minutes, useKitchen, whatOf, whom } from '../shell/kitchen'
import { useShelf } from '../shell/Shelf'
import { Line, Part } from '../orders/Estimate'
import './plan.css'
import { SpaceForm } from './Space'
import { usePlanDocument } from './usePlanDocument'
import { fetchHours, putHours } from './when'
import { words } from './words'

type Span = Schemas['PlanningSpan']

const weekdays = [
  words.sunday,
  words.monday,
  words.tuesday,
  words.wednesday,
  words.thursday,
  words.friday,
  words.saturday,
]
const weekOrder = [1, 2, 3, 4, 5, 6, 0]
const evening: Span = { from: '18:00', to: '21:00', hands: 1 }

/** When the kitchen works: a weekly pattern, and dates that differ. */
export default function Hours() {
  const kitchen = useKitchen()
  const shelf = useShelf()
  const hours = usePlanDocument('work-days', words.hours, fetchHours, putHours, words.hoursSaved)
  const { value: w, set: setW, refused } = hours
  const total = useQuery({
    queryKey: ['hours', w?.week],
    queryFn: ({ signal }) =>
      ask(api.POST('/api/v1/calculators/hours', { body: { week: w!.week, exceptions: [] }, signal })),
    enabled: !!w,
    placeholderData: keepPreviousData,
  })
  if (!w) return <Face title={words.hoursAndSpace} of={[hours.stored]} />
  const setDay = (i: number, spans: Span[]) => setW({ ...w, week: w.week.map((old, j) => (j === i ? spans : old)) })
  const upcoming = w.exceptions
    .map((e, i) => ({ ...e, i }))
    .filter((e) => e.day >= kitchen.today())
    .sort((a, b) => a.day.localeCompare(b.day))
  const setException = (i: number, change: Partial<Schemas['PlanningException']>) =>
    setW({ ...w, exceptions: w.exceptions.map((e, j) => (j === i ? { ...e, ...change } : e)) })
  const tins = shelf.data?.tins ?? []
  return (
    <>
      <section className="work">
        <header className="work-head">
          <h1>{words.hoursAndSpace}</h1>
          <p className="soft">
            {minutes(total.data?.minutes ?? 0)} {words.perWeekFreeTimeHere}
          </p>
          <Link className="button-link" to="/plan">
            {words.backToPlan}
          </Link>
        </header>
        {hours.notice}
        <div className="week">
          {weekOrder.map((i) => (
            <div key={i} className="week-day">
              <h2>{weekdays[i]}</h2>
              <Spans
                spans={w.week[i]!}
                label={weekdays[i]!}
                change={(spans) => setDay(i, spans)}
                fault={(path) => refused?.at(`week[${i}]${path}`)}
              />
              <Band spans={w.week[i]!} />
            </div>
          ))}
        </div>
        <h2>{words.exceptions}</h2>
        {upcoming.length === 0 && <p className="soft">{words.noneAddADayOff}</p>}
        {upcoming.map((e) => (
          <div key={e.i} className="week-day exception">
            <h3>
              <Day label={words.date} value={e.day} onChange={(day) => setException(e.i, { day })} />{' '}
              {dayjs(e.day).format('ddd')}
              <Input
                size="small"
                aria-label={words.reason}
                placeholder={words.why}
                value={e.reason}
                onChange={(x) => setException(e.i, { reason: x.target.value })}
                style={{ width: 150 }}
              />
              <Button
                type="text"
                size="small"
                aria-label={words.useUsualHoursOn2(e.day)}
                onClick={() => setW({ ...w, exceptions: w.exceptions.filter((_, j) => j !== e.i) })}
              >
                ×
              </Button>
            </h3>
            {refused?.at(`exceptions[${e.i}].day`) && (
              <span className="fault" role="alert">
                {refused.at(`exceptions[${e.i}].day`)}
              </span>
            )}
            <Spans
              spans={e.spans}
              label={e.day}
              change={(spans) => setException(e.i, { spans })}
              fault={(path) => refused?.at(`exceptions[${e.i}].spans${path}`)}
            />
          </div>
        ))}
        <Button
          type="link"
          className="link"
          onClick={() => {
            const taken = new Set(w.exceptions.map((e) => e.day))
            let day = dayjs(kitchen.today())
            while (taken.has(day.format('YYYY-MM-DD'))) day = day.add(1, 'day')
            setW({ ...w, exceptions: [...w.exceptions, { day: day.format('YYYY-MM-DD'), reason: '', spans: [] }] })
          }}
        >
          {words.addADate}
        </Button>
        <footer className="order-foot">
          <Button
            type="primary"
            size="large"
            disabled={!hours.dirty}
            loading={hours.saving}
            onClick={() => hours.save()}
          >
            {words.saveHours}
          </Button>
          {hours.dirty && (
            <Button type="link" className="link" onClick={hours.drop}>
              {words.undoAllChanges}
            </Button>
          )}
          {refused && (
            <span className="fault" role="alert">
              {refused.problem.errors?.length ? words.fixTheMarked : refused.message}
            </span>
          )}
        </footer>
        <SpaceForm />
      </section>
      <aside className="takes" aria-label={words.summary}>
        <p className="kicker">{words.nextTwoWeeks}</p>
        <div className="price-head">
          <span className="big">{minutes(shelf.data?.planned ?? 0)}</span>
          <span className="pay">
            <b className="fine">{minutes(shelf.data?.free ?? 0)}</b>
            <small>{words.stillFree}</small>
          </span>
        </div>
        {tins
          .filter((t) => t.over > 0)
          .map((t) => (
            <Part key={t.day} name={words.short}>
              <p className="when trouble">
                <Sign kind="trouble" size={15} /> {dayName(t.day)} {words.is} {minutes(t.over)}{' '}
                {words.overItsWorkingHours}
              </p>
            </Part>
          ))}
        {tins
          .filter((t) => t.work.length > 0)
          .map((t) => (
            <Part key={t.day} name={dayName(t.day)}>
              {t.work.map((x) => (
                <Line key={x.batch} figure={minutes(x.minutes)} note={whom(x.for)}>
                  <i
                    className="swatch"
                    style={{
                      background: lookOf(x.chocolate).fill,
                      borderColor: lookOf(x.chocolate).edge,
                      color: lookOf(x.chocolate).ink,
                    }}
                    aria-hidden="true"
                  >
                    <Glyph family={x.family} size={12} />
                  </i>{' '}
                  {whatOf(kitchen, x)}
                </Line>
              ))}
              <small className="soft">
                {minutes(t.free)} {words.free2} <Link to={`/bench/${t.day}`}>{words.runSheet}</Link>
              </small>
            </Part>
          ))}
      </aside>
    </>
  )
}

/** The hours of a day as one long tin: white where there are hands, twice as high for two people. */
function Band({ spans }: { spans: Span[] }) {
  const x = (time: string) => {
    const [h = 0, m = 0] = time.split(':').map(Number)
    return Math.min(Math.max((h + m / 60 - 6) / 18, 0), 1) * 206 + 2
  }
  return (
    <svg className="band" viewBox="0 0 210 36" aria-hidden="true">
      <rect x="1" y="1" width="208" height="22" rx="7" />
      {spans.map((s) => (
        <rect
          key={s.from}
          className="band-work"
          x={x(s.from)}
          y={s.hands > 1 ? 3 : 8}
          width={Math.max(x(s.to) - x(s.from), 0)}
          height={s.hands > 1 ? 18 : 13}
          rx="4"
        />
      ))}
      {[6, 12, 18, 24].map((h) => (
        <text key={h} x={2 + ((h - 6) / 18) * 206} y="34" textAnchor={h === 6 ? 'start' : h === 24 ? 'end' : 'middle'}>
          {h}
        </text>
      ))}
    </svg>
  )
}

function Spans({
  spans,
  label,
  change,
  fault,
}: {
  spans: Span[]
  label: string
  change: (s: Span[]) => void
  fault: (path: string) => string | undefined
}) {
  const set = (i: number, x: Partial<Span>) => change(spans.map((s, j) => (j === i ? { ...s, ...x } : s)))
  return (
    <div className="spans">
      {spans.length === 0 && <span className="soft">{words.off}</span>}
      {spans.map((s, i) => (
        <span key={i} className="span">
          <Time label={words.from(label)} value={s.from} onChange={(from) => set(i, { from })} /> {words.to}{' '}
          <Time label={words.to2(label)} value={s.to} onChange={(to) => set(i, { to })} />,{' '}
          <InputNumber
            size="small"
            aria-label={words.people(label)}
            min={1}
            max={9}
            value={s.hands}
            controls={false}
            style={{ width: 38 }}
            onChange={(n) => n !== null && set(i, { hands: n })}
          />{' '}
          {s.hands === 1 ? words.person : words.people2}
          <Button
            type="text"
            size="small"
            aria-label={words.noWorkOnFrom(label, s.from)}
            onClick={() => change(spans.filter((_, j) => j !== i))}
          >
            ×
          </Button>
          {['.from', '.to', '.hands', '']
            .map((p) => fault(`[${i}]${p}`))
            .filter(Boolean)
            .map((f) => (
              <span key={f} className="fault" role="alert">
                {f}
              </span>
            ))}
        </span>
      ))}
      <Button
        type="link"
        className="link"
        aria-label={words.addHoursOn(label)}
        onClick={() =>
          change([...spans, spans.length > 0 ? { from: spans.at(-1)!.to, to: '23:00', hands: 1 } : evening])
        }
      >
        {words.addHours}
      </Button>
    </div>
  )
}
