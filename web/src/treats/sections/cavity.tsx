import { useId } from 'react'
import { words } from '../words'
import { Across, Coated, type Drawn, insides, mm, useLengths } from './parts'

/** A heart of a square on its corner and two half circles, w wide, its foot at y. */
export function heart(x: number, y: number, w: number): string {
  const a = w / (1 + Math.SQRT1_2)
  const s = a * Math.SQRT1_2
  return `M${x} ${y}L${x + s} ${y - s}A${a / 2} ${a / 2} 0 0 0 ${x} ${y - 2 * s}A${a / 2} ${a / 2} 0 0 0 ${x - s} ${y - s}z`
}

/** Lines on top, so long: four waves. */
const wave = (long: number) => {
  const q = long / 4
  return `c${q / 3} 10 ${(2 * q) / 3}-8 ${q} 2${`s${(2 * q) / 3}-8 ${q} 2`.repeat(3)}`
}

/** The outline of a cut through the middle, the mouth above: from a depth on, inside walls so thick; all in mm. */
type Profile = (from: number, wall: number) => string

/** A moulded piece cut through in its mould: shell around, fill, cap on top; a heart from above. All to one scale. */
export function Cavity({ f, card, main, second, lines }: Drawn) {
  const length = useLengths()
  const clip = useId()
  const drawn = card?.sizes.drawn
  const shape = f.mould?.cavity?.shape ?? 'cube'
  const long = mm(drawn?.mould) || 22
  const across = shape === 'bar' || shape === 'loaf' ? mm(drawn?.width) || long : long
  const foot = shape === 'loaf' || shape === 'cup' ? mm(drawn?.foot) || across : across
  const depth = mm(drawn?.height) || across
  const wall = card?.sizes.wall?.amount ?? 0
  const cap = mm(drawn?.cap)
  const solid = (f.mould?.shell ?? 1) >= 1
  const k = Math.min(200 / across, 190 / depth)
  const x = 150,
    y = 26
  const halved: Profile = (from, t) => {
    const r = Math.max(across / 2 - t, 0)
    const c = Math.sqrt(Math.max(r * r - from * from, 0))
    return `M${x - c * k} ${y + from * k}A${r * k} ${r * k} 0 0 0 ${x + c * k} ${y + from * k}z`
  }
  const sided: Profile = (from, t) => {
    const at = (z: number) => Math.max((across - ((across - foot) * z) / depth) / 2 - t, 0) * k
    const end = Math.max(depth - t, from)
    return `M${x - at(from)} ${y + from * k}H${x + at(from)}L${x + at(end)} ${y + end * k}H${x - at(end)}z`
  }
  const above: Profile = (_, t) =>
    heart(x, y + (across * 0.915 - t * Math.SQRT2) * k, Math.max(across - 2.458 * t, 0) * k)
  const profile = shape === 'heart' ? above : shape === 'dome' ? halved : sided
  const inside = solid ? '' : profile(cap, wall)
  const bottom = y + (shape === 'heart' ? across * 0.93 : shape === 'dome' ? across / 2 : depth) * k
  // A heart is as deep all over: its depth stands below it, to the same scale.
  const strip = shape === 'heart' ? Math.min(depth * k, 40) : 0
  const sizes = [drawn?.mould, shape === 'bar' || shape === 'loaf' ? drawn?.width : undefined]
  if (shape !== 'cube' && shape !== 'dome') sizes.push(drawn?.height)
  return (
    <g>
      {inside && <path d={inside} fill={insides.ganache} />}
      {inside && <path d={inside} fill="#D9B98A" opacity=".55" />}
      <Coated d={profile(0, 0) + inside} look={main} />
      {cap > 0 && shape !== 'heart' && (
        <>
          <clipPath id={clip}>
            <rect x="0" y={y} width="300" height={cap * k} />
          </clipPath>
          <g clipPath={`url(#${clip})`}>
            <Coated d={profile(0, 0)} look={second ?? main} />
          </g>
          <path d={`M${x - (across / 2) * k} ${y + cap * k}h${across * k}`} stroke="#FBF6EC" strokeWidth="1.4" />
        </>
      )}
      {lines && (
        <path
          d={`M${x - 0.42 * foot * k} ${bottom + 4}${wave(0.84 * foot * k)}`}
          fill="none"
          stroke={lines.fill}
          strokeWidth="5"
          strokeLinecap="round"
          className="drizzle"
        />
      )}
      {strip > 0 && (
        <rect
          x={x - (across * k) / 2}
          y={bottom + 8}
          width={across * k}
          height={strip}
          rx="4"
          fill={main.fill}
          stroke={main.edge}
        />
      )}
      <Across
        from={x - (across * k) / 2}
        to={x + (across * k) / 2}
        y={Math.min(bottom + strip + 22, 262)}
        text={[
          ...sizes.filter(Boolean).map((s) => length(s)),
          f.mould?.volume ? `${f.mould.volume.amount} ${f.mould.volume.unit}` : '',
        ]
          .filter(Boolean)
          .join(' · ')}
      />
    </g>
  )
}

/** What stands under it: of a cavity of which only the volume is known it is said that it is taken for a cube. */
export const cavityCaption = (wall: string, shaped: boolean, solid: boolean) =>
  solid ? words.solidThrough : shaped ? words.wallsOf(wall) : words.aCavityAsACube(wall)
