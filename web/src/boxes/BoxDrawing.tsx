import { lookOf } from '../kit/chocolate'
import type { Schemas } from '../api/client'
import { traitsOf } from '../api/families'
import { useKitchen } from '../shell/kitchen'
import { words } from './words'
import './boxes.css'

/** A box and what lies in a full one. */
type Boxed = Pick<Schemas['OrderBoxed'], 'name' | 'room' | 'sides' | 'layout'> & { spare?: Schemas['MeasureShown'] }

/** Which design lies in each place of a full box: in turn, as many of each as there are of it in the order. */
export function placed(n: number, designs: { good: number }[]): number[] {
  const all = designs.reduce((sum, d) => sum + d.good, 0)
  if (all === 0) return Array.from({ length: n }, () => 0)
  const got = designs.map(() => 0)
  const list = Array.from({ length: n }, (_, i) => {
    const behind = designs.map((d, at) => (d.good * (i + 1)) / all - got[at]!)
    const at = behind.indexOf(Math.max(...behind))
    got[at]!++
    return at
  })
  return list.sort((a, b) => a - b)
}

const wall = 4 // mm of board, as it is drawn
const room = 26 // mm for the measures beside it

interface Rect {
  item: number
  x: number
  y: number
  w: number
  h: number
}

/** What is left over is the same before, between and behind. */
const gap = (room: number, taken: number[]) => Math.max(room - taken.reduce((n, x) => n + x, 0), 0) / (taken.length + 1)

/** The pieces of the top layer from above, in mm from the corner. */
function fromAbove(layout: Boxed['layout'], long: number, wide: number): Rect[] {
  const rows = layout?.layers.at(-1)?.rows ?? []
  const between = gap(
    wide,
    rows.map((r) => r.deep),
  )
  let deep = between
  return rows.flatMap((row) => {
    const beside = gap(
      long,
      row.pieces.map((p) => p.along),
    )
    let along = beside
    const y = deep
    deep += row.deep + between
    return row.pieces.map((p) => {
      const x = along
      along += p.along + beside
      const at = layout!.across ? { x: y, y: x, w: p.deep, h: p.along } : { x, y, w: p.along, h: p.deep }
      return { item: p.item, ...at }
    })
  })
}

/** The layers from the long side, in mm from the top: the first row of each, or the ends of all. */
function fromTheSide(layout: Boxed['layout'], length: number, height: number): Rect[] {
  let floor = height
  return (layout?.layers ?? []).flatMap((layer) => {
    const ground = floor
    floor -= layer.high
    const seen = layout!.across
      ? layer.rows.map((r) => ({ item: r.pieces[0]!.item, w: r.deep, h: r.pieces[0]!.high }))
      : layer.rows[0]!.pieces.map((p) => ({ item: p.item, w: p.along, h: p.high }))
    const beside = gap(
      length,
      seen.map((p) => p.w),
    )
    let x = beside
    return seen.map((p) => {
      const at = { x, y: ground - p.h, ...p }
      x += p.w + beside
      return at
    })
  })
}

const dressed = (card: Schemas['BatchCard']) => ({
  looks: (card.designs.length > 0 ? card.designs.map((d) => d.look) : [card.look]).map(lookOf),
  // It has corners.
  cut: ['pan', 'cavity'].includes(traitsOf(card.family).drawn ?? ''),
})

/** A full box to scale, from above and from its long side; with a card for each kind of piece in it. */
export function BoxDrawing({ box, cards }: { box: Boxed; cards: Schemas['BatchCard'][] }) {
  const kitchen = useKitchen()
  const { length, width, height, rise = 0, open = false } = box.room
  const kinds = cards.map(dressed)
  const all = box.layout?.layers.reduce((n, l) => n + l.rows.reduce((m, r) => m + r.pieces.length, 0), 0) ?? 0
  const across = box.layout?.across ?? false
  const above = fromAbove(box.layout, across ? width : length, across ? length : width)
  // Of one kind, its designs lie there in turn.
  const of = cards.length === 1 ? placed(all, cards[0]!.designs).slice(-above.length) : []
  const pieces = above.map((p, i) => ({ ...p, cut: kinds[p.item]!.cut, look: kinds[p.item]!.looks[of[i] ?? 0]! }))
  // What stands above the sides: under a raised lid, or over the rim of a tray.
  const stand = (box.layout?.layers ?? []).reduce((n, l) => n + l.high, 0)
  const over = open ? Math.max(stand - height, 0) : rise
  const lid = open ? 0 : wall
  const side = fromTheSide(box.layout, length, height + over)
  const [long, wide, high] = box.sides.map(kitchen.amount)
  const outer = length + 2 * wall + room
  return (
    <figure className="box-drawing">
      <svg
        viewBox={`0 0 ${outer} ${width + height + over + 4 * wall + room + 10}`}
        // A small box is not blown up to the width of the page, or its measures would be.
        style={{ maxWidth: outer * 1.3 }}
        role="img"
        aria-label={words.fromAboveAndBeside(box.name, all)}
      >
        <rect className="board" x={0} y={0} width={length + 2 * wall} height={width + 2 * wall} rx={wall} />
        <rect className="box-inside" x={wall} y={wall} width={length} height={width} />
        {pieces.map((p, i) => (
          <g key={i}>
            <ellipse
              className="cup"
              cx={wall + p.x + p.w / 2}
              cy={wall + p.y + p.h / 2}
              rx={p.w / 2 - 0.4}
              ry={p.h / 2 - 0.4}
            />
            <rect
              x={wall + p.x + 3}
              y={wall + p.y + 3}
              width={Math.max(p.w - 6, 1)}
              height={Math.max(p.h - 6, 1)}
              rx={p.cut ? 2 : p.w / 2 - 3}
              ry={p.cut ? 2 : p.h / 2 - 3}
              fill={p.look.fill}
              stroke={p.look.edge}
            />
          </g>
        ))}
        <text className="measure" x={wall + length / 2} y={width + 2 * wall + 11} textAnchor="middle">
          {long}
        </text>
        <text
          className="measure"
          transform={`translate(${length + 2 * wall + 11} ${wall + width / 2}) rotate(90)`}
          textAnchor="middle"
        >
          {wide}
        </text>
        <g transform={`translate(0 ${width + 2 * wall + room - 8})`}>
          <rect
            className="board"
            x={0}
            y={open ? wall + over : 0}
            width={length + 2 * wall}
            height={height + wall + (open ? 0 : over + lid)}
            rx={wall}
          />
          <rect
            className="box-inside"
            x={wall}
            y={open ? wall + over : wall}
            width={length}
            height={height + (open ? 0 : over)}
          />
          {rise > 0 && <path className="rim" d={`M${wall} ${wall + rise} h${length}`} />}
          {side.map((p, i) => (
            <rect
              key={i}
              x={wall + p.x + 1.5}
              y={wall + p.y}
              width={p.w - 3}
              height={p.h}
              rx={kinds[p.item]!.cut ? 2 : Math.min(p.w, p.h) / 2.2}
              fill={kinds[p.item]!.looks[0]!.fill}
              stroke={kinds[p.item]!.looks[0]!.edge}
            />
          ))}
          <text className="measure" x={wall + length / 2} y={height + over + 2 * wall + 11} textAnchor="middle">
            {high}
            {box.layout && box.spare && !open ? words.toSpare(kitchen.amount(box.spare)) : ''}
          </text>
        </g>
      </svg>
    </figure>
  )
}
