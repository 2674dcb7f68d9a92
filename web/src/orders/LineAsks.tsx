import { Button, Select } from 'antd'
import { useState } from 'react'
import type { Writing } from './Sentence'
import { words } from './words'

type Line = Writing['draft']['lines'][number]
type Wish = keyof typeof words.wishes

const wishes = Object.keys(words.wishes) as Wish[]

/** What one line is to suit and to be free from, beside what the whole order is. */
export function LineAsks({
  line,
  name,
  allergens,
  change,
}: {
  line: Line
  name: string
  allergens: string[]
  change: (x: Partial<Line>) => void
}) {
  const [asking, setAsking] = useState(false)
  const asked = [...(line.wishes ?? []), ...(line.freeFrom ?? []).map((a) => `-${a}`)]
  if (asked.length === 0 && !asking)
    return (
      <Button type="link" className="link add-note" aria-label={words.askOfLine(name)} onClick={() => setAsking(true)}>
        {words.askOfIt}
      </Button>
    )
  return (
    <Select
      mode="multiple"
      size="small"
      autoFocus={asking}
      defaultOpen={asking}
      aria-label={words.askedOfLine(name)}
      placeholder={words.thisLineIsToSuit}
      value={asked}
      style={{ minWidth: 220 }}
      onBlur={() => setAsking(false)}
      onChange={(list: string[]) => {
        const freeFrom = list.filter((x) => x.startsWith('-')).map((x) => x.slice(1))
        const suits = list.filter((x) => !x.startsWith('-')) as Wish[]
        change({
          wishes: suits.length > 0 ? suits : undefined,
          freeFrom: freeFrom.length > 0 ? freeFrom : undefined,
        })
      }}
      options={[
        { label: words.isToSuit, options: wishes.map((w) => ({ value: w, label: words.wishes[w] })) },
        { label: words.mustBeFreeFrom, options: allergens.map((a) => ({ value: `-${a}`, label: words.freeOf(a) })) },
      ]}
    />
  )
}
