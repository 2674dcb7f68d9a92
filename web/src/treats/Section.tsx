import { memo, useId, useMemo } from 'react'
import type { Schemas } from '../api/client'
import { traitsOf } from '../api/families'
import { Glyph } from '../kit/glyphs'
import { type Chocolate, lookOf } from '../kit/chocolate'
import { useSpotName } from '../plan/Space'
import { minutes, useKitchen } from '../shell/kitchen'
import type { Body, Pantry } from './fields'
import type { Formula } from './TreatPage'
import { words } from './words'
import './treats.css'

type Card = Schemas['BatchCard']
type Look = ReturnType<typeof lookOf>

/** Of a length that the card gives, for the drawing: mm; 0 where it gives none. */
const mm = (shown?: Schemas['MeasureShown']) => shown?.amount ?? 0
function useLengths() {
  const { amount } = useKitchen()
  return (shown?: Schemas['MeasureShown']) => (shown ? amount(shown) : '')
}

/** Colours of what is not chocolate. */
const insides = {
  flesh: '#D9566A',
  dried: '#D98A35',
  baked: '#C08A4E',
  ganache: '#6B4630',
  fudge: '#B98453',
  mix: '#C39A63',
  cream: '#FFFDF8',
}

interface Drawn {
  f: Body
  card?: Card
  main: Look
  /** The other chocolate of a marbled shell, and its share of it. */
  marble?: Look & { share: number }
  second?: Look
  lines?: Look
}

/** How a chocolate of a treat is drawn: in the colour of its tint, where that is said. */
function lookOfCoating(c: Formula['coatings'][number] | undefined, pantry: Pantry): Look | undefined {
  const of = c && pantry.ingredients.get(c.ingredient)?.chocolate
  return of ? lookOf({ ...of, tint: c.tint?.colour ?? of.tint }) : undefined
}

/** The treat cut open, to scale: walls, fill, coat and layers are as thick as the numbers say. */
export const Section = memo(function Section({
  f,
  finishes,
  card,
  pantry,
}: {
  f: Body
  finishes?: Formula['finishes']
  card?: Card
  pantry: Pantry
}) {
  const length = useLengths()
  const look = (role: string) =>
    lookOfCoating(
      f.coatings.find((c) => c.role === role),
      pantry,
    )
  const other = f.coatings.filter((c) => c.role === 'shell')[1]
  const marble = lookOfCoating(other, pantry)
  const drawn: Drawn = {
    f,
    card,
    main: look('shell') ?? look('coat') ?? look('base') ?? lookOf(card?.look ?? { kind: 'real', colour: 'milk' }),
    marble: marble && { ...marble, share: other!.share ?? 0.5 },
    second: look('layer') ?? look('cap'),
    lines: look('drizzle'),
  }
  const cup = f.choices.shape === 'cup'
  const draws = traitsOf(f.family).drawn
  const centre = f.centre ? pantry.ingredients.get(f.centre.of) : undefined
  return (
    <figure className="section-drawing">
      <svg viewBox="0 0 300 300" role="img" aria-label={words.cutThroughTheTreatTo}>
        {draws === 'ball' && (cup ? <Cup {...drawn} /> : <Ball {...drawn} />)}
        {draws === 'fruit' && (
          <Fruit
            {...drawn}
            flesh={
              centre && (centre.density ?? 1) < 0.8 && !centre.measures?.some((m) => m.name === 'punnet')
                ? insides.dried
                : insides.flesh
            }
          />
        )}
        {draws === 'rod' && (f.choices.shape === 'twist' ? <Twist {...drawn} /> : <Rod {...drawn} />)}
        {draws === 'sphere' && <Truffle {...drawn} />}
        {draws === 'sheet' && <Bark {...drawn} />}
        {draws === 'pan' && <Pan {...drawn} />}
        {draws === 'cavity' && <Cavity {...drawn} />}
        {draws === '' && (
          <g style={{ color: drawn.main.fill }}>
            <Glyph family={f.family} size={220} x={40} y={30} />
          </g>
        )}
      </svg>
      <figcaption>{caption(length, f, card)}</figcaption>
      {(card?.designs ?? []).length > 0 && (
        <ul className="designs" aria-label={words.designs}>
          {card!.designs.map((d) => {
            const own = (finishes ?? []).find((x) => x.name === d.name)
            const of = (role: string) => own?.coatings?.find((c) => c.role === role)
            return (
              <li key={d.name}>
                <Thumb
                  shape={f.choices.shape === 'cup' ? 'cup' : draws}
                  look={lookOf(d.look)}
                  lines={lookOfCoating(of('drizzle'), pantry) ?? drawn.lines}
                  topped={(own?.portions ?? []).some((p) => p.where === 'on')}
                  filled={(own?.portions ?? []).some((p) => p.where === 'in') || Boolean(own?.centre)}
                />
                <small>
                  {d.good} {d.name}
                </small>
              </li>
            )
          })}
        </ul>
      )}
    </figure>
  )
})

/** A design of a set, small: in the shape of its family. */
function Thumb({
  shape,
  look,
  lines,
  topped,
  filled,
}: {
  shape: string
  look: Look
  lines?: Look
  topped: boolean
  filled: boolean
}) {
  const d =
    {
      ball: circle(20, 20, 15),
      sphere: circle(20, 20, 15),
      rod: 'M8 14a4 4 0 0 1 8 0V34H8zM18 8a4 4 0 0 1 8 0V34H18zM28 12a4 4 0 0 1 8 0V34H28z',
      cavity: 'M6 8h28v22q0 4-4 4H10q-4 0-4-4z',
      cup: 'M6 8h28L29 34H11z',
    }[shape] ?? berry(20, 20, 15)
  return (
    <svg viewBox="0 0 40 40" width="40" height="40" aria-hidden="true">
      <path d={d} fill={look.fill} stroke={look.edge} />
      {look.pattern && <path d={d} fill={look.pattern} />}
      {filled && <circle cx="20" cy="21" r="6.5" fill={insides.mix} stroke={look.edge} strokeWidth="0.8" />}
      {lines && (
        <path d="M9 16l20-3M10 22l20-3M14 28l13-2" stroke={lines.fill} strokeWidth="2.4" strokeLinecap="round" />
      )}
      {topped && (
        <path
          d="M12 18h.01M18 14h.01M24 17h.01M28 22h.01M15 24h.01M21 21h.01M20 29h.01M25 27h.01"
          stroke={insides.baked}
          strokeWidth="3.4"
          strokeLinecap="round"
        />
      )}
    </svg>
  )
}

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

function caption(length: (shown?: Schemas['MeasureShown']) => string, f: Body, card?: Card): string {
  if (!card) return '' // it is still asked for
  const s = card.sizes
  switch (traitsOf(f.family).drawn) {
    case 'ball':
      return words.acrossWall(length(s.drawn.mould), length(s.wall))
    case 'fruit':
      return s.centre ? words.ofFruitInACoat(length(s.centre), length(s.wall) || words.inChocolate) : ''
    case 'rod':
      return words.aCoatOf(length(s.wall))
    case 'sphere':
      return words.centreAcrossCoat(length(s.across), length(s.wall))
    case 'sheet':
      return words.chocolateDeepDrawnTenTimes(length(s.drawn.depth))
    case 'pan':
      return words.panDeep(f.sheet?.rows ?? 1, f.sheet?.columns ?? 1, length(s.drawn.depth))
    case '':
      return words.aboutAPiece(length(card.piece), traitsOf(f.family).one)
    default:
      return words.aCavityAsACube(length(s.wall))
  }
}

/** A measure under the drawing. */
const Across = ({ from, to, y, text }: { from: number; to: number; y: number; text: string }) => (
  <g className="measure">
    <path d={`M${from} ${y}H${to}M${from} ${y - 5}v10M${to} ${y - 5}v10`} />
    <text x={(from + to) / 2} y={y + 16} textAnchor="middle">
      {text}
    </text>
  </g>
)

const Coated = ({ d, look }: { d: string; look: Look }) => (
  <>
    <path d={d} fill={look.fill} stroke={look.edge} strokeWidth="1.2" fillRule="evenodd" />
    {look.pattern && <path d={d} fill={look.pattern} fillRule="evenodd" />}
  </>
)

const circle = (x: number, y: number, r: number) =>
  `M${x - r} ${y}a${r} ${r} 0 1 0 ${2 * r} 0a${r} ${r} 0 1 0 ${-2 * r} 0z`

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

function Ball({ card, main, marble, lines }: Drawn) {
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

function Cup({ card, main, second, lines }: Drawn) {
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

/** A berry's outline about a middle, r its half width. */
function berry(x: number, y: number, r: number): string {
  const p = (a: number, b: number) => `${(x + a * r).toFixed(1)} ${(y + b * r).toFixed(1)}`
  return `M${p(0, 1.25)}C${p(-0.6, 0.9)} ${p(-1, 0.3)} ${p(-1, -0.25)}C${p(-1, -0.8)} ${p(-0.6, -0.95)} ${p(0, -0.85)}C${p(0.6, -0.95)} ${p(1, -0.8)} ${p(1, -0.25)}C${p(1, 0.3)} ${p(0.6, 0.9)} ${p(0, 1.25)}z`
}

function Fruit({ card, main, lines, flesh }: Drawn & { flesh: string }) {
  const length = useLengths()
  const across = card?.sizes.across?.amount ?? 30
  const coat = card?.sizes.wall?.amount ?? 0.8
  const R = 100
  const inner = (R * across) / (across + 2 * coat)
  const clip = useId()
  return (
    <g>
      <path d={berry(150, 150, inner)} fill={flesh} />
      <path d={berry(150, 156, inner * 0.5)} fill="#FBF6EC" opacity=".45" />
      <clipPath id={clip}>
        <rect x="0" y="96" width="300" height="204" />
      </clipPath>
      <g clipPath={`url(#${clip})`}>
        <Coated d={berry(150, 150, R) + berry(150, 150, inner)} look={main} />
        {lines && (
          <path
            d="M60 150l180-22M66 190l168-22M92 226l116-18"
            stroke={lines.fill}
            strokeWidth="4"
            strokeLinecap="round"
            opacity=".95"
          />
        )}
      </g>
      <path
        d="M150 64c-14-22-38-28-58-22 14 6 20 14 26 24M150 64c14-22 38-28 58-22-14 6-20 14-26 24M150 66V30"
        fill="none"
        stroke="#2F6B4F"
        strokeWidth="8"
        strokeLinecap="round"
      />
      <Across from={50} to={250} y={284} text="" />
      <text x="150" y="298" textAnchor="middle" className="measure">
        {card?.sizes.drawn.coated ? words.aboutAcross(length(card.sizes.drawn.coated)) : ''}
      </text>
    </g>
  )
}

function Rod({ card, main, lines }: Drawn) {
  const length = useLengths()
  const across = mm(card?.sizes.across) || 9
  const dipped = mm(card?.sizes.drawn.dipped) || 120
  const coat = card?.sizes.wall?.amount ?? 1
  // The cut across the rod large, and the rod along it small.
  const k = 78 / (across / 2 + coat)
  const along = Math.min(220 / dipped, 2.4)
  const rod = across * along,
    whole = dipped * along
  return (
    <g>
      <circle cx="150" cy="104" r={(across / 2) * k} fill={insides.baked} />
      <path
        d="M128 90h.01M160 84h.01M172 112h.01M140 122h.01M154 104h.01"
        stroke="#8E5F2E"
        strokeWidth="5"
        strokeLinecap="round"
      />
      <Coated d={circle(150, 104, (across / 2 + coat) * k) + circle(150, 104, (across / 2) * k)} look={main} />
      <Across
        from={150 - (across / 2 + coat) * k}
        to={150 + (across / 2 + coat) * k}
        y={196}
        text={length(card?.sizes.drawn.coated)}
      />
      <rect x="28" y={246 - rod / 2} width={whole + 26} height={rod} rx={rod / 2} fill={insides.baked} />
      <rect
        x={28 - coat * along}
        y={246 - rod / 2 - coat * along}
        width={whole + coat * along}
        height={rod + 2 * coat * along}
        rx={rod / 2 + coat}
        fill={main.fill}
        stroke={main.edge}
      />
      {main.pattern && (
        <rect
          x={28 - coat * along}
          y={246 - rod / 2 - coat * along}
          width={whole + coat * along}
          height={rod + 2 * coat * along}
          rx={rod / 2 + coat}
          fill={main.pattern}
        />
      )}
      {lines && (
        <path
          d={Array.from({ length: Math.floor(whole / 22) }, (_, i) => `M${38 + i * 22} ${246 - rod / 2}l8 ${rod}`).join(
            '',
          )}
          stroke={lines.fill}
          strokeWidth="3"
          strokeLinecap="round"
        />
      )}
      <Across
        from={28}
        to={28 + whole}
        y={270}
        text={card?.sizes.drawn.dipped ? words.dipped(length(card.sizes.drawn.dipped)) : ''}
      />
    </g>
  )
}

function Twist({ main, lines, card }: Drawn) {
  const kitchen = useKitchen()
  const d = 'M150 232C60 180 52 92 108 78c48-12 68 60 84 104M150 232c90-52 98-140 42-154-48-12-68 60-84 104'
  return (
    <g fill="none" strokeLinecap="round">
      <path d={d} stroke={main.edge} strokeWidth="41" />
      <path d={d} stroke={main.fill} strokeWidth="39" />
      {main.pattern && <path d={d} stroke={main.pattern} strokeWidth="39" />}
      {lines && (
        <path
          d="M70 110l34-26M84 150l40-34M188 92l36 28M176 132l40 30M128 214l48-8"
          stroke={lines.fill}
          strokeWidth="6"
        />
      )}
      <text x="150" y="284" textAnchor="middle" className="measure">
        {card?.sizes.wall ? words.coatAbout(kitchen.amount(card.sizes.wall)) : ''}
      </text>
    </g>
  )
}

function Truffle({ f, card, main, lines }: Drawn) {
  const length = useLengths()
  const across = card?.sizes.across?.amount ?? 25
  const coat = card?.sizes.wall?.amount ?? 1.5
  const R = 104
  const inner = (R * across) / (across + 2 * coat)
  const rolled = f.choices.skin === 'rolled'
  return (
    <g>
      {rolled && (
        <circle cx="150" cy="140" r={R + 5} fill="#FFFFFF" stroke="#DCCFBB" strokeDasharray="3 5" strokeWidth="3" />
      )}
      <circle cx="150" cy="140" r={inner} fill={insides.ganache} />
      <Coated d={circle(150, 140, R) + circle(150, 140, inner)} look={main} />
      {lines && (
        <path
          d="M90 58c12-20 24 14 38-6s24 14 38-6 24 12 36-4"
          fill="none"
          stroke={lines.fill}
          strokeWidth="6"
          strokeLinecap="round"
          className="drizzle"
        />
      )}
      <Across from={150 - R} to={150 + R} y={266} text={length(card?.sizes.drawn.coated)} />
    </g>
  )
}

/** A strip of bark from the side, its depth drawn ten times. */
function Bark({ f, card, main, second, lines }: Drawn) {
  const length = useLengths()
  const depth = mm(card?.sizes.drawn.depth)
  const k = 10 // px for a mm of depth; 1 px for a mm of width
  const high = Math.min(depth * k, 170)
  const y1 = 210,
    y0 = y1 - high
  const share = f.coatings.find((c) => c.role === 'layer')?.share ?? 0.5
  const layers = second && f.choices.style === 'layers'
  const trail = second && f.choices.style === 'trail'
  const swirl = second && f.choices.style === 'swirl'
  const body = `M30 ${y0 + 8}l10-8h216l12 10-4 ${high - 14}-12 ${12}H44l-12-10z`
  return (
    <g>
      <Coated d={body} look={main} />
      {layers && (
        <Coated d={`M30 ${y0 + 8}l10-8h216l12 10-1 ${high * share - 8}c-50 6-90-6-130 0s-70 4-106 0z`} look={second} />
      )}
      {trail && (
        <path
          d={`M40 ${y0 - 2}c16-14 30 12 46-2s30 12 46-2 30 12 46-2 30 12 46-2 20 4 30 0`}
          fill="none"
          stroke={second.fill}
          strokeWidth={Math.max(high * share, 4)}
          strokeLinecap="round"
        />
      )}
      {swirl && (
        <Coated
          d={`M40 ${y0}h70c30 ${high * 0.5} 50 ${high * 0.2} 60 ${high}h-90c-20 ${-high * 0.5}-10 ${-high * 0.6}-40 ${-high}zM200 ${y0}h40c20 ${high * 0.4}-10 ${high * 0.6} 10 ${high}h-50c-16 ${-high * 0.5} 10 ${-high * 0.7} 0 ${-high}z`}
          look={second}
        />
      )}
      {(f.portions ?? []).map((p, n) =>
        Array.from({ length: 4 }, (_, i) => (
          <ellipse
            key={`${p.ingredient} ${i}`}
            cx={62 + ((i * 53 + n * 29) % 190)}
            cy={y0 + 1 - n}
            rx={9 - n * 2}
            ry={6 - n}
            fill={['#D9B98A', '#8E2A38', '#FFFFFF', '#7A9A4C'][n % 4]}
            stroke="#2B1A12"
            strokeOpacity=".25"
          />
        )),
      )}
      {lines && (
        <path
          d={`M44 ${y0 - 3}c14-12 28 10 42-2s28 10 42-2 28 10 42-2 28 10 42-2 18 4 24 0`}
          fill="none"
          stroke={lines.fill}
          strokeWidth="4"
          strokeLinecap="round"
          className="drizzle"
        />
      )}
      <g className="measure">
        <path d={`M284 ${y0}V${y1}M279 ${y0}h10M279 ${y1}h10`} />
        <text x="150" y="246" textAnchor="middle">
          {length(card?.sizes.drawn.depth)}
        </text>
      </g>
    </g>
  )
}

/** The pan from above, with its grid and what is trimmed, and its depth below; all to one scale. */
function Pan({ f, card, lines }: Drawn) {
  const length = useLengths()
  const sheet = f.sheet
  if (!sheet) return null
  const drawn = card?.sizes.drawn
  const [long, wide] =
    mm(drawn?.length) < mm(drawn?.width) ? [drawn?.width, drawn?.length] : [drawn?.length, drawn?.width]
  const trim = mm(drawn?.trim),
    depth = mm(drawn?.depth)
  const k = 230 / Math.max(mm(long), 1)
  const w = mm(long) * k,
    h = mm(wide) * k
  const x = 150 - w / 2,
    y = 12
  const rows = sheet.rows ?? 1,
    columns = sheet.columns ?? 1
  const inX = x + trim * k,
    inY = y + trim * k,
    inW = w - 2 * trim * k,
    inH = h - 2 * trim * k
  const look = card?.look ? lookOf(card.look as Chocolate) : undefined
  const fill = look?.word === 'dark' ? '#5A3722' : insides.fudge
  return (
    <g>
      <rect x={x} y={y} width={w} height={h} rx="6" fill={fill} stroke="#7A5B45" />
      {trim > 0 && <rect x={inX} y={inY} width={inW} height={inH} fill="none" stroke="#FBF6EC" strokeDasharray="4 3" />}
      <path
        d={[
          ...Array.from({ length: rows - 1 }, (_, i) => `M${inX} ${inY + (inH * (i + 1)) / rows}h${inW}`),
          ...Array.from({ length: columns - 1 }, (_, i) => `M${inX + (inW * (i + 1)) / columns} ${inY}v${inH}`),
        ].join('')}
        stroke="#FBF6EC"
        strokeWidth="1.4"
      />
      {lines && (
        <path
          d={`M${x + 10} ${y + 20}l${w - 20} 12M${x + 10} ${y + h / 2}l${w - 20} 12M${x + 10} ${y + h - 34}l${w - 20} 12`}
          stroke={lines.fill}
          strokeWidth="3"
        />
      )}
      <rect x={x} y={y + h + 8} width={w} height={Math.max(depth * k, 2)} fill={fill} stroke="#7A5B45" />
      <text x="150" y={Math.min(y + h + 24 + depth * k, 296)} textAnchor="middle" className="measure">
        {length(long)} · {length(wide)}
      </text>
    </g>
  )
}

/** A moulded piece as a cube, in the mould: shell around, fill, cap on top. */
function Cavity({ f, card, main, second, lines }: Drawn) {
  const length = useLengths()
  const a = 200
  const side = card?.sizes.across?.amount ?? 22
  const wall = ((card?.sizes.wall?.amount ?? 0) / side) * a
  const cap = (f.mould?.cap ?? 0) * a
  const x = 50,
    y = 26
  const solid = wall * 2 >= a - 1
  return (
    <g>
      <path
        d={`M${x + wall} ${y + cap}h${a - 2 * wall}v${Math.max(a - cap - wall, 0)}h${-(a - 2 * wall)}z`}
        fill={insides.ganache}
      />
      <path
        d={`M${x + wall} ${y + cap}h${a - 2 * wall}v${Math.max(a - cap - wall, 0)}h${-(a - 2 * wall)}z`}
        fill="#D9B98A"
        opacity=".55"
      />
      <Coated
        d={
          `M${x} ${y}h${a}v${a - 10}q0 10-10 10h-${a - 20}q-10 0-10-10z` +
          (solid ? '' : `M${x + wall} ${y}v${a - wall}h${a - 2 * wall}v${-(a - wall)}z`)
        }
        look={main}
      />
      {cap > 0 && <Coated d={`M${x} ${y}h${a}v${cap}h${-a}z`} look={second ?? main} />}
      {cap > 0 && <path d={`M${x} ${y + cap}h${a}`} stroke="#FBF6EC" strokeWidth="1.4" />}
      {lines && (
        <path
          d={`M${x + 6} ${y + a + 4}c14 10 28-8 42 2s28-8 42 2 28-8 42 2 28-8 42 2`}
          fill="none"
          stroke={lines.fill}
          strokeWidth="5"
          strokeLinecap="round"
          className="drizzle"
        />
      )}
      <Across
        from={x}
        to={x + a}
        y={256}
        text={`${length(card?.sizes.across)} · ${f.mould?.volume.amount} ${f.mould?.volume.unit}`}
      />
    </g>
  )
}

/** The steps in a row: hands-on as boxes, waiting as a thin line. */
export const Ribbon = memo(function Ribbon({ card }: { card: Card }) {
  const spot = useSpotName()
  const steps = useMemo(() => {
    // The rounds of one step are one box, and so are its chocolates.
    const list = new Map<
      string,
      { id: string; name: string; hands: number; wait: number; place?: string; pot?: Chocolate; rounds: number }
    >()
    for (const s of card.steps) {
      const id = s.id.replace(/-\d+(?=$|-[a-z]$)/, '').replace(/-[a-z]$/, '')
      const pot = card.pots.find((p) => s.pots?.some((u) => u.pot === p.key))?.chocolate
      const there = list.get(id)
      if (there) Object.assign(there, { hands: there.hands + s.hands, rounds: there.rounds + 1, wait: s.wait })
      else
        list.set(id, {
          id,
          name: s.name.split(/,|:/)[0]!,
          hands: s.hands,
          wait: s.wait,
          place: s.place,
          pot,
          rounds: 1,
        })
    }
    return [...list.values()]
  }, [card])
  return (
    <ol className="ribbon">
      {steps.map((s) => {
        const look = s.pot ? lookOf(s.pot) : undefined
        return (
          <li key={s.id} style={{ flexGrow: s.hands + 12, flexBasis: 64 }}>
            <span
              className="ribbon-hands"
              style={look && { background: look.fill, color: look.ink, borderColor: look.edge }}
            >
              {s.name}
              {s.rounds > 1 && words.times2(s.rounds)}
            </span>
            <small>
              {minutes(s.hands)}
              {s.wait > 0 && (
                <span className="wait">
                  {' '}
                  {words.then} {minutes(s.wait)}
                  {s.place && `, ${spot(s.place)}`}
                </span>
              )}
            </small>
          </li>
        )
      })}
    </ol>
  )
})
