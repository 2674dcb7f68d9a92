import { Button, InputNumber } from 'antd'
import { useState } from 'react'
import { useKitchen } from '../shell/kitchen'
import type { Note } from './AtTheBowl'
import { type Pot, scalesOf, touchOf, weight } from './pot'
import { words } from './words'

/** How near is enough, as a share of what is weighed out. */
const near = 0.02

/** Anything else that is weighed out here: the nuts of a step, the cream. */
function WeighOut({ note }: { note: Note }) {
  const { weightUnit, fromWeight } = scalesOf(useKitchen())
  const [typed, setTyped] = useState<number | null>(null)
  return (
    <form
      className="pot-weigh"
      onSubmit={(e) => {
        e.preventDefault()
        if (!typed) return
        void note({ what: 'weigh', grams: fromWeight(typed) })
        setTyped(null)
      }}
    >
      <InputNumber
        aria-label={words.weighThis}
        placeholder={words.weighThis}
        value={typed}
        min={0.1}
        max={9999}
        suffix={weightUnit}
        controls={false}
        onChange={setTyped}
      />
      <Button htmlType="submit" disabled={!typed}>
        {words.weighOut}
      </Button>
    </form>
  )
}

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
      {a.scale && <p className="pot-creep">{a.scale}</p>}
      {!a.weigh && <WeighOut note={note} />}
    </section>
  )
}
