import { useEffect, useRef, useState } from 'react'

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

/** Three short notes. */
function ring() {
  const sound = new AudioContext()
  for (let i = 0; i < 3; i++) {
    const note = sound.createOscillator()
    const loud = sound.createGain()
    note.frequency.value = 880
    loud.gain.setValueAtTime(0.3, sound.currentTime + i * 0.5)
    loud.gain.exponentialRampToValueAtTime(0.001, sound.currentTime + i * 0.5 + 0.4)
    note.connect(loud).connect(sound.destination)
    note.start(sound.currentTime + i * 0.5)
    note.stop(sound.currentTime + i * 0.5 + 0.4)
  }
}
