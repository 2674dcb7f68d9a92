import { Button } from 'antd'
import { type ReactNode, useState } from 'react'
import { useKitchen } from '../shell/kitchen'
import type { Step } from './StepRow'
import { words } from './words'
import './bench.css'

/** Rounds of one batch that follow each other: one line, opened when it is wanted, and while one of them is worked. */
export function Rounds({ of, text, now, children }: { of: Step[]; text: string; now?: Step; children: ReactNode }) {
  const { clock } = useKitchen()
  const [opened, setOpened] = useState<boolean>()
  const done = of.filter((s) => s.doneAt).length
  const open = opened ?? of.some((s) => s === now)
  const first = of[0]!
  return (
    <>
      <li className={done === of.length ? 'rounds-of done' : 'rounds-of'}>
        <time>{clock(first.start - first.melt - first.wash)}</time>
        <Button type="text" aria-expanded={open} onClick={() => setOpened(!open)}>
          {open ? '▾' : '▸'} {text}
        </Button>
        <small>{words.doneOf(done, of.length)}</small>
      </li>
      {open && children}
    </>
  )
}
