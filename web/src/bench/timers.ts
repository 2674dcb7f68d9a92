import { useQuery } from '@tanstack/react-query'
import { useEffect, useState } from 'react'
import { api, ask, type Schemas } from '../api/client'
import { ring } from '../kit/ring'
import { useKitchen } from '../shell/kitchen'
import { deviceName } from './device'
import type { Waits } from './queue'
import { words } from './words'

export type Timer = Schemas['BenchTimer'] & { waits?: boolean }

/** Timers that have rung on this device, so that a reload does not ring them again. */
const kept = 'zestytin.rung'
const rung = (): string[] => {
  try {
    return JSON.parse(localStorage.getItem(kept) ?? '[]') as string[]
  } catch {
    return []
  }
}

/** Rings, and says so where the page is not looked at. */
function sound(t: Timer) {
  ring()
  if (document.hidden && typeof Notification !== 'undefined' && Notification.permission === 'granted')
    new Notification(t.name, { body: t.place ? words.waitsAt(t.place) : undefined, tag: t.id })
}

/**
 * Timers of what sets and chills, everybody's. They ring on the device that set them, or on all; those that were set
 * without a network are there too.
 */
export function useTimers(waiting: Waits[]) {
  const kitchen = useKitchen()
  const asked = useQuery({
    queryKey: ['timers'],
    queryFn: () => ask(api.GET('/api/v1/timers', {})),
    refetchInterval: 60_000,
  })
  const stopped = new Set(waiting.map(({ act }) => (act.kind === 'stop' ? act.id : '')))
  const own = waiting.flatMap(({ act, at, refused, sent }): Timer[] =>
    act.kind === 'timer' && !refused
      ? [
          {
            ...act,
            begun: at,
            ends: new Date(Date.parse(at) + act.seconds * 1000).toISOString(),
            device: deviceName(),
            waits: !sent,
          },
        ]
      : [],
  )
  const known = asked.data?.timers ?? []
  const list: Timer[] = [...known, ...own.filter((t) => !known.some((k) => k.id === t.id))].filter(
    (t) => !stopped.has(t.id),
  )
  const [, draw] = useState(0)
  const some = list.length > 0
  useEffect(() => {
    if (!some) return
    const every = setInterval(() => draw((n) => n + 1), 500)
    return () => clearInterval(every)
  }, [some])
  const now = kitchen.now().valueOf()
  const timed = list.map((t) => ({ ...t, left: (Date.parse(t.ends) - now) / 1000 }))
  const due = timed.filter((t) => t.left <= 0 && (t.everywhere || t.device === deviceName()))
  const ids = due.map((t) => t.id).join()
  useEffect(() => {
    const before = rung()
    const fresh = due.filter((t) => !before.includes(t.id))
    if (fresh.length === 0) return
    localStorage.setItem(kept, JSON.stringify([...before, ...fresh.map((t) => t.id)].slice(-200)))
    fresh.forEach(sound)
    // eslint-disable-next-line react-hooks/exhaustive-deps -- ids are what of them counts
  }, [ids])
  return timed
}
