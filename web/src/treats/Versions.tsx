import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { api, ask } from '../api/client'
import { useKitchen } from '../shell/kitchen'
import type { Treat } from './TreatPage'

/** The versions of a treat, and what changed in each. */
export function Versions({ treat }: { treat: Treat }) {
  const kitchen = useKitchen()
  const [open, setOpen] = useState(false)
  const versions = useQuery({ queryKey: ['versions', treat.id, treat.version], queryFn: () => ask(api.GET('/api/v1/treats/{id}/versions', { params: { path: { id: treat.id } } })), enabled: open })
  return (
    <details className="steps versions" onToggle={(e) => setOpen(e.currentTarget.open)}>
      <summary>What changed, version by version</summary>
      <ol>
        {versions.data?.versions.map((v) => (
          <li key={v.version}>
            <b>Version {v.version}</b> <span className="soft">{kitchen.local(v.at).format('D MMM, HH:mm')} by {v.by}, in {v.orders} {v.orders === 1 ? 'order' : 'orders'}</span>
            <ul>
              {(v.changes ?? []).map((c) => (
                <li key={c.what}>{c.what}: {c.before ? <><del>{c.before}</del> {c.after ? <>→ <ins>{c.after}</ins></> : 'is gone'}</> : <>new, <ins>{c.after}</ins></>}</li>
              ))}
              {(v.changes ?? []).length === 0 && <li className="soft">{v.version === 1 ? 'as it was first written' : 'nothing that can be read'}</li>}
            </ul>
          </li>
        ))}
      </ol>
    </details>
  )
}
