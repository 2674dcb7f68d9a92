import { useId } from 'react'
import type { Motif } from '../api/families'
import { type Chocolate, lookOf } from './chocolate'
import { Car, Flag, Glyph } from './glyphs'
import './kit.css'

export interface Piece {
  key: string
  family: Motif
  chocolate: Chocolate
  minutes: number
  proposed?: boolean // not saved yet: dashed
  own?: boolean // of the order that is open
  done?: boolean
}

const W = 80
const H = 58
const RIM = 5

/**
 * A day as a tin seen from above. Its inside is the hands-on time; every compartment is as wide as its minutes, on the
 * scale of the longest day. What does not fit stands over the rim, hatched. A day without hands has its lid on.
 */
export function Tin({
  hands,
  longest,
  pieces,
  over,
  away = 0,
  today,
}: {
  hands: number
  longest: number
  pieces: Piece[]
  over: number
  away?: number // minutes on the road
  today?: boolean
}) {
  const clip = useId()
  const inner = W - 2 * RIM
  const px = inner / Math.max(longest, 1)
  if (hands === 0 && pieces.length === 0) {
    return (
      <svg className="tin" viewBox={`0 0 ${W} ${H + 12}`} aria-hidden="true">
        <rect x="1.5" y="13.5" width={W - 3} height={H - 5} rx="9" className="tin-lid" />
        <rect x="6" y="18" width={W - 12} height={H - 14} rx="6" className="tin-lid-groove" />
        <path d={`M${W / 2 - 8} ${12 + (H - 3) / 2}h16`} className="tin-knob" />
        {over > 0 && <Over over={over} px={px} />}
      </svg>
    )
  }
  const widths = pieces.map((p) => Math.max(p.minutes * px, 4))
  const lefts = widths.map((_, i) => RIM + widths.slice(0, i).reduce((sum, w) => sum + w, 0))
  return (
    <svg className={today ? 'tin tin-today' : 'tin'} viewBox={`0 0 ${W} ${H + 12}`} aria-hidden="true">
      <rect x="1.5" y="13.5" width={W - 3} height={H - 5} rx="9" className="tin-rim" />
      <clipPath id={clip}>
        <rect x={RIM} y="17" width={inner} height={H - 12} rx="5.5" />
      </clipPath>
      <g clipPath={`url(#${clip})`}>
        <rect x={RIM} y="17" width={inner} height={H - 12} className="tin-closed" />
        <rect x={RIM} y="17" width={hands * px} height={H - 12} className="tin-inside" />
        {away > 0 && (
          <g className="tin-away">
            <rect x={RIM + (hands - away) * px} y="17" width={away * px} height={H - 12} />
            {away * px >= 16 && <Car x={RIM + (hands - away / 2) * px - 7.5} y={11 + H / 2 - 6} />}
          </g>
        )}
        {pieces.map((p, i) => {
          const width = widths[i]!
          const left = lefts[i]!
          const look = lookOf(p.chocolate)
          return (
            <g key={p.key} className={p.proposed ? 'piece proposed' : p.done ? 'piece done' : 'piece'}>
              <rect
                x={left + 0.8}
                y="18.2"
                width={Math.max(width - 1.6, 2)}
                height={H - 14.4}
                rx="3.5"
                fill={look.fill}
                stroke={look.edge}
              />
              {look.pattern && (
                <rect
                  x={left + 0.8}
                  y="18.2"
                  width={Math.max(width - 1.6, 2)}
                  height={H - 14.4}
                  rx="3.5"
                  fill={look.pattern}
                />
              )}
              {(p.proposed || p.own) && (
                <rect
                  x={left + 0.8}
                  y="18.2"
                  width={Math.max(width - 1.6, 2)}
                  height={H - 14.4}
                  rx="3.5"
                  className={p.proposed ? 'dashed' : 'outlined'}
                />
              )}
              {width >= 14 && (
                <g style={{ color: look.ink }}>
                  <Glyph family={p.family} size={14} x={left + width / 2 - 7} y={11 + H / 2 - 7} />
                </g>
              )}
            </g>
          )
        })}
      </g>
      {over > 0 && <Over over={over} px={px} />}
    </svg>
  )
}

/** Work that does not fit stands over the rim. */
const Over = ({ over, px }: { over: number; px: number }) => (
  <rect
    x={W - RIM - Math.min(Math.max(over * px, 12), W - 2 * RIM)}
    y="4"
    width={Math.min(Math.max(over * px, 12), W - 2 * RIM)}
    height="26"
    rx="3"
    fill="url(#zt-over)"
    className="tin-over"
  />
)

export const Flags = ({ n }: { n: number }) => (
  <span className="flags" aria-hidden="true">
    {Array.from({ length: Math.min(n, 4) }, (_, i) => (
      <Flag key={i} />
    ))}
    {n > 4 && `+${n - 4}`}
  </span>
)
