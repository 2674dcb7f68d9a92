import { useQuery } from '@tanstack/react-query'
import { Button } from 'antd'
import { useState } from 'react'
import { api, ask, type Schemas } from '../api/client'
import { Sign } from '../kit/glyphs'
import { useChange } from '../plan/useChange'
import { words } from './words'
import './bench.css'

type Outlook = Schemas['PlanningDelayForecast']

/** A day that runs late: what that does, and what would help, each tried by the planner and taken with one touch. */
export function Late({ outlook, day }: { outlook: Outlook; day: string }) {
  const { change } = useChange()
  const [asked, setAsked] = useState(false)
  const helps = useQuery({
    queryKey: ['outlook', day, 'helps'],
    queryFn: () => ask(api.GET('/api/v1/days/{day}/helps', { params: { path: { day } } })),
    enabled: asked,
    staleTime: 60_000,
  })
  if (!outlook.text) return null
  return (
    <div className={outlook.trouble ? 'outlook trouble' : 'outlook'} role="status">
      <Sign kind={outlook.trouble ? 'trouble' : 'caution'} size={20} /> <span>{outlook.text}</span>
      <Button onClick={() => void change({ kind: 'settle' })}>{words.rescheduleTheRest}</Button>
      <Button loading={helps.isFetching} onClick={() => setAsked(true)}>
        {words.whatWouldHelp}
      </Button>
      {helps.data && (
        <ul className="helps" aria-label={words.whatWouldHelp}>
          {helps.data.helps.map((h) => (
            <li key={h.text}>
              <span>
                <b>{h.text}</b> {h.effect.join(' ')}
              </span>
              <Button
                type={h.kept ? 'primary' : 'default'}
                aria-label={words.takeHelp(h.text)}
                onClick={() => {
                  setAsked(false)
                  void change(h.change)
                }}
              >
                {words.doIt}
              </Button>
            </li>
          ))}
          {helps.data.helps.length === 0 && <li>{words.nothingHelps}</li>}
        </ul>
      )}
    </div>
  )
}
