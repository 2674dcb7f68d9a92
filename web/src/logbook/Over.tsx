import type { Schemas } from '../api/client'
import { Plot } from '../kit/Plot'
import { scalesOf } from '../pots/pot'
import { dayName, useKitchen } from '../shell/kitchen'
import { words } from './words'

type Batch = Schemas['LogbookBatch']

/** Batches of one treat over time, the first one first: what was lost, how long it took, what was left. */
export function Over({ batches, name }: { batches: Batch[]; name: string }) {
  const { inWeight, weightUnit } = weights(useKitchen())
  const list = batches.filter((b) => b.done).toReversed()
  if (list.length < 2) return null
  const ticks = list.map((b) => dayName(b.day))
  const lost = list.map((b) => {
    if (!b.counted || b.started === 0) return null
    return (100 * (b.good === undefined ? b.lost : b.started - b.good)) / b.started
  })
  const pace = list.map((b) => (b.took && b.started > 0 ? b.took / b.started : null))
  const left = list.map((b) => {
    const weighed = b.bowls.filter((x) => x.remains !== undefined)
    return weighed.length > 0 ? inWeight(weighed.reduce((sum, x) => sum + (x.remains ?? 0), 0)) : null
  })
  const plot = (label: string, values: (number | null)[], show: (n: number) => string, colour: string) =>
    values.some((v) => v) && (
      <Plot label={label} ticks={ticks} lines={[{ name: label, colour, values }]} show={show} height={170} />
    )
  return (
    <section className="over" aria-label={words.overTime(name)}>
      {plot(words.shareLost, lost, words.percent, '#a3213f')}
      {plot(words.perPiece, pace, (n) => n.toFixed(1), '#2c6e8f')}
      {plot(words.leftOver, left, (n) => `${n.toFixed(0)} ${weightUnit}`, '#452818')}
    </section>
  )
}

function weights(kitchen: ReturnType<typeof useKitchen>) {
  const { weightUnit, fromWeight } = scalesOf(kitchen)
  return { weightUnit, inWeight: (g: number) => g / fromWeight(1) }
}
