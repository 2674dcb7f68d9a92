import { useQuery, useQueryClient } from '@tanstack/react-query'
import { Button, Checkbox, Select } from 'antd'
import dayjs from 'dayjs'
import { useEffect, useRef, useState } from 'react'
import { useParams } from 'react-router'
import { api, ask, askTagged, etag, Refused, type Schemas } from '../api/client'
import { useReached } from '../api/reach'
import { askAnew } from '../api/topics'
import { Degrees } from '../kit/Degrees'
import { Face } from '../kit/Face'
import { Sign } from '../kit/glyphs'
import { useSay } from '../kit/say'
import { TimeOfDay } from '../kit/TimeOfDay'
import { Link } from '../shell/Go'
import { dayLong, minutes, plusDays, useKitchen } from '../shell/kitchen'
import { DriveMap } from './DriveMap'
import { DriveTimes } from './DriveTimes'
import { Heat } from './Heat'
import { type Choices, type Day, InPlan, type Settle, Setups } from './InPlan'
import { Stops } from './Stops'
import { useWaiting } from './waiting'
import { WhereIs } from './WhereIs'
import { words } from './words'
import './drive.css'

type Drive = Schemas['HandoverDrive']

/** The day of the address, where it is one. */
export default function DrivePage() {
  const { day = '' } = useParams()
  const kitchen = useKitchen()
  if (dayjs(day).format('YYYY-MM-DD') === day) {
    if (kitchen.seesAddresses(day)) return <Drives key={day} day={day} />
    return (
      <section className="wide">
        <h1>{words.driveOf(dayjs(day).format('dddd'))}</h1>
        <p className="empty">
          {words.waits(dayLong(day))} <Link to={`/handover/drive/${kitchen.today()}`}>{words.driveToday}</Link>
        </p>
      </section>
    )
  }
  return (
    <section className="wide">
      <h1>{words.drive}</h1>
      <p className="empty" role="alert">
        {words.notADay(day)} <Link to="/handover">{words.toHandovers}</Link>
      </p>
    </section>
  )
}

/** How far the search for the best order has come, in words; only for as long as it takes. */
function useSearch(day: string, pending: boolean): string | undefined {
  const search = useQuery({
    queryKey: ['drive-search', day],
    queryFn: () => ask(api.GET('/api/v1/drives/{day}/search', { params: { path: { day } } })),
    enabled: pending,
    refetchInterval: 250,
    retry: false,
    gcTime: 0,
  })
  const { done = 0, all = 0 } = search.data ?? {}
  return pending && all > 0 ? words.seeking(Math.min(Math.round((100 * done) / all), 99)) : undefined
}

/** The drives of a day: in which order, when to leave, how much ice; at the doors it is what one has in hand. */
function Drives({ day }: { day: string }) {
  const queries = useQueryClient()
  const say = useSay()
  const reached = useReached()
  const { owns } = useKitchen()
  const key = ['drives', day]
  const drives = useQuery({
    queryKey: key,
    queryFn: () => askTagged(api.GET('/api/v1/drives/{day}', { params: { path: { day } } })),
  })
  const map = useQuery({
    queryKey: ['road-map'],
    queryFn: () => ask(api.GET('/api/v1/road-map', {})),
    staleTime: Infinity,
  })
  const { waiting, add, drop } = useWaiting()
  const chain = useRef(Promise.resolve())
  const search = useSearch(day, drives.isPending)
  if (!drives.data) return <Face title={words.drive} of={[drives]} loading={search} />
  const d = drives.data.data

  // One change after the other, each on top of what the one before has led to, or what somebody else has settled.
  async function change(by: Partial<Choices>, said: string, again = true): Promise<void> {
    const { data: was, revision } = queries.getQueryData<typeof drives.data>(key)!
    try {
      const now = await askTagged(
        api.PUT('/api/v1/drives/{day}', {
          params: { path: { day }, header: { 'If-Match': etag(revision) } },
          body: { ...was.choices, ...by },
        }),
      )
      await queries.cancelQueries({ queryKey: key }) // an answer from before does not move the stops back
      queries.setQueryData(key, now)
      say.done('drive', [said, ...now.data.displace].join(' '), () => void settle(was.choices))
      if (now.data.choices.planned || was.choices.planned) await askAnew(queries, ['plan'])
    } catch (error) {
      await drives.refetch()
      if (again && error instanceof Refused && error.status === 412) return change(by, said, false)
      say.refused(error)
    }
  }
  const settle: Settle = (by, said = words.saved) => {
    const next = () => change(by, said)
    return (chain.current = chain.current.then(next, next)) // one that broke holds up no other
  }
  const all = d.drives.flatMap((v) => v.drops)
  const name = dayjs(day).format('dddd')
  return (
    <section className="wide drive-page">
      <nav className="drive-days no-print">
        {owns && <Link to="/handover">{words.toHandovers}</Link>}
        <Link to={`/handover/drive/${plusDays(day, -1)}`}>{words.before}</Link>
        <Link to={`/handover/drive/${plusDays(day, 1)}`}>{words.after}</Link>
        <span className="soft">{dayLong(day)}</span>
        {all.some((x) => x.outcome) && (
          <b>{words.sum(all.filter((x) => x.outcome).length, all.filter((x) => !x.atHome).length)}</b>
        )}
      </nav>
      {!reached && (
        <p className="drive-note" role="status">
          <Sign kind="caution" size={15} /> {words.kept}
        </p>
      )}
      {waiting
        .filter((w) => w.refused)
        .map((w) => (
          <p key={w.order} className="drive-note trouble" role="alert">
            <Sign kind="trouble" size={15} /> {words.notTaken(w.customer, w.refused!)}{' '}
            <Button type="link" className="link" onClick={() => drop(w)}>
              {words.discard}
            </Button>
          </p>
        ))}
      {owns &&
        d.unknown.map((u) => <WhereIs key={u.address} unknown={u} home={d.home} done={() => void drives.refetch()} />)}
      {d.drives.length === 0 && (
        <div className="drive-empty">
          <h1>{words.driveOf(name)}</h1>
          {d.unknown.length === 0 && d.setups.length === 0 && (
            <p className="empty">
              {words.nothing} <span className="soft">{words.nothingWhat}</span>
            </p>
          )}
        </div>
      )}
      {owns && <Setups d={d} settle={settle} />}
      {d.drives.map((v, i) => (
        <div key={i} className="drive">
          <OneDrive
            drive={v}
            title={d.drives.length > 1 ? words.nthDriveOf(name, i) : words.driveOf(name)}
            says={i === 0 ? d.says : []}
            d={d}
            settle={settle}
            waiting={waiting}
            way={(address, from, minutes) =>
              void ask(
                api.PUT('/api/v1/positions', {
                  body: minutes === undefined ? { address, from, forget: true } : { address, from, minutes },
                }),
              ).then(
                () => askAnew(queries, ['drives']),
                (error: unknown) => say.refused(error),
              )
            }
            tell={(order, customer, outcome) => {
              void add({ day, order, customer, outcome })
            }}
          />
          <div className="drive-seen">
            <DriveMap drive={v} home={d.homeAt} map={map.data} />
            <DriveTimes drive={v} />
            {d.drives[i + 1] && <p className="soft">{words.atHomeBetween(minutes(d.drives[i + 1]!.leave - v.back))}</p>}
            {i === 0 && owns && <Rests d={d} settle={settle} />}
          </div>
        </div>
      ))}
    </section>
  )
}

interface OneProps {
  drive: Drive
  title: string
  says: string[]
  d: Day
  settle: Settle
  waiting: ReturnType<typeof useWaiting>['waiting']
  tell: (order: string, customer: string, outcome: Schemas['HandoverOutcome'] | null) => void
  way: (address: string, from?: string, minutes?: number) => void
}

function OneDrive({ drive, title, says, d, settle, waiting, tell, way }: OneProps) {
  const kitchen = useKitchen()
  const { clock } = kitchen
  const orders = drive.drops.map((x) => x.order)
  const ownLeave = orders.find((o) => d.choices.leaves[o] !== undefined)
  const ownOrder = d.choices.sequence.some((o) => orders.includes(o))
  const others = () => Object.fromEntries(Object.entries(d.choices.leaves).filter(([o]) => !orders.includes(o)))
  const sequence = () => d.drives.flatMap((v) => v.drops.map((x) => x.order))
  const leaveAt = (minute?: number, said?: string) =>
    settle(
      {
        leaves: minute === undefined ? others() : { ...others(), [orders[0]!]: minute },
        ...(said && { sequence: sequence() }),
      },
      said,
    )
  function move(from: number, to: number) {
    const next = [...orders]
    next.splice(to, 0, ...next.splice(from, 1))
    const all = d.drives.flatMap((v) => (v === drive ? next : v.drops.map((x) => x.order)))
    void settle({ sequence: all }, words.movedTo(drive.drops[from]!.customer, to + 1))
  }
  const today = kitchen.today() === d.day
  const late = drive.late > 0
  return (
    <div className="drive-told">
      <header>
        <h1>{title}</h1>
        <p className="soft">{words.onTheRoad(kitchen.amount(drive.distance), minutes(drive.road))}</p>
      </header>
      <p className="leave">
        <b>{words.leaveAt(clock(drive.leave))}</b> <span className="soft">{words.backAt(clock(drive.back))}</span>
      </p>
      <ul className={late ? 'drive-says late' : 'drive-says'}>
        {drive.says.map((s) => (
          <li key={s}>{s}</li>
        ))}
        {says.map((s) => (
          <li key={s}>{s}</li>
        ))}
        {!d.proven && !ownOrder && <li>{words.bestOf}</li>}
        {ownOrder && (
          <li>
            {words.ownOrder}{' '}
            {kitchen.owns && (
              <Button type="link" className="link" onClick={() => void settle({ sequence: [] })}>
                {words.bestOrder}
              </Button>
            )}
          </li>
        )}
      </ul>
      <Stops
        drops={drive.drops}
        waiting={waiting}
        move={move}
        door={(order, n) => {
          const doors = Object.fromEntries(Object.entries(d.choices.doors).filter(([o]) => o !== order))
          void settle({ doors: n === undefined ? doors : { ...doors, [order]: n } })
        }}
        way={way}
        tell={(x, outcome) => tell(x.order, x.customer, outcome)}
        tells={today && d.tells && kitchen.owns}
      />
      <div className="drive-acts no-print">
        {today && kitchen.owns && (
          <Button
            type="primary"
            size="large"
            onClick={() => {
              const now = kitchen.now()
              const minute = now.hour() * 60 + now.minute()
              void leaveAt(minute, words.onMyWaySaid(clock(minute)))
            }}
          >
            {words.onMyWay}
          </Button>
        )}
        {kitchen.owns && <TimeOfDay label={words.leaving} value={drive.leave} set={(minute) => void leaveAt(minute)} />}
        {ownLeave && kitchen.owns && (
          <Button type="link" className="link" onClick={() => void leaveAt()}>
            {words.bestTime}
          </Button>
        )}
        <a className="button-link" href={`/api/v1/drives/${d.day}/sheet.pdf`} download>
          {words.print}
        </a>
        {kitchen.owns && <InPlan d={d} settle={settle} />}
      </div>
      <Heat drive={drive} warmest={d.warmest} />
    </div>
  )
}

/** On what the drives rest that somebody may know better. */
function Rests({ d, settle }: { d: Day; settle: Settle }) {
  const c = d.choices
  const [warmest, setWarmest] = useState<number>()
  const save = useRef<(x: number) => void>(undefined)
  useEffect(() => {
    save.current = (x) => void settle({ warmest: x }).finally(() => setWarmest(undefined))
  })
  useEffect(() => {
    if (warmest === undefined) return
    const later = setTimeout(() => save.current?.(warmest), 600) // once it is typed
    return () => clearTimeout(later)
  }, [warmest])
  return (
    <div className="drive-rests no-print">
      <label>
        {words.warmest}{' '}
        <Degrees label={words.warmest} value={warmest ?? c.warmest ?? d.warmest} set={setWarmest} width={84} />
      </label>
      {c.warmest !== undefined && (
        <Button type="link" className="link" onClick={() => void settle({ warmest: undefined })}>
          {words.forecast}
        </Button>
      )}
      {d.people > 1 && (
        <label>
          {words.whoDrives}{' '}
          <Select
            aria-label={words.whoDrives}
            value={c.hand}
            options={Array.from({ length: d.people }, (_, i) => ({ value: i, label: words.person(i + 1) }))}
            onChange={(hand) => void settle({ hand })}
          />
        </label>
      )}
      {d.pickups.length > 0 && (
        <Checkbox checked={d.stays} onChange={(e) => void settle({ stays: e.target.checked })}>
          {words.mustBeHome}
        </Checkbox>
      )}
    </div>
  )
}
