import { Button, InputNumber } from 'antd'
import { useState } from 'react'
import { useKitchen } from '../shell/kitchen'
import { type Pot, scalesOf, type Touch, touchOf } from './pot'
import { words } from './words'

export type Note = (t: Pick<Touch, 'what' | 'seconds' | 'low' | 'grams'> & { pieces?: number }) => Promise<void>

/** What one touch says was done: the likely one large. */
export function AtTheBowl({ p, note }: { p: Pot; note: Note }) {
  const [first, ...others] = p.advice!.touches
  return (
    <div className="pot-touches">
      {first && <One t={first} p={p} note={note} large />}
      {others.map((t) => (
        <One key={t.what} t={t} p={p} note={note} />
      ))}
    </div>
  )
}

/** A touch; where an amount goes with it, that can be corrected first. */
function One({ t, p, note, large }: { t: Touch; p: Pot; note: Note; large?: boolean }) {
  const kitchen = useKitchen()
  const { weightUnit, grams, fromWeight } = scalesOf(kitchen)
  const onScale = p.scale && p.advice?.weigh ? p.curve.grams.at(-1)?.value : undefined
  const [typed, setTyped] = useState<number | null>(null)
  const weighs = t.what === 'seeded' || t.what === 'added' || t.what === 'took'
  const counts = t.what === 'dipped'
  const amount = typed !== null ? fromWeight(typed) : t.what === 'took' ? undefined : (onScale ?? t.grams)
  const own = weighs && amount !== undefined && amount !== t.grams // another amount than was proposed
  const send = () =>
    counts
      ? void note({ what: 'dipped', pieces: Math.round(typed ?? 1) }).then(() => setTyped(null))
      : weighs
        ? amount && void note({ ...t, grams: amount }).then(() => setTyped(null))
        : void note(t)
  return (
    <div className={large ? 'pot-touch large' : 'pot-touch'}>
      {(weighs || counts) && (
        <InputNumber
          aria-label={counts ? words.piecesGone : t.what === 'took' ? words.amountOut : words.amountIn}
          value={typed}
          min={0}
          max={counts ? 10000 : 20000}
          precision={counts ? 0 : undefined}
          placeholder={counts ? '1' : amount === undefined ? undefined : grams(amount)}
          suffix={counts ? undefined : weightUnit}
          controls={false}
          size="large"
          onChange={setTyped}
          onPressEnter={send}
        />
      )}
      {large ? (
        <button type="button" className="done-button" onClick={send} disabled={t.what === 'took' && !typed}>
          {touchOf(kitchen, own ? { what: t.what, grams: amount } : t)}
        </button>
      ) : (
        <Button size="large" onClick={send} disabled={t.what === 'took' && !typed}>
          {touchOf(kitchen, own ? { what: t.what, grams: amount } : t)}
        </Button>
      )}
    </div>
  )
}
