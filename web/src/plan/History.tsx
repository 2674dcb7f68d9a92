import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { api, ask } from '../api/client'
import { useKitchen } from '../shell/kitchen'
import './history.css'
import { words } from './words'

/** The last changes of the plan, and who made them; asked for once it is opened. */
export function History() {
  const kitchen = useKitchen()
  const [open, setOpen] = useState(false)
  const history = useQuery({
    queryKey: ['plan', 'changes'],
    queryFn: () => ask(api.GET('/api/v1/plan/changes', {})),
    enabled: open,
  })
  const list = history.data?.changes
  return (
    <details className="plan-history" onToggle={(e) => setOpen(e.currentTarget.open)}>
      <summary>{words.history}</summary>
      {history.error && <p role="alert">{history.error.message}</p>}
      {list?.length === 0 && <p className="soft">{words.nothingChanged}</p>}
      <ul>
        {list?.map((c) => (
          <li key={c.at}>
            <time className="soft">{kitchen.moment(c.at)}</time> {c.says} <span className="soft">{c.who}</span>
          </li>
        ))}
      </ul>
    </details>
  )
}
