import { Button } from 'antd'
import { useKitchen } from '../shell/kitchen'
import type { Note } from './AtTheBowl'
import { type Pot, scalesOf, touchOf, weight } from './pot'
import { words } from './words'

/** How near is enough, as a share of what is weighed out. */
const near = 0.02

/** What the scale shows, large, with the part that is still missing. */
export function Scale({ p, note }: { p: Pot; note: Note }) {
  const kitchen = useKitchen()
  const { grams, weightUnit } = scalesOf(kitchen)
  const a = p.advice!
  const wanted = a.touches.find((t) => t.what === 'seeded' && t.grams)
  const shown = p.curve.grams.at(-1)?.value
  if (!p.scale && shown === undefined) return null
  const missing = a.weigh ? a.weigh - (shown ?? 0) : 0
  return (
    <section className="pot-scale" aria-label={words.onTheScale}>
      <h2>{words.onTheScale}</h2>
      <p className="pot-weight">
        <b>{shown === undefined ? '–' : grams(shown)}</b> <i>{weightUnit}</i>
      </p>
      {a.weigh ? (
        <p className={missing > a.weigh * near ? 'pot-missing' : 'pot-missing enough'} role="status">
          {missing > a.weigh * near
            ? words.more(weight(kitchen, missing))
            : missing < -a.weigh * 2 * near
              ? words.over(weight(kitchen, -missing))
              : words.enough}
        </p>
      ) : (
        wanted && (
          <Button onClick={() => void note({ what: 'weigh', grams: wanted.grams })}>
            {touchOf(kitchen, { ...wanted, what: 'weigh' })}
          </Button>
        )
      )}
    </section>
  )
}
