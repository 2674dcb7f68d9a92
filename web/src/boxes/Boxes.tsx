import { Button } from 'antd'
import type { Schemas } from '../api/client'
import { Sign } from '../kit/glyphs'
import { Part } from '../orders/Estimate'
import { useKitchen } from '../shell/kitchen'
import { BoxDrawing } from './BoxDrawing'
import { words } from './words'

type Choice = NonNullable<Schemas['OrderBoxed']['instead']>[number]

/** How the lines of an order lie in their boxes, drawn, and boxes that would hold them or cost less. */
export function Boxes({
  r,
  use,
  own,
}: {
  r: { boxes: Schemas['OrderBoxed'][]; lines: Schemas['OrderLineCard'][] }
  /** Packs a line in other boxes; without it nothing can be changed. */
  use?: (line: number, boxes?: Choice['boxes']) => void
  /** Whether a line is packed otherwise than its treat says. */
  own?: (line: number) => boolean
}) {
  const kitchen = useKitchen()
  if (r.boxes.length === 0) return null
  return (
    <Part name={words.boxes}>
      {r.boxes.map((b, i) => (
        <div key={i}>
          <p className={b.trouble ? 'when trouble' : undefined}>
            {b.trouble && <Sign kind="trouble" size={14} />} <b>{r.lines[b.line]!.name}</b>
            <br />
            {b.text}
          </p>
          {b.smaller && <p className="soft">{b.smaller}</p>}
          {b.layout && <BoxDrawing box={b} cards={[r.lines[b.line]!.card]} />}
          {own?.(b.line) && r.boxes[i - 1]?.line !== b.line && (
            <Button type="link" className="link" onClick={() => use?.(b.line, undefined)}>
              {words.asTheTreatSays}
            </Button>
          )}
          {(b.instead ?? []).length > 0 && (
            <details open={b.trouble}>
              <summary>{words.otherBoxes}</summary>
              {b.instead!.map((c) => (
                <p key={c.text} className="box-choice">
                  <span>
                    {c.text}
                    <br />
                    <small>
                      {words.wouldCost(kitchen.money(c.cost))}
                      {c.short && <span className="trouble"> {words.notAsManyInTheLarder}</span>}
                    </small>
                  </span>
                  {use && (
                    <Button size="small" onClick={() => use(b.line, c.boxes)}>
                      {words.useThese}
                    </Button>
                  )}
                </p>
              ))}
            </details>
          )}
        </div>
      ))}
    </Part>
  )
}
