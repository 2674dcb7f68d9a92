import { Button, InputNumber, Select } from 'antd'
import { useState } from 'react'
import { useKitchen } from '../shell/kitchen'
import type { Note } from './AtTheBowl'
import { didOf, type Pot, scalesOf, type What } from './pot'
import { words } from './words'

const others: What[] = ['burst', 'on', 'off', 'chill', 'seeded', 'added', 'took', 'dipped', 'smear', 'anew']

interface Props {
  p: Pick<Pot, 'deeds' | 'began' | 'ended'>
  undo: (deed: string) => Promise<void>
  note: Note
  since?: boolean // its times are told from when the bowl was begun
}

/** 2:05 is two minutes after it was begun. */
function clockOf(at: string, began: string) {
  const seconds = Math.round((Date.parse(at) - Date.parse(began)) / 1000)
  return `${Math.floor(seconds / 60)}:${String(seconds % 60).padStart(2, '0')}`
}

/** What was done, the last first, each to be taken back; and what nobody proposed. */
export function Deeds({ p, undo, note, since }: Props) {
  const kitchen = useKitchen()
  const [other, setOther] = useState(false)
  if (p.deeds.length === 0 && p.ended) return null
  return (
    <section className="pot-deeds" aria-label={words.wasDone}>
      <ol>
        {p.deeds.toReversed().map((d) => {
          const what = didOf(kitchen, d)
          return (
            <li key={d.id}>
              <time>{since ? clockOf(d.at!, p.began) : kitchen.time(d.at!)}</time> <span>{what}</span>
              {!p.ended && (
                <Button
                  type="link"
                  className="link quiet"
                  aria-label={words.takeBack(what)}
                  onClick={() => void undo(d.id)}
                >
                  {words.undo}
                </Button>
              )}
            </li>
          )
        })}
      </ol>
      {!p.ended &&
        (other ? (
          <Other note={(t) => note(t).then(() => setOther(false))} />
        ) : (
          <Button type="link" className="link" onClick={() => setOther(true)}>
            {words.other}
          </Button>
        ))}
    </section>
  )
}

/** Something that nobody proposed. */
function Other({ note }: { note: Note }) {
  const kitchen = useKitchen()
  const { weightUnit, fromWeight } = scalesOf(kitchen)
  const [what, setWhat] = useState<What>('burst')
  const [n, setN] = useState<number | null>(null)
  const unit =
    what === 'burst'
      ? 's'
      : what === 'dipped'
        ? ''
        : ['seeded', 'added', 'took'].includes(what)
          ? weightUnit
          : undefined
  return (
    <div className="pot-other">
      <Select
        aria-label={words.other}
        value={what}
        style={{ minWidth: 150 }}
        options={others.map((w) => ({ value: w, label: words.otherDeeds[w as keyof typeof words.otherDeeds] }))}
        onChange={setWhat}
      />
      {unit !== undefined && (
        <InputNumber
          aria-label={words.howMuch}
          value={n}
          min={0}
          max={20000}
          suffix={unit}
          controls={false}
          onChange={setN}
        />
      )}
      <Button
        disabled={unit !== undefined && !n}
        onClick={() =>
          void note({
            what,
            seconds: what === 'burst' ? (n ?? 0) : undefined,
            pieces: what === 'dipped' ? Math.round(n ?? 0) : undefined,
            grams: unit === weightUnit ? fromWeight(n ?? 0) : undefined,
          })
        }
      >
        {words.add}
      </Button>
    </div>
  )
}
