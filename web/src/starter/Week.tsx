import { Button, InputNumber, Popover, TimePicker } from 'antd'
import dayjs from 'dayjs'
import customParseFormat from 'dayjs/plugin/customParseFormat'
import type { Answers } from './Starter'
import { words } from './words'
import './starter.css'

dayjs.extend(customParseFormat)

type Span = Answers['week'][number][number]

const order = [1, 2, 3, 4, 5, 6, 0] // Monday first
const evening: Span = { from: '18:00', to: '21:00', hands: 1 }
const at = (clock: string) => dayjs(clock, 'HH:mm')

/** 6–9 pm, 9 am–12 pm, 18:00–21:00. */
export function range(from: string, to: string, clock: number): string {
  if (clock === 24) return `${from}–${to}`
  const told = (time: string, half: boolean) =>
    at(time).format(`${time.endsWith(':00') ? 'h' : 'h:mm'}${half ? ' a' : ''}`)
  const same = at(from).format('a') === at(to).format('a')
  return `${told(from, !same)}–${told(to, true)}`
}

/** The week as seven tins, filled as far as one works; a touch opens one. */
export function WeekTins(props: {
  week: Answers['week']
  clock: Answers['clock']
  set: (w: Answers['week']) => void
  fault: (path: string) => string | undefined
}) {
  const { week, clock, set, fault } = props
  const format = clock === 12 ? 'h:mm a' : 'HH:mm'
  const change = (day: number, spans: Span[]) => set(week.map((old, i) => (i === day ? spans : old)))
  return (
    <ul className="week-tins">
      {order.map((day) => {
        const spans = week[day]!
        const text = spans.map((s) => range(s.from, s.to, clock)).join(', ') || words.off
        const wrong = [0, 1, 2].flatMap((i) =>
          ['', '.from', '.to', '.hands'].flatMap((p) => fault(`week[${day}][${i}]${p}`) ?? []),
        )
        const span = spans[0]
        return (
          <li key={day}>
            <Popover
              trigger="click"
              title={words.days[day]}
              content={
                <div className="week-span">
                  {span && (
                    <>
                      <TimePicker
                        aria-label={`${words.days[day]}: ${words.from}`}
                        value={at(span.from)}
                        format={format}
                        use12Hours={clock === 12}
                        minuteStep={15}
                        allowClear={false}
                        needConfirm={false}
                        onChange={(t) => t && change(day, [{ ...span, from: t.format('HH:mm') }, ...spans.slice(1)])}
                      />
                      <TimePicker
                        aria-label={`${words.days[day]}: ${words.to}`}
                        value={at(span.to)}
                        format={format}
                        use12Hours={clock === 12}
                        minuteStep={15}
                        allowClear={false}
                        needConfirm={false}
                        onChange={(t) => t && change(day, [{ ...span, to: t.format('HH:mm') }, ...spans.slice(1)])}
                      />
                      <label>
                        {words.people}{' '}
                        <InputNumber
                          min={1}
                          max={9}
                          value={span.hands}
                          onChange={(n) => n && change(day, [{ ...span, hands: n }, ...spans.slice(1)])}
                        />
                      </label>
                    </>
                  )}
                  <Button onClick={() => change(day, span ? [] : [evening])}>
                    {span ? words.dayOff : words.workThen}
                  </Button>
                </div>
              }
            >
              <button type="button" className={spans.length > 0 ? 'week-tin' : 'week-tin closed'}>
                <svg viewBox="0 0 60 46" aria-hidden="true">
                  <rect x="1.5" y="1.5" width="57" height="43" rx="8" className={span ? 'tin-rim' : 'tin-lid'} />
                  {!span && <path d="M23 23h14" className="tin-knob" />}
                  {spans.map((s) => (
                    <rect
                      key={s.from}
                      x="6"
                      y="6"
                      height="34"
                      rx="4"
                      className="week-fill"
                      width={Math.min(Math.max(at(s.to).diff(at(s.from), 'minute') / 10, 6), 48)}
                    />
                  ))}
                </svg>
                <b>{words.days[day]!.slice(0, 3)}</b>
                <small>{text}</small>
              </button>
            </Popover>
            {wrong.map((f) => (
              <span key={f} className="fault" role="alert">
                {f}
              </span>
            ))}
          </li>
        )
      })}
    </ul>
  )
}
