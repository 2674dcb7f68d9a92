import { Across, circle, Coated, type Drawn, insides, useLengths } from './parts'

export function Truffle({ f, card, main, lines }: Drawn) {
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
