import { useEffect, useRef, useState } from 'react'
import { ring } from '../kit/ring'

interface Timer {
  key: string
  name: string
  ends: number // ms since the epoch
}

const kept = 'zestytin.timers'

const read = (): Timer[] => {
  try {
    return JSON.parse(localStorage.getItem(kept) ?? '[]') as Timer[]
  } catch {
    return []
  }
}

/** Timers of what sets and chills. They outlive a reload of the page, and ring once when they end. */
export function useTimers() {
  const [timers, setTimers] = useState(read)
  const [now, setNow] = useState(Date.now)
  const rung = useRef(new Set<string>())
  useEffect(() => localStorage.setItem(kept, JSON.stringify(timers)), [timers])
  useEffect(() => {
    if (timers.length === 0) return
    const every = setInterval(() => setNow(Date.now()), 500)
    return () => clearInterval(every)
  }, [timers.length])
  useEffect(() => {
    for (const t of timers) {
      if (t.ends <= now && !rung.current.has(t.key)) {
        rung.current.add(t.key)
        ring()
      }
    }
  }, [now, timers])
  return {
    list: timers.map((t) => ({ ...t, left: (t.ends - now) / 1000 })),
    start: (t: { key: string; name: string; minutes: number }) => {
      rung.current.delete(t.key)
      setNow(Date.now())
      setTimers((all) => [
        ...all.filter((x) => x.key !== t.key),
        { key: t.key, name: t.name, ends: Date.now() + t.minutes * 60_000 },
      ])
    },
    stop: (key: string) => setTimers((all) => all.filter((x) => x.key !== key)),
  }
}
