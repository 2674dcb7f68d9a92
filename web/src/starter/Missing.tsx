import { useQuery } from '@tanstack/react-query'
import { Link } from 'react-router'
import { api, ask } from '../api/client'
import './starter.css'
import { words } from './words'

const where = { treat: '/start', hours: '/plan/hours', prices: '/larder', address: '/kitchen' }

/** What is still missing before the first promise; nothing once there was one. */
export function Missing() {
  const outset = useQuery({
    queryKey: ['starter'],
    queryFn: () => ask(api.GET('/api/v1/starter', {})),
    staleTime: 60_000,
  })
  if (!outset.data || outset.data.promised || outset.data.missing.length === 0) return null
  return (
    <aside className="still-missing" aria-label={words.missing}>
      <b>{words.missing}</b>
      <ul>
        {outset.data.missing.map((m) => (
          <li key={m.id}>
            <Link to={where[m.id]}>{m.text}</Link>
          </li>
        ))}
      </ul>
    </aside>
  )
}
