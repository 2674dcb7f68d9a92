import { useQueryClient } from '@tanstack/react-query'
import { Button } from 'antd'
import { useEffect } from 'react'
import { Link } from 'react-router'
import { onReached, useReached } from '../api/reach'
import { drop, useWaiting } from '../device/drafts'
import { canKeep } from '../device/register'
import { Sign } from '../kit/glyphs'
import { sendActs, underway } from '../bench/queue'
import { sendDrops } from '../drive/waiting'
import { sendKept } from '../orders/kept'
import { words } from './words'

/** Whether the kitchen is out of reach, and what is kept on this device until it is saved. */
export function Waiting() {
  const reached = useReached()
  const queries = useQueryClient()
  const waiting = useWaiting().filter(([place]) => !underway(place))
  // Orders save themselves, and so does what was told at a door or done at the bench;
  // what somebody began to write in a form is theirs to finish.
  useEffect(() => {
    const send = () => {
      void sendKept(queries)
      void sendDrops(queries)
      void sendActs(queries)
    }
    send()
    return onReached(send)
  }, [queries])
  return (
    <>
      {!reached && (
        <p className="away" role="status">
          <Sign kind="trouble" size={15} /> {words.waiting.away} {!canKeep && words.waiting.plain}
        </p>
      )}
      {waiting.length > 0 && (
        <p className="waiting no-print" role="status">
          {words.waiting.waits}
          {waiting.map(([place, kept]) => (
            <span key={place}>
              <Link to={kept.to}>{kept.title}</Link>{' '}
              <Button
                size="small"
                type="text"
                aria-label={words.waiting.awayOf(kept.title)}
                onClick={() => drop(place)}
              >
                {words.waiting.throw}
              </Button>
            </span>
          ))}
        </p>
      )}
    </>
  )
}
