import { Input } from 'antd'
import { useEffect, useId, useLayoutEffect, useRef, useState } from 'react'
import { flushSync } from 'react-dom'
import { api, ask, Refused, type Schemas } from '../api/client'

type Quantity = Schemas['MeasureQuantity']

let reading: Promise<unknown> = Promise.resolve()

/** Waits until all that was typed has been read: whoever saves at once would save what stood there before. */
export const amountsRead = () => reading

const written = (q: Quantity) => `${Number(q.amount.toFixed(4))} ${q.unit}`

/**
 * An amount in any unit, as people write it: "1 1/2 cups", "12 oz", "340g"; of an ingredient also in its own measures,
 * "2 blocks". The server reads it.
 */
export function AmountInput(props: {
  label: string
  value: Quantity
  onChange: (q: Quantity) => void
  fault?: string
  width?: number
  of?: string
}) {
  const [text, setText] = useState(written(props.value))
  const [fault, setFault] = useState<string>()
  const typing = useRef<AbortController | null>(null)
  const left = useRef(false) // the field, before its answer came
  const id = useId()
  const shown = written(props.value)
  const latest = useRef({ shown, fault, onChange: props.onChange })
  useLayoutEffect(() => {
    latest.current = { shown, fault, onChange: props.onChange }
  })
  useEffect(() => {
    // Follows a value that is set from elsewhere, not one that is being typed.
    if (!typing.current) setText(shown)
  }, [shown])

  async function read(next: string) {
    setText(next)
    typing.current?.abort()
    const asked = (typing.current = new AbortController())
    left.current = false
    try {
      const answer = ask(
        api.POST('/api/v1/calculators/amount', { body: { text: next, ingredient: props.of }, signal: asked.signal }),
      )
      reading = Promise.allSettled([reading, answer])
      const q = await answer
      if (left.current && typing.current === asked) typing.current = null
      setFault(undefined)
      // As it is now: what was typed elsewhere since stays. Drawn at once: the answer of another field that comes with
      // this one, before the next drawing, would be laid over what this one changes.
      flushSync(() => latest.current.onChange({ amount: q.amount, unit: q.unit }))
    } catch (error) {
      if (error instanceof Refused) setFault(error.at('text') ?? error.message)
    }
  }

  const wrong = fault ?? props.fault
  return (
    <span className="amount">
      <Input
        value={text}
        aria-label={props.label}
        aria-invalid={Boolean(wrong)}
        aria-describedby={wrong ? id : undefined}
        status={wrong ? 'error' : undefined}
        style={{ width: props.width ?? 110 }}
        onChange={(e) => void read(e.target.value)}
        onBlur={() => {
          left.current = true
          void reading.then(() => {
            if (!left.current) return
            typing.current = null
            if (!latest.current.fault) setText(latest.current.shown)
          })
        }}
      />
      {wrong && (
        <span className="fault" id={id} role="alert">
          {wrong}
        </span>
      )}
    </span>
  )
}
