import { useQuery } from '@tanstack/react-query'
import { Badge } from 'antd'
import { Link } from 'react-router'
import { api, ask } from '../api/client'
import { words } from './words'
import './shell.css'

/** A sign on the lid: messages wait, in which time they can be undone, or did not arrive. */
export function Post() {
  const outbox = useQuery({
    queryKey: ['messages', 'sign'],
    queryFn: () => ask(api.GET('/api/v1/messages', {})),
    refetchInterval: (q) => (q.state.data?.waiting ? 10_000 : false),
  })
  const n = (outbox.data?.waiting ?? 0) + (outbox.data?.trouble ?? 0)
  if (n === 0) return null
  return (
    <Link to="/messages" className="answered" aria-label={words.post(n)} title={words.post(n)}>
      <Badge count={n} size="small" color={outbox.data?.trouble ? undefined : 'var(--sky)'}>
        <svg
          width="22"
          height="20"
          viewBox="0 0 22 20"
          fill="none"
          stroke="currentColor"
          strokeWidth="1.8"
          aria-hidden="true"
        >
          <path d="M2.5 4h17v12.5h-17z" strokeLinejoin="round" />
          <path d="M3 4.6l8 6.6 8-6.6" strokeLinejoin="round" />
        </svg>
      </Badge>
    </Link>
  )
}
