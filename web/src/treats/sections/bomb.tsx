import { useId } from 'react'
import type { Schemas } from '../../api/client'
import { words } from '../words'
import { Across, circle, Coated, type Drawn, insides, type Look, mm, useLengths } from './parts'

type Card = Schemas['BatchCard']

/** A share of the wall in another chocolate, in streaks around it. */
function Streaks({
  x,
  y,
  r,
  thick,
  of,
}: {
  x: number
  y: number
  r: number
  thick: number
  of: Look & { share: number }
}) {
  const turn = 2 * Math.PI * r
  const streaks = 9
  const on = (turn / streaks) * of.share
  return (
    <circle
      cx={x}
      cy={y}
      r={r}
      fill="none"
      stroke={of.fill}
      strokeWidth={thick}
      strokeDasharray={`${on} ${turn / streaks - on}`}
    />
  )
}

/** Marshmallows lie in the hollow as high as what goes in fills it. */
function Heap({
  x,
  y,
  inner,
  share,
  wide,
}: {
  x: number
  y: number
  inner: number
  share: number
  wide?: (height: number) => number
}) {
  const clip = useId()
  const half = wide ?? ((h: number) => Math.sqrt(Math.max(inner * inner - (inner - h) * (inner - h), 0)))
  const level = Math.min(Math.max(share, 0), 1) * inner * 2
  const heap: { x: number; y: number; turn: number }[] = []
  for (let h = level * 0.3 + 8, row = 0; h < level; h += 15, row++) {
    const reach = half(h) - 10
    const n = Math.max(Math.floor((reach * 2) / 20), 0)
    for (let i = 0; i < n; i++)
      heap.push({
        x: x - reach + ((i + 0.5) * reach * 2) / n,
        y: y + inner - h + ((i * 7 + row * 3) % 5) - 2,
        turn: ((i * 53 + row * 31) % 70) - 35,
      })
  }
  if (inner < 16) return null
  return (
    <g>
      <clipPath id={clip}>
        <rect x="0" y={y + inner - level * 0.3} width="300" height={level * 0.3 + 2} />
      </clipPath>
      {wide ? (
        <path
          d={`M${x - half(level * 0.3)} ${y + inner - level * 0.3}H${x + half(level * 0.3)}L${x + half(0)} ${y + inner}H${x - half(0)}z`}
          fill={insides.mix}
        />
      ) : (
        <circle cx={x} cy={y} r={inner} fill={insides.mix} clipPath={`url(#${clip})`} />
      )}
      {heap.map((m) => (
        <rect
          key={`${m.x} ${m.y}`}
          x={m.x - 8}
          y={m.y - 7}
          width="16"
          height="14"
          rx="5"
          fill="#FFFFFF"
          stroke="#DCCFBB"
          transform={`rotate(${m.turn} ${m.x} ${m.y})`}
        />
      ))}
    </g>
  )
}

const filled = (card?: Card) =>
  card?.sizes.fills && card.sizes.holds && card.sizes.holds.amount > 0
    ? card.sizes.fills.amount / card.sizes.holds.amount
    : 0

export function Ball({ card, main, marble, lines }: Drawn) {
  const length = useLengths()
  const R = 108
  const across = mm(card?.sizes.drawn.mould)
  const wall = card?.sizes.wall?.amount ?? 0
  const inner = R - Math.min(across > 0 ? (wall / (across / 2)) * R : 0, R)
  return (
    <g>
      <circle cx="150" cy="140" r={inner} fill={insides.cream} />
      <Heap x={150} y={140} inner={inner} share={filled(card)} />
      <Coated d={circle(150, 140, R) + circle(150, 140, inner)} look={main} />
      {marble && <Streaks x={150} y={140} r={(R + inner) / 2} thick={R - inner} of={marble} />}
      <path d={`M${150 - R} 140h${R - inner}M${150 + inner} 140h${R - inner}`} stroke="#FBF6EC" strokeWidth="1.5" />
      {lines && (
        <path
          d="M86 48c12-22 24 14 38-8s24 16 38-6 24 14 38-6"
          fill="none"
          stroke={lines.fill}
          strokeWidth="7"
          strokeLinecap="round"
          className="drizzle"
        />
      )}
      <Across from={150 - R} to={150 + R} y={266} text={length(card?.sizes.drawn.mould)} />
    </g>
  )
}

export function Cup({ card, main, second, lines }: Drawn) {
  const length = useLengths()
  const drawn = card?.sizes.drawn
  const top = mm(drawn?.mould),
    base = mm(drawn?.foot),
    height = mm(drawn?.height)
  const wall = card?.sizes.wall?.amount ?? 0
  const k = 210 / Math.max(top, height, 1)
  const x = (side: number, d: number) => 150 + (side * d * k) / 2
  const y0 = 36,
    y1 = y0 + height * k
  const slope = height > 0 ? (top - base) / height : 0
  const t = Math.max(top - slope * wall - 2 * wall, 0),
    b = Math.max(base + slope * wall - 2 * wall, 0)
  const outside = `M${x(-1, top)} ${y0}H${x(1, top)}L${x(1, base)} ${y1}H${x(-1, base)}z`
  const inside = `M${x(-1, t)} ${y0 + wall * k}L${x(-1, b)} ${y1 - wall * k}H${x(1, b)}L${x(1, t)} ${y0 + wall * k}z`
  const half = (y1 - wall * k - (y0 + wall * k)) / 2
  return (
    <g>
      <path d={inside} fill={insides.cream} />
      <Heap
        x={150}
        y={(y0 + y1) / 2}
        inner={half}
        share={filled(card)}
        wide={(h) => ((b + ((t - b) * h) / (2 * half)) * k) / 2}
      />
      <Coated d={outside + inside} look={main} />
      {second && <Coated d={`M${x(-1, t)} ${y0}H${x(1, t)}L${x(1, t)} ${y0 + wall * k}H${x(-1, t)}z`} look={second} />}
      <path d="M150 4V60" stroke="#D9B98A" strokeWidth="7" strokeLinecap="round" />
      {lines && (
        <path
          d={`M${x(-0.8, top)} ${y0 - 4}c12-12 24 12 38 0s24 12 38 0 24 12 38 0`}
          fill="none"
          stroke={lines.fill}
          strokeWidth="6"
          strokeLinecap="round"
          className="drizzle"
        />
      )}
      <Across
        from={x(-1, top)}
        to={x(1, top)}
        y={y1 + 14}
        text={words.high(length(drawn?.mould), length(drawn?.height))}
      />
    </g>
  )
}
