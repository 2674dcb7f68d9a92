import { useDrag } from '@use-gesture/react'
import { Button, Input, InputNumber, Radio } from 'antd'
import { type KeyboardEvent, useRef, useState } from 'react'
import type { Schemas } from '../api/client'
import { Sign } from '../kit/glyphs'
import { minutes, useKitchen } from '../shell/kitchen'
import { OnTheWay } from '../messages/OnTheWay'
import type { Outcome, Waiting } from './waiting'
import { words } from './words'

/** What becomes of a drop that is not simply handed over, what is most frequent first. */
const others = Object.keys(words.outcomes).slice(1) as Outcome['outcome'][]

type Drop = Schemas['HandoverDrop']

interface Props {
  drops: Drop[]
  waiting: Waiting[]
  move: (from: number, to: number) => void
  door: (order: string, minutes?: number) => void
  /** Types how long one drives to an address from another (none: from home); without minutes it is the map's again. */
  way: (address: string, from?: string, minutes?: number) => void
  tell: (drop: Drop, outcome: Outcome | null) => void
  tells: boolean // customers are told that one is on the way
}

/** The stops in their order: by hand or by arrow keys they go elsewhere, and at each door one large button will do. */
export function Stops({ drops, waiting, move, door, way, tell, tells }: Props) {
  const { clock, owns } = useKitchen()
  const list = useRef<HTMLOListElement>(null)
  const [over, setOver] = useState<{ from: number; to: number }>()
  const at = (y: number) => {
    const items = [...(list.current?.children ?? [])]
    const under = items.findIndex((li) => y < li.getBoundingClientRect().bottom)
    return under < 0 ? items.length - 1 : under
  }
  const grab = useDrag<PointerEvent>(
    ({ args: [from], xy, last, canceled, tap }) => {
      if (tap) return
      const to = at(xy[1])
      setOver(last ? undefined : { from: from as number, to })
      if (last && !canceled && to !== from) move(from as number, to)
    },
    { filterTaps: true, threshold: 5, pointer: { keys: false } },
  )
  const press = (from: number, e: KeyboardEvent) => {
    const to = e.key === 'ArrowUp' ? from - 1 : e.key === 'ArrowDown' ? from + 1 : from
    if (to === from || to < 0 || to >= drops.length) return
    e.preventDefault()
    move(from, to)
  }
  let n = 0
  const next = drops.findIndex((d) => !d.outcome && !waiting.some((w) => w.order === d.order && w.outcome))
  return (
    <ol className="stops" ref={list}>
      {drops.map((d, i) => {
        const told = waiting.findLast((w) => w.order === d.order)
        const outcome = told ? told.outcome?.outcome : d.outcome
        const nth = d.atHome ? '⌂' : String(++n)
        return (
          <li
            key={d.order}
            className={['stop', outcome && 'done', over?.from === i && 'lifted', over?.to === i && 'target']
              .filter(Boolean)
              .join(' ')}
            aria-label={d.atHome ? words.atHomeFor(d.customer) : d.customer}
          >
            <button
              type="button"
              className={d.late > 0 ? 'stop-n late' : 'stop-n'}
              aria-label={words.move(nth, d.customer)}
              title={words.move(nth, d.customer)}
              disabled={!owns}
              onKeyDown={(e) => press(i, e)}
              {...grab(i)}
            >
              {nth}
            </button>
            <div className="stop-who">
              <h3>{d.atHome ? words.atHomeFor(d.customer) : d.customer}</h3>
              {!d.atHome && (
                <p className="soft">
                  {d.address} · {d.lines.map((l) => words.countOf(l.count, l.name)).join(', ')}
                </p>
              )}
              {d.freeFrom.length > 0 && (
                <p className="trouble">
                  <Sign kind="caution" size={13} /> {words.freeFrom(d.freeFrom.join(', '))}
                </p>
              )}
              {d.notes && <p className="soft">{d.notes}</p>}
              {!d.atHome && (
                <>
                  <p className="stop-links">
                    {d.phone && <a href={`tel:${d.phone.replaceAll(' ', '')}`}>{words.ring(d.phone)}</a>}
                    {d.geo && (
                      <a href={d.geo} aria-label={words.mapOf(d.customer)}>
                        {words.map}
                      </a>
                    )}
                  </p>
                  {owns && (
                    <p className="stop-links soft no-print">
                      <span>
                        <InputNumber
                          size="small"
                          controls={false}
                          min={0}
                          max={240}
                          value={d.door}
                          aria-label={words.minutesAtDoor(d.customer)}
                          style={{ width: 46 }}
                          onChange={(v) => door(d.order, v ?? undefined)}
                        />{' '}
                        {words.min} {words.atTheDoor}
                      </span>
                      <Leg d={d} before={drops[i - 1]} set={way} />
                    </p>
                  )}
                </>
              )}
              {d.care.map((c) => (
                <p key={c} className="heat-says">
                  <Sign kind="caution" size={13} /> {c}
                </p>
              ))}
              {!d.atHome && <Told {...{ d, told, outcome }} tell={(o) => tell(d, o)} />}
              {d.told && !outcome && <p className="soft">{words.knowsYouAreComing(d.customer)}</p>}
              {tells && i === next && !d.atHome && !d.told && d.state === 'packed' && <OnTheWay drop={d} />}
            </div>
            <p className="stop-when">
              <b>{words.thereAt(clock(d.arrive))}</b>
              <small>{words.fromTo(clock(d.from), clock(d.to))}</small>
              {d.late > 0 && (
                <small className="trouble">
                  <Sign kind="trouble" size={13} /> {words.late(minutes(d.late))}
                </small>
              )}
              {d.from - d.arrive > 5 && <small className="soft">{words.early(minutes(d.from - d.arrive))}</small>}
            </p>
          </li>
        )
      })}
    </ol>
  )
}

/** The minutes on the road to a door: what is reckoned with, or what somebody has typed. */
function Leg({ d, before, set }: { d: Drop; before?: Drop; set: Props['way'] }) {
  const from = before && !before.atHome ? before.address : undefined
  const [typing, setTyping] = useState<number | null>() // null: it was cleared
  if (from === d.address) return null
  const done = () => {
    if (typing !== undefined && typing !== (d.typed ?? null)) set(d.address, from, typing ?? undefined)
    setTyping(undefined)
  }
  return (
    <span>
      <InputNumber
        size="small"
        controls={false}
        min={0}
        max={600}
        precision={0}
        value={typing === undefined ? (d.typed ?? null) : typing}
        placeholder={String(Math.round(d.road))}
        aria-label={words.minutesFrom(d.customer, before && from ? before.customer : words.home)}
        style={{ width: 46 }}
        changeOnWheel={false}
        onChange={setTyping}
        onBlur={done}
        onPressEnter={done}
      />{' '}
      {words.min} {words.onTheRoadTo}
    </span>
  )
}

interface ToldProps {
  d: Drop
  told?: Waiting
  outcome?: string
  tell: (o: Outcome | null) => void
}

/** A part of it by count, called what it is where that is all of it, or none. */
function inPart(d: Drop, given: number[], note?: string): Outcome {
  if (given.every((n, i) => n === d.lines[i]!.count)) return { outcome: 'handed over', note }
  if (given.every((n) => n === 0)) return { outcome: words.broughtBack, note }
  return { outcome: words.inPart, note, given }
}

/** What became of it: one large button for what mostly does, and the rest behind another. */
function Told({ d, told, outcome, tell }: ToldProps) {
  const [open, setOpen] = useState(false)
  const [other, setOther] = useState<Outcome>({ outcome: others[0]! })
  const [given, setGiven] = useState(() => d.lines.map((l) => l.given ?? l.count))
  if (outcome) {
    const part = outcome === words.inPart ? (told?.outcome?.given ?? d.lines.map((l) => l.given)) : []
    return (
      <p className="stop-told">
        <Sign kind={outcome === 'handed over' ? 'fine' : 'caution'} size={14} />
        <b>{words.outcomes[outcome]}</b>
        {part.some((n) => n !== undefined) && (
          <span>{d.lines.map((l, i) => words.partOf(part[i] ?? l.count, l.count, l.name)).join(', ')}</span>
        )}
        {(told?.outcome?.note ?? d.note) && <span>{told?.outcome?.note ?? d.note}</span>}
        <Button type="link" className="link quiet" onClick={() => tell(null)}>
          {words.cancel}
        </Button>
        {told && !told.refused && <small className="soft">{words.willBeSent}</small>}
      </p>
    )
  }
  if (d.state !== 'packed') return <p className="soft">{words.notPacked}</p>
  if (!open) {
    return (
      <p className="stop-do no-print">
        <Button size="large" onClick={() => tell({ outcome: 'handed over' })}>
          {words.handedOver}
        </Button>
        <Button type="link" className="link" onClick={() => setOpen(true)}>
          {words.somethingElse}
        </Button>
      </p>
    )
  }
  return (
    <form
      className="stop-else"
      onSubmit={(e) => {
        e.preventDefault()
        setOpen(false)
        tell(other.outcome === words.inPart ? inPart(d, given, other.note) : other)
      }}
    >
      <Radio.Group
        aria-label={words.somethingElse}
        value={other.outcome}
        onChange={(e) => setOther({ ...other, outcome: e.target.value as Outcome['outcome'] })}
        options={others.map((o) => ({ value: o, label: words.outcomes[o]! }))}
      />
      {other.outcome === words.inPart && (
        <span className="stop-part">
          {d.lines.map((l, i) => (
            <label key={i}>
              <InputNumber
                aria-label={words.givenOf(l.name)}
                min={0}
                max={l.count}
                precision={0}
                value={given[i]}
                style={{ width: 64 }}
                onChange={(n) => setGiven(given.map((x, at) => (at === i ? (n ?? 0) : x)))}
              />{' '}
              {words.ofSoMany(l.count, l.name)}
            </label>
          ))}
        </span>
      )}
      <Input
        aria-label={words.note}
        placeholder={words.exampleNote}
        maxLength={500}
        value={other.note}
        onChange={(e) => setOther({ ...other, note: e.target.value || undefined })}
      />
      <Button type="primary" htmlType="submit">
        {words.save}
      </Button>
      <Button onClick={() => setOpen(false)}>{words.cancel}</Button>
    </form>
  )
}
