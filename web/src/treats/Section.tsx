import { useMemo } from 'react'
import type { Schemas } from '../api/client'
import { type Chocolate, lookOf } from '../kit/chocolate'
import { minutes } from '../shell/kitchen'

type Formula = Schemas['TreatFormula']

const inMm: Record<string, number> = { mm: 1, cm: 10, m: 1000, in: 25.4, ft: 304.8 }
const mm = (q: Schemas['MeasureQuantity']) => q.amount * (inMm[q.unit] ?? 0)
const lengthText = (v: number) => `${Number((v / 25.4).toFixed(2))} in · ${Number(v.toFixed(1))} mm`

/** The treat cut open. The bomb is drawn to scale: its wall is as thick as the numbers say. */
export function Section({ f, chocolate, drizzle }: { f: Formula; chocolate?: Chocolate; drizzle?: Chocolate }) {
  const look = lookOf(chocolate ?? { kind: 'real', colour: 'dark' })
  const lines = drizzle ? lookOf(drizzle) : undefined
  return (
    <figure className="section-drawing">
      <svg viewBox="0 0 300 300" role="img" aria-label={`Cut through the treat`}>
        {f.shell && <Bomb across={mm(f.shell.across)} wall={mm(f.shell.wall)} look={look} lines={lines} />}
        {f.fruit && <Fruit look={look} lines={lines} />}
        {f.sheet && <Bark look={look} depth={mm(f.sheet.depth)} />}
      </svg>
      <figcaption>
        {f.shell && `${lengthText(mm(f.shell.across))} across, wall ${Number(mm(f.shell.wall).toFixed(1))} mm`}
        {f.fruit && 'dipped to the shoulder, foot wiped'}
        {f.sheet && `chocolate ${lengthText(mm(f.sheet.depth))} deep`}
      </figcaption>
    </figure>
  )
}

type Look = ReturnType<typeof lookOf>

function Bomb({ across, wall, look, lines }: { across: number; wall: number; look: Look; lines?: Look }) {
  const R = 115
  const thick = Math.min(across > 0 ? (wall / (across / 2)) * R : 0, R)
  const inner = R - thick
  // A heap of marshmallows on the mix: rows of them, each row as wide as the hollow is there.
  const heap = useMemo(() => {
    const list: { x: number; y: number; turn: number }[] = []
    for (let row = 0; row < 6; row++) {
      const y = 150 + inner * (0.12 - row * 0.19)
      const half = Math.sqrt(Math.max(inner * inner - (y - 150) * (y - 150), 0)) - 11
      const n = Math.max(Math.floor((half * 2) / 21), 0)
      for (let i = 0; i < n; i++) list.push({ x: 150 - half + ((i + 0.5) * half * 2) / n, y: y + ((i * 7 + row * 3) % 5) - 2, turn: ((i * 53 + row * 31) % 70) - 35 })
    }
    return list
  }, [inner])
  return (
    <g>
      <circle cx="150" cy="150" r={R} fill={look.fill} stroke={look.edge} strokeWidth="1.5" />
      {look.pattern && <circle cx="150" cy="150" r={R} fill={look.pattern} />}
      <circle cx="150" cy="150" r={inner} fill="#FFFDF8" />
      {inner > 20 && (
        <>
          <path d={`M${150 - inner * 0.97} ${150 + inner * 0.24} A${inner} ${inner} 0 0 0 ${150 + inner * 0.97} ${150 + inner * 0.24} Z`} fill="#C39A63" />
          {heap.map(({ x, y, turn }) => (
            <rect key={`${x} ${y}`} x={x - 8} y={y - 7} width="16" height="14" rx="5" fill="#FFFFFF" stroke="#DCCFBB" transform={`rotate(${turn} ${x} ${y})`} />
          ))}
        </>
      )}
      <path d={`M${150 - R} 150h${thick}M${150 + R - thick} 150h${thick}`} stroke="#FBF6EC" strokeWidth="1.5" />
      {lines && <path d="M82 52c12-22 24 14 38-8s24 16 38-6 24 14 38-6" fill="none" stroke={lines.fill} strokeWidth="7" strokeLinecap="round" paintOrder="stroke" className="drizzle" />}
    </g>
  )
}

const Fruit = ({ look, lines }: { look: Look; lines?: Look }) => (
  <g>
    <path d="M150 266c-58-34-86-84-86-122 0-34 26-54 54-54 14 0 24 4 32 12 8-8 18-12 32-12 28 0 54 20 54 54 0 38-28 88-86 122z" fill="#C9404B" />
    <path d="M66 128c8 10 24 2 40 8s30-8 46-2 30-6 46 0 24-2 36-6c2 6 2 10 2 16 0 38-28 88-86 122-58-34-86-84-86-122 0-6 0-10 2-16z" fill={look.fill} stroke={look.edge} />
    {look.pattern && <path d="M66 128c8 10 24 2 40 8s30-8 46-2 30-6 46 0 24-2 36-6c2 6 2 10 2 16 0 38-28 88-86 122-58-34-86-84-86-122 0-6 0-10 2-16z" fill={look.pattern} />}
    {lines && <path d="M80 160l140-16M86 186l130-18M104 212l100-18M126 236l58-12" stroke={lines.fill} strokeWidth="6" strokeLinecap="round" />}
    <path d="M150 96c-12-22-34-30-52-26 12 6 18 14 22 24M150 96c12-22 34-30 52-26-12 6-18 14-22 24M150 96V50" fill="none" stroke="#2F6B4F" strokeWidth="8" strokeLinecap="round" />
  </g>
)

const Bark = ({ look, depth }: { look: Look; depth: number }) => {
  const thick = Math.min(Math.max(depth * 8, 6), 90)
  return (
    <g>
      <path d="M30 130 90 96l96 10 84 30-18 26-92 12-96-8z" fill={look.fill} stroke={look.edge} />
      <path d={`M30 130l34 36 96 8 92-12 18-26v${thick}l-18 26-92 12-96-8-34-36z`} fill={look.fill} stroke={look.edge} />
      {look.pattern && <path d={`M30 130 90 96l96 10 84 30v${thick}l-18 26-92 12-96-8-34-36z`} fill={look.pattern} />}
      <path d={`M30 130l34 36 96 8 92-12 18-26`} fill="none" stroke="#FBF6EC" strokeOpacity=".55" strokeWidth="1.5" />
      {[[92, 118], [128, 142], [168, 122], [206, 142], [150, 158], [226, 130], [106, 148]].map(([x, y], i) => (
        <ellipse key={i} cx={x} cy={y} rx={i % 2 ? 9 : 12} ry={i % 2 ? 6 : 7} fill={i % 2 ? '#8E2A38' : '#D9B98A'} stroke="#FBF6EC" strokeOpacity=".4" />
      ))}
    </g>
  )
}

/** The steps in a row: hands-on as boxes, waiting as a thin line. */
export function Ribbon({ card }: { card: Schemas['TreatCard'] }) {
  const steps = useMemo(() => {
    // The rounds of one step are one box.
    const list: { id: string; name: string; hands: number; wait: number; pot?: Chocolate; rounds: number }[] = []
    for (const s of card.steps) {
      const id = s.id.replace(/-\d+$/, '')
      const last = list[list.length - 1]
      const pot = card.pots.find((p) => p.ingredient === s.pot)?.chocolate
      if (last && last.id === id) {
        last.hands += s.hands
        last.rounds += 1
        last.wait = s.wait
      } else list.push({ id, name: s.name.split(',')[0]!, hands: s.hands, wait: s.wait, pot, rounds: 1 })
    }
    return list
  }, [card])
  return (
    <ol className="ribbon">
      {steps.map((s) => {
        const look = s.pot ? lookOf(s.pot) : undefined
        return (
          <li key={s.id} style={{ flexGrow: s.hands + 12, flexBasis: 64 }}>
            <span className="ribbon-hands" style={look && { background: look.fill, color: look.ink, borderColor: look.edge }}>
              {s.name}
              {s.rounds > 1 && `, ${s.rounds} rounds`}
            </span>
            <small>
              {minutes(s.hands)}
              {s.wait > 0 && <span className="wait"> then {minutes(s.wait)}</span>}
            </small>
          </li>
        )
      })}
    </ol>
  )
}
