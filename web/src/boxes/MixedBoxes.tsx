import { Button, InputNumber, Select } from 'antd'
import type { Schemas } from '../api/client'
import { Sign } from '../kit/glyphs'
import { useSupplies } from '../larder/useSupplies'
import { Part } from '../orders/Estimate'
import { useKitchen } from '../shell/kitchen'
import { BoxDrawing } from './BoxDrawing'
import { GuestList, useGuests } from './GuestList'
import { words } from './words'

type Draft = Schemas['OrderDraft']
type Set = Schemas['OrderBoxSet']

/**
 * A mixed box for each guest of a list, with one of each treat where none is there yet, and enough pieces for all. A
 * line that was just enough for its boxes stays just enough.
 */
function eachGuest(draft: Draft, box: string, read: Schemas['OrdersGuests']): Partial<Draft> {
  const n = read.guests.length
  const now = draft.sets ?? []
  const [first = { supply: box, boxes: n, pieces: draft.lines.map(() => 1) }, ...rest] = now
  const sets = [{ ...first, boxes: n }, ...rest]
  const need = (of: Set[], line: number) => of.reduce((sum, s) => sum + (s.pieces[line] ?? 0) * s.boxes, 0)
  const lines = draft.lines.map((l, i) => {
    const follows = l.count === need(now, i) && need(sets, i) > 0
    return { ...l, count: follows ? need(sets, i) : Math.max(l.count, need(sets, i)) }
  })
  return { sets, lines }
}

/** Boxes in which several treats of an order lie together: each guest one of each. */
export function MixedBoxes({
  order,
  draft,
  r,
  names,
  set,
  fault,
}: {
  /** Its id; none while it is new. */
  order?: string
  draft: Draft
  /** What follows; not there while something of the order cannot be reckoned. */
  r?: { sets: Schemas['OrderSetLaid'][]; lines: Schemas['OrderLineCard'][] }
  /** Of the lines. */
  names: string[]
  set: (x: Partial<Draft>) => void
  fault: (path: string) => string | undefined
}) {
  const kitchen = useKitchen()
  const supplies = useSupplies()
  const boxes = (supplies.data?.supplies ?? []).filter((s) => s.inside)
  const guests = useGuests({ id: order, customer: draft.customer })
  const sets = draft.sets ?? []
  const change = (n: number, x: Partial<Set>) => set({ sets: sets.map((s, i) => (i === n ? { ...s, ...x } : s)) })
  if (boxes.length === 0 || draft.lines.length === 0) return null
  const room = (s: Set, line: number) =>
    draft.lines[line]!.count - sets.reduce((n, x) => n + (x === s ? 0 : (x.pieces[line] ?? 0) * x.boxes), 0)
  return (
    <Part name={words.mixed}>
      {sets.map((s, n) => {
        const laid = r?.sets.find((x) => x.set === n)
        const wrong = ['boxes', 'pieces', 'supply', ...draft.lines.map((_, i) => `pieces[${i}]`)]
          .map((path) => fault(`sets[${n}].${path}`))
          .find(Boolean)
        return (
          <div key={n} className="mixed-box">
            <p>
              <InputNumber
                aria-label={words.boxesOf(n + 1)}
                size="small"
                min={1}
                precision={0}
                value={s.boxes}
                style={{ width: 64 }}
                onChange={(boxes) => boxes && change(n, { boxes })}
              />{' '}
              <Select
                aria-label={words.whichBox(n + 1)}
                size="small"
                value={s.supply}
                style={{ width: 150 }}
                onChange={(supply) => change(n, { supply })}
                options={boxes.map((b) => ({ value: b.id, label: b.name }))}
              />{' '}
              <Button
                type="link"
                className="link quiet"
                aria-label={words.leaveOut(n + 1)}
                onClick={() => set({ sets: sets.length > 1 ? sets.filter((_, i) => i !== n) : undefined })}
              >
                ×
              </Button>
            </p>
            <ul>
              {names.map((name, i) => (
                <li key={i}>
                  <InputNumber
                    aria-label={words.inEach(name, n + 1)}
                    size="small"
                    min={0}
                    max={1000}
                    precision={0}
                    value={s.pieces[i] ?? 0}
                    style={{ width: 56 }}
                    onChange={(pieces) =>
                      change(n, { pieces: names.map((_, j) => (j === i ? (pieces ?? 0) : (s.pieces[j] ?? 0))) })
                    }
                  />{' '}
                  {name}{' '}
                  <small className="inline">
                    {words.reaches(Math.floor(room(s, i) / Math.max(s.pieces[i] ?? 0, 1)))}
                  </small>
                </li>
              ))}
            </ul>
            {wrong && (
              <p className="fault" role="alert">
                {wrong}
              </p>
            )}
            {r && laid && !wrong && (
              <>
                <p className={laid.trouble ? 'when trouble' : undefined}>
                  {laid.trouble && <Sign kind="trouble" size={14} />} {laid.text}
                </p>
                {laid.layout && <BoxDrawing box={laid} cards={laid.lines.map((line) => r.lines[line]!.card)} />}
                {laid.fewer && (
                  <p className="box-choice">
                    <span>{laid.fewer.text}</span>
                    <Button
                      size="small"
                      onClick={() =>
                        change(n, {
                          pieces: names.map((_, i) =>
                            laid.lines.includes(i) ? laid.fewer!.pieces[laid.lines.indexOf(i)]! : 0,
                          ),
                        })
                      }
                    >
                      {words.packSoMany}
                    </Button>
                  </p>
                )}
                {(laid.others ?? []).map((c) => (
                  <p key={c.text} className="box-choice">
                    <span>
                      {c.text} <small>{words.wouldCost(kitchen.money(c.cost))}</small>
                    </span>
                    <Button size="small" onClick={() => change(n, { supply: c.boxes[0]!.supply })}>
                      {words.useThese}
                    </Button>
                  </p>
                ))}
              </>
            )}
          </div>
        )
      })}
      <Button
        type="link"
        className="link"
        onClick={() => {
          const open = draft.lines.map((l, i) => l.count - sets.reduce((n, x) => n + (x.pieces[i] ?? 0) * x.boxes, 0))
          const some = open.filter((n) => n > 0)
          set({
            sets: [
              ...sets,
              {
                supply: boxes[0]!.id,
                boxes: some.length > 0 ? Math.min(...some) : 1,
                pieces: open.map((n) => (n > 0 ? 1 : 0)),
              },
            ],
          })
        }}
      >
        {words.mixBoxes}
      </Button>
      <details className="guest-list">
        <summary>{words.forGuests}</summary>
        <p className="soft">{words.forGuestsWhat}</p>
        <GuestList guests={guests}>
          {guests.read && guests.read.guests.length > 0 && (
            <Button size="small" type="primary" onClick={() => set(eachGuest(draft, boxes[0]!.id, guests.read!))}>
              {words.boxForEach(guests.read.guests.length)}
            </Button>
          )}
        </GuestList>
      </details>
    </Part>
  )
}
