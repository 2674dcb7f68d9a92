import { useEffect, useRef } from 'react'
import { ring } from '../kit/ring'
import type { Pot } from './pot'

/** How many s before something that cannot wait is over it chimes. */
const before = { burst: 3, smear: 5, due: 20 }

/**
 * Chimes a little before what cannot wait: the end of a burst, a smear that has had its time, a bowl that is to come
 * off the heat or is about to leave its band. What can wait is silent.
 */
export function useChime(p: Pot | undefined, seconds: number) {
  const rung = useRef('')
  const a = p?.advice
  useEffect(() => {
    if (!p || !a) return
    const ends = a.ends ? a.ends - (a.stage === 'testing' ? before.smear : before.burst) : undefined
    const due = a.due && a.stage !== 'cooling' ? a.due.at - before.due : undefined
    const at = ends ?? due
    if (at === undefined || seconds < at || seconds > at + 30) return
    const of = `${p.id} ${a.stage} ${ends === undefined ? 'due' : a.ends}`
    if (rung.current === of) return
    rung.current = of
    ring()
  }, [p, a, seconds])
}
