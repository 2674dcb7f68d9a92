import { useQuery } from '@tanstack/react-query'
import { api, ask, type Schemas } from '../api/client'
import { lookOf } from '../kit/chocolate'
import { Link } from '../shell/Go'
import { useKitchen } from '../shell/kitchen'
import { useWaitingBowls } from './useWaitingBowls'
import { words } from './words'
import './pots.css'

/** Bowls of a day, those on the counter first, and the way to a new one. */
export function OnTheCounter({ day }: { day: string }) {
  const kitchen = useKitchen()
  const pots = useQuery({
    queryKey: ['pots', day],
    queryFn: () => ask(api.GET('/api/v1/pots', { params: { query: { day } } })),
  })
  const list = pots.data?.pots ?? []
  const waiting = useWaitingBowls().filter((b) => !list.some((p) => p.id === b.begin.id))
  return (
    <nav className="on-the-counter no-print" aria-label={words.bowls}>
      {waiting.map(({ begin }) => (
        <Link key={begin.id} to={`/bench/bowls/${begin.id}`}>
          <Swatch of={begin.chocolate} /> {begin.name} <small>{words.waits}</small>
        </Link>
      ))}
      {list.map((p) => (
        <Link key={p.id} to={`/bench/bowls/${p.id}`} className={p.ended ? 'over' : undefined}>
          <Swatch of={p.chocolate} /> {p.name}{' '}
          <small>{p.ended ? words.overSince(kitchen.time(p.ended)) : kitchen.time(p.began)}</small>
        </Link>
      ))}
      <Link to="/bench/bowls/new">+ {words.begin}</Link>
      {kitchen.owns && <Link to="/bench/instruments">{words.instruments}</Link>}
      <Link to="/bench/practice">{words.practice}</Link>
    </nav>
  )
}

function Swatch({ of }: { of: Schemas['FoodChocolate'] }) {
  const look = lookOf(of)
  return (
    <i
      className={`swatch c-${look.word}`}
      style={{ background: look.fill, borderColor: look.edge }}
      aria-hidden="true"
    />
  )
}

/** The way to a bowl that the run sheet melts. */
export function BeginThis({ of, day }: { of: Schemas['BenchSetup']; day: string }) {
  if (!of.chocolate || !of.method || !of.grams) return null
  const query = new URLSearchParams({
    of: JSON.stringify({
      name: of.pot,
      day,
      chocolate: of.chocolate,
      method: of.method,
      source: of.source,
      grams: Math.round(of.grams * 10) / 10,
      pieces: of.pieces,
      coat: of.coat && Math.round(of.coat * 10) / 10,
      pool: of.pool && Math.round(of.pool),
      advice: of.advice,
    }),
  })
  return (
    <Link
      className="begin-this no-print"
      to={`/bench/bowls/new?${query.toString()}`}
      aria-label={words.beginHow(of.pot ?? '')}
    >
      {words.beginThis}
    </Link>
  )
}
