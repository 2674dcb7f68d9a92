import { useEffect, useRef, useState } from 'react'

/**
 * A day, typed or chosen. While a year is typed digit by digit the browser already gives dates of the first century:
 * they are kept to the field until the year is a whole one.
 */
export function DayInput({
  label,
  value,
  min,
  onChange,
}: {
  label: string
  value: string
  min?: string
  onChange: (day: string) => void
}) {
  const [text, setText] = useState(value)
  const typing = useRef(false)
  useEffect(() => {
    if (!typing.current) setText(value)
  }, [value])
  return (
    <input
      className="blank"
      type="date"
      aria-label={label}
      value={text}
      min={min}
      onFocus={() => (typing.current = true)}
      onBlur={() => {
        typing.current = false
        setText(value)
      }}
      onChange={(e) => {
        setText(e.target.value)
        if (e.target.value >= '2000-01-01') onChange(e.target.value)
      }}
    />
  )
}
