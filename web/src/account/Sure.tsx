import { Button } from 'antd'
import { useState } from 'react'
import { words } from './words'

/** What cannot be undone from here: touched once it says what follows, and is done by a second touch. */
export function Sure({
  label,
  name = label,
  why,
  go,
  onGo,
}: {
  label: string
  name?: string // for whoever hears it
  why: string
  go: string
  onGo: () => void
}) {
  const [open, setOpen] = useState(false)
  if (!open) {
    return (
      <Button aria-label={name} onClick={() => setOpen(true)}>
        {label}
      </Button>
    )
  }
  return (
    <span className="sure" role="group" aria-label={name}>
      <span>{why}</span>{' '}
      <Button danger autoFocus onClick={onGo}>
        {go}
      </Button>{' '}
      <Button onClick={() => setOpen(false)}>{words.neverMind}</Button>
    </span>
  )
}
