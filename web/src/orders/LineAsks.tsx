import { Button } from 'antd'
import { useState } from 'react'
import { type Asked, Asks } from '../kit/Asks'
import { words } from './words'

/** What one line is to suit and to be free from, beside what the whole order is. */
export function LineAsks({
  line,
  name,
  allergens,
  change,
}: {
  line: Asked
  name: string
  allergens: string[]
  change: (x: Asked) => void
}) {
  const [asking, setAsking] = useState(false)
  if ((line.wishes ?? []).length + (line.freeFrom ?? []).length === 0 && !asking)
    return (
      <Button type="link" className="link add-note" aria-label={words.askOfLine(name)} onClick={() => setAsking(true)}>
        {words.askOfIt}
      </Button>
    )
  return (
    <Asks
      label={words.askedOfLine(name)}
      asked={line}
      allergens={allergens}
      open={asking}
      change={change}
      close={() => setAsking(false)}
    />
  )
}
