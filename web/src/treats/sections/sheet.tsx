import { type Chocolate, lookOf } from '../../kit/chocolate'
import { Coated, type Drawn, insides, mm, useLengths } from './parts'

/** A strip of bark from the side, its depth drawn ten times. */
export function Bark({ f, card, main, second, lines }: Drawn) {
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
export function Pan({ f, card, lines }: Drawn) {
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
