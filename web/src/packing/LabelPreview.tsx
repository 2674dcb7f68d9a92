import type { Schemas } from '../api/client'
import { words } from './words'

/** A label as it is printed: every piece of text where it stands, in mm. */
export function LabelPreview({ name, fitted }: { name: string; fitted: Schemas['LabelFitted'] }) {
  return (
    <svg
      className="label-preview"
      role="img"
      aria-label={words.labelSays(name)}
      viewBox={`0 0 ${fitted.width} ${fitted.height}`}
      style={{ width: `${fitted.width}mm` }}
    >
      <rect x="0.15" y="0.15" width={fitted.width - 0.3} height={fitted.height - 0.3} rx="1.2" />
      {(fitted.marks ?? []).map((m, i) => (
        <rect key={`m${i}`} className="mark" x={m.x} y={m.y} width={m.wide} height={m.high} />
      ))}
      {fitted.runs.map((r, i) => (
        <text
          key={i}
          x={r.x}
          y={r.y}
          fontSize={r.size}
          fontWeight={r.bold ? 700 : 400}
          textLength={r.width}
          lengthAdjust="spacingAndGlyphs"
        >
          {r.text}
        </text>
      ))}
    </svg>
  )
}
