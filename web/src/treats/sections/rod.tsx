import { useKitchen } from '../../shell/kitchen'
import { words } from '../words'
import { Across, circle, Coated, type Drawn, insides, mm, useLengths } from './parts'

export function Rod({ card, main, lines }: Drawn) {
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

export function Twist({ main, lines, card }: Drawn) {
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
