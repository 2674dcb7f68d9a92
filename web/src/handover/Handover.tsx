import { useQuery, useQueryClient } from '@tanstack/react-query'
import { Button } from 'antd'
import { useState } from 'react'
import { Link } from 'react-router'
import { api, ask } from '../api/client'
import { askAnew } from '../api/topics'
import { Blank } from '../kit/Blank'
import { Face } from '../kit/Face'
import { OnlyHere, useAddress } from '../kit/address'
import { Sign } from '../kit/glyphs'
import { useSay } from '../kit/say'
import { Shortfalls, useShortfalls } from '../orders/Shortfalls'
import { type State, stateName } from '../orders/draft'
import { Contents, type Row } from '../orders/Orders'
import { PaySheet } from './PaySheet'
import { dayName, dayLong, inDays, useKitchen } from '../shell/kitchen'
import { words } from './words'
import './handover.css'

const due: State[] = ['promised', 'in the making', 'packed']
const next: Partial<Record<State, [State, string]>> = {
  promised: ['in the making', words.startMaking],
  'in the making': ['packed', words.packed],
  packed: ['handed over', words.markAsHandedOver],
}

/** What is to be packed and handed over, next first, and the calendar to take along. */
export default function Handover() {
  const kitchen = useKitchen()
  const queries = useQueryClient()
  const say = useSay()
  const orders = useQuery({
    queryKey: ['orders', 'handovers'],
    queryFn: () => ask(api.GET('/api/v1/orders', { params: { query: { limit: 100 } } })),
  })
  const till = useQuery({ queryKey: ['till'], queryFn: () => ask(api.GET('/api/v1/till', {})) })
  const list = (orders.data?.orders ?? []).filter((o) => due.includes(o.state))

  async function move(o: Row, from: State, to: State) {
    try {
      await ask(api.POST('/api/v1/orders/{id}/moves', { params: { path: { id: o.id } }, body: { to } }))
      await askAnew(queries, ['orders'])
      say.done('move', `${o.customer}: ${stateName[to]}.`, () => void move(o, to, from))
    } catch (error) {
      say.refused(error)
    }
  }
  const [paying, setPaying] = useState<Row>()
  const short = useShortfalls()
  const owes = (id: string) => till.data?.owed.find((w) => w.order === id && w.stands === 'due')
  if (!orders.data) return <Face title={words.handovers} of={[orders]} />
  return (
    <section className="wide">
      <header className="work-head">
        <h1>{words.handovers}</h1>
        <p className="soft">
          {list.length === 0 ? '' : words.toComePacked(list.length, list.filter((o) => o.state === 'packed').length)}
        </p>
        <a className="button-link" href="/api/v1/calendar.ics" download="zesty-tin.ics">
          {words.calendarFile}
        </a>
      </header>
      <Follow />
      <Drives list={list} />
      {orders.isSuccess && list.length === 0 && <p className="empty">{words.yourConfirmedOrdersAppearHere}</p>}
      {paying && owes(paying.id) && (
        <PaySheet
          order={paying.id}
          customer={paying.customer}
          rest={owes(paying.id)!.rest}
          close={() => setPaying(undefined)}
          handOver={() => {
            setPaying(undefined)
            void move(paying, paying.state, 'handed over')
          }}
        />
      )}
      <ol className="handovers">
        {list.map((o) => {
          const at = kitchen.local(o.from)
          const day = at.format('YYYY-MM-DD')
          // Four are not packed where six were promised.
          const step = short.some((s) => s.order === o.id) && o.state === 'in the making' ? undefined : next[o.state]
          const late = kitchen.local(o.to).isBefore(kitchen.now())
          return (
            <li key={o.id} className="handover-card" aria-label={`${o.customer}, ${dayLong(day)}`}>
              <p className="handover-when">
                <b>{kitchen.time(o.from)}</b> {words.to} {kitchen.time(o.to)}
                <small>
                  {dayName(day)}, {inDays(kitchen.today(), day)}
                </small>
                {late && (
                  <small className="trouble">
                    <Sign kind="trouble" size={13} /> {words.overdue}
                  </small>
                )}
              </p>
              <div className="handover-who">
                <h2>
                  <Link to={`/orders/${o.id}`}>{o.customer}</Link>
                </h2>
                <p>
                  {o.way === 'delivery' ? words.deliverTo : words.pickedUp}
                  {o.place}
                  {o.leave && (
                    <b>
                      {words.leaveAt} {kitchen.time(o.leave)}
                    </b>
                  )}
                  {o.phone && (
                    <>
                      {' '}
                      · <a href={`tel:${o.phone.replaceAll(' ', '')}`}>{o.phone}</a>
                    </>
                  )}
                </p>
                <Contents lines={o.lines} />
                <p>
                  <Link to={`/handover/${o.id}`}>{words.boxesAndLabels}</Link>
                </p>
                <ul className="handover-list">
                  {o.lines.map((l, i) => (
                    <li key={i}>
                      {l.count} {l.name}
                    </li>
                  ))}
                </ul>
                {o.freeFrom.length > 0 && (
                  <p className="trouble">
                    <Sign kind="caution" size={14} /> {words.freeFrom} {o.freeFrom.join(', ')}
                  </p>
                )}
                {o.notes && <p className="soft">{o.notes}</p>}
                <Shortfalls order={o.id} />
              </div>
              <div className="handover-do">
                <span className="state">
                  <b>{stateName[o.state]}</b>
                  {o.state !== 'packed' && (
                    <small>
                      {o.done} {words.of} {o.steps} {words.stepsDone}
                    </small>
                  )}
                </span>
                {till.data?.owed
                  .filter((w) => w.order === o.id && w.stands === 'due')
                  .map((w) => (
                    <b key={w.order}>
                      {kitchen.money(w.rest)} {words.due2}
                    </b>
                  ))}
                {step && (
                  <Button
                    type={o.state === 'packed' || o.done === o.steps ? 'primary' : 'default'}
                    size="large"
                    onClick={() =>
                      step[0] === 'handed over' && owes(o.id) ? setPaying(o) : void move(o, o.state, step[0])
                    }
                  >
                    {step[1]}
                  </Button>
                )}
              </div>
            </li>
          )
        })}
      </ol>
      {orders.data?.more && (
        <p className="soft">
          {words.theseAreTheNextOnes} <Link to="/orders">{words.orders}</Link>.
        </p>
      )}
    </section>
  )
}

/** The next days of handovers, each with its pack list, and with its drive where something is brought. */
function Drives({ list }: { list: Row[] }) {
  const kitchen = useKitchen()
  const days = new Map<string, number>()
  for (const o of list.filter((x) => x.way === 'delivery')) {
    const day = kitchen.local(o.from).format('YYYY-MM-DD')
    days.set(day, (days.get(day) ?? 0) + 1)
  }
  const packed = [...new Set(list.map((o) => kitchen.local(o.from).format('YYYY-MM-DD')))]
  if (list.length === 0) return null
  return (
    <nav className="drive-links no-print" aria-label={words.drives}>
      {packed.slice(0, 3).map((day) => (
        <Link key={`pack:${day}`} to={`/handover/packing/${day}`} className="drive-link">
          <b>{words.packListOf(dayName(day))}</b>
          <small>{words.orders2(list.filter((o) => kitchen.local(o.from).format('YYYY-MM-DD') === day).length)}</small>
        </Link>
      ))}
      {[...days].slice(0, 6).map(([day, n]) => (
        <Link key={day} to={`/handover/drive/${day}`} className="drive-link">
          <b>{words.driveOf(dayName(day))}</b>
          <small>{words.stops(n)}</small>
        </Link>
      ))}
    </nav>
  )
}

/** A link by which one's own calendar follows work and handovers. Whoever has it can read them, so it can be ended. */
function Follow() {
  const queries = useQueryClient()
  const say = useSay()
  const link = useQuery({ queryKey: ['calendar-link'], queryFn: () => ask(api.GET('/api/v1/calendar-link', {})) })
  async function change(method: 'POST' | 'DELETE') {
    try {
      queries.setQueryData(
        ['calendar-link'],
        await ask(method === 'POST' ? api.POST('/api/v1/calendar-link', {}) : api.DELETE('/api/v1/calendar-link', {})),
      )
      say.done('link', method === 'POST' ? words.linkCreatedAddItTo : words.linkTurnedOffCalendarsStop)
    } catch (error) {
      say.refused(error)
    }
  }
  const to = useAddress(link.data?.path ?? '')
  if (!link.data) return null
  const address = link.data.path && to.href
  return (
    <p className="follow no-print">
      {address ? (
        <>
          <label>
            {words.yourCalendarLink}{' '}
            <Blank label={words.calendarLink} readOnly value={address} onFocus={(e) => e.target.select()} />
          </label>
          <Button type="link" className="link" onClick={() => void change('POST')}>
            {words.makeANewOne}
          </Button>
          <Button type="link" className="link quiet" onClick={() => void change('DELETE')}>
            {words.turnOffLink}
          </Button>
          <OnlyHere here={to.here} />
        </>
      ) : (
        <>
          <span className="soft">{words.seeWorkAndHandoversIn}</span>
          <Button type="link" className="link" onClick={() => void change('POST')}>
            {words.createLink}
          </Button>
        </>
      )}
    </p>
  )
}
