import { useQuery, useQueryClient } from '@tanstack/react-query'
import { Button } from 'antd'
import { useState } from 'react'
import { api, ask } from '../api/client'
import { askAnew } from '../api/topics'
import { useSay } from '../kit/say'
import { useKitchen } from '../shell/kitchen'
import { words } from './words'
import './logbook.css'

/** What the batches of a treat have shown, each to be taken with one touch. */
export function Lessons({ treat, all = false }: { treat: string; all?: boolean }) {
  const queries = useQueryClient()
  const say = useSay()
  const [busy, setBusy] = useState(false)
  const { owns } = useKitchen()
  const known = useQuery({
    queryKey: ['lessons', treat],
    queryFn: () => ask(api.GET('/api/v1/treats/{id}/lessons', { params: { path: { id: treat } } })),
  })
  const list = known.data?.lessons ?? []
  const suggested = list.filter((l) => l.suggests)
  const others = list.filter((l) => !l.suggests)
  async function take({ what, step }: (typeof list)[number]) {
    setBusy(true)
    try {
      const took = await ask(
        api.POST('/api/v1/treats/{id}/lessons', { params: { path: { id: treat } }, body: { what, step } }),
      )
      say.done('lesson', words.taken(took.version))
    } catch (error) {
      say.refused(error)
    }
    setBusy(false)
    await askAnew(queries, ['treats', 'larder'])
  }
  if (suggested.length === 0 && !(all && others.length > 0)) return null
  return (
    <section className="lessons" aria-label={words.lessons}>
      <h3>{words.lessons}</h3>
      <p className="soft">{words.lessonsLead}</p>
      <ul>
        {suggested.map((l) => (
          <li key={`${l.what} ${l.step}`}>
            <span>{l.text}</span>
            {owns && (
              <Button loading={busy} aria-label={words.take(l.ask, l.name)} onClick={() => void take(l)}>
                {l.ask}
              </Button>
            )}
          </li>
        ))}
      </ul>
      {all && others.length > 0 && (
        <details>
          <summary>{words.more(others.length)}</summary>
          <ul>
            {others.map((l) => (
              <li key={`${l.what} ${l.step}`}>{l.text}</li>
            ))}
          </ul>
        </details>
      )}
    </section>
  )
}
