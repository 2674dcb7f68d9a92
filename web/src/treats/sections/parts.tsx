import type { Schemas } from '../../api/client'
import type { lookOf } from '../../kit/chocolate'
import { useKitchen } from '../../shell/kitchen'
import type { Body } from '../fields'

type Card = Schemas['BatchCard']
export type Look = ReturnType<typeof lookOf>

/** Of a length that the card gives, for the drawing: mm; 0 where it gives none. */
export const mm = (shown?: Schemas['MeasureShown']) => shown?.amount ?? 0
export function useLengths() {
  const { amount } = useKitchen()
  return (shown?: Schemas['MeasureShown']) => (shown ? amount(shown) : '')
}

/** Colours of what is not chocolate. */
export const insides = {
  flesh: '#D9566A',
  segment: '#E8953A',
  dried: '#D98A35',
  baked: '#C08A4E',
  ganache: '#6B4630',
  fudge: '#B98453',
  mix: '#C39A63',
  cream: '#FFFDF8',
}

export interface Drawn {
  f: Body
  card?: Card
  main: Look
  /** The other chocolate of a marbled shell, and its share of it. */
  marble?: Look & { share: number }
  second?: Look
  lines?: Look
}

/** A measure under the drawing. */
export const Across = ({ from, to, y, text }: { from: number; to: number; y: number; text: string }) => (
  <g className="measure">
    <path d={`M${from} ${y}H${to}M${from} ${y - 5}v10M${to} ${y - 5}v10`} />
    <text x={(from + to) / 2} y={y + 16} textAnchor="middle">
      {text}
    </text>
  </g>
)

export const Coated = ({ d, look }: { d: string; look: Look }) => (
  <>
    <path d={d} fill={look.fill} stroke={look.edge} strokeWidth="1.2" fillRule="evenodd" />
    {look.pattern && <path d={d} fill={look.pattern} fillRule="evenodd" />}
  </>
)

export const circle = (x: number, y: number, r: number) =>
  `M${x - r} ${y}a${r} ${r} 0 1 0 ${2 * r} 0a${r} ${r} 0 1 0 ${-2 * r} 0z`

/** A berry's outline about a middle, r its half width. */
export function berry(x: number, y: number, r: number): string {
  const p = (a: number, b: number) => `${(x + a * r).toFixed(1)} ${(y + b * r).toFixed(1)}`
  return `M${p(0, 1.25)}C${p(-0.6, 0.9)} ${p(-1, 0.3)} ${p(-1, -0.25)}C${p(-1, -0.8)} ${p(-0.6, -0.95)} ${p(0, -0.85)}C${p(0.6, -0.95)} ${p(1, -0.8)} ${p(1, -0.25)}C${p(1, 0.3)} ${p(0.6, 0.9)} ${p(0, 1.25)}z`
}
