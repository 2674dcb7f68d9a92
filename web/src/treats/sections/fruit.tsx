import { useId } from 'react'
import { words } from '../words'
import { Across, berry, circle, Coated, type Drawn, useLengths } from './parts'

/** The outline of a fruit of a form about a middle, r its half width. */
export function outline(form: string | undefined, x: number, y: number, r: number): string {
  switch (form) {
    case 'round':
      return circle(x, y, r)
    case 'slice': // a wheel cut in two, the rind below
      return `M${x - r} ${y - r * 0.4}A${r} ${r} 0 0 0 ${x + r} ${y - r * 0.4}z`
    case 'long': {
      const w = r * 0.42
      return `M${x - w} ${y - r * 0.7}a${w} ${w} 0 0 1 ${2 * w} 0V${y + r * 0.8}a${w} ${w} 0 0 1 ${-2 * w} 0z`
    }
    default:
      return berry(x, y, r)
  }
}

const leaves = 'M150 64c-14-22-38-28-58-22 14 6 20 14 26 24M150 64c14-22 38-28 58-22-14 6-20 14-26 24M150 66V30'
/** From where on it is coated, from above, and what is seen of it beside. */
const forms: Record<string, { from: number; stem?: string; within?: (y: number, r: number) => string }> = {
  berry: { from: 96, stem: leaves, within: (y, r) => berry(150, y + 6, r * 0.5) },
  round: { from: 70, stem: 'M150 58C152 36 164 24 182 20' },
  slice: {
    from: 170,
    within: (y, r) =>
      [-60, -30, 0, 30, 60]
        .map((turn) => {
          const a = (turn * Math.PI) / 180
          return `M150 ${y - r * 0.36}L${150 + Math.sin(a) * r * 0.86} ${y - r * 0.36 + Math.cos(a) * r * 0.86}`
        })
        .join(''),
  },
  long: { from: 120 },
}

/** A fruit cut open in its coat. */
export function Fruit({ f, card, main, lines, flesh }: Drawn & { flesh: string }) {
  const length = useLengths()
  const across = card?.sizes.across?.amount ?? 30
  const coat = card?.sizes.wall?.amount ?? 0.8
  const form = f.choices.form ?? 'berry'
  const is = forms[form] ?? forms.berry!
  const R = 100
  const inner = (R * across) / (across + 2 * coat)
  const clip = useId()
  return (
    <g>
      <path d={outline(form, 150, 150, inner)} fill={flesh} />
      {is.within &&
        (form === 'slice' ? (
          <path d={is.within(150, inner)} stroke="#FBF6EC" strokeWidth="3" opacity=".7" />
        ) : (
          <path d={is.within(150, inner)} fill="#FBF6EC" opacity=".45" />
        ))}
      <clipPath id={clip}>
        <rect x="0" y={is.from} width="300" height={300 - is.from} />
      </clipPath>
      <g clipPath={`url(#${clip})`}>
        <Coated d={outline(form, 150, 150, R) + outline(form, 150, 150, inner)} look={main} />
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
      {is.stem && <path d={is.stem} fill="none" stroke="#2F6B4F" strokeWidth="8" strokeLinecap="round" />}
      {f.choices.stick === 'stays' && (
        <path d="M150 6v62" stroke="#D9B98A" strokeWidth="6" strokeLinecap="round" aria-hidden="true" />
      )}
      <Across from={50} to={250} y={284} text="" />
      <text x="150" y="298" textAnchor="middle" className="measure">
        {card?.sizes.drawn.coated ? words.aboutAcross(length(card.sizes.drawn.coated)) : ''}
      </text>
    </g>
  )
}
