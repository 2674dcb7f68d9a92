import { useQuery, useQueryClient } from '@tanstack/react-query'
import { Button, Progress } from 'antd'
import { useState } from 'react'
import { api, ask } from '../api/client'
import { askAnew } from '../api/topics'
import { useSay } from '../kit/say'
import { Part } from '../orders/Estimate'
import { dayName, useKitchen } from '../shell/kitchen'
import { keyOf, type Outcome } from './when'
import { words } from './words'

/**
 * Planning the coming weeks anew, in the background: it tells how far it is, can be stopped, and nothing changes before
 * one takes it.
 */
export function Anew({ taken }: { taken: (o: Outcome) => void }) {
  const { clock } = useKitchen()
  const queries = useQueryClient()
  const say = useSay()
  const [id, setID] = useState<string>()
  const run = useQuery({
    queryKey: ['plan-run', id],
    queryFn: () => ask(api.GET('/api/v1/plan/runs/{id}', { params: { path: { id: id! } } })),
    enabled: id !== undefined,
    placeholderData: undefined,
    refetchInterval: (q) => (q.state.data && q.state.data.state !== 'running' ? false : 400),
  })
  async function begin() {
    try {
      setID((await ask(api.POST('/api/v1/plan/runs', {}))).id)
    } catch (error) {
      say.refused(error)
    }
  }
  async function stop() {
    try {
      queries.setQueryData(
        ['plan-run', id],
        await ask(api.DELETE('/api/v1/plan/runs/{id}', { params: { path: { id: id! } } })),
      )
    } catch (error) {
      say.refused(error)
    }
  }
  async function take() {
    try {
      const done = await ask(api.POST('/api/v1/plan/runs/{id}/take', { params: { path: { id: id! } } }))
      setID(undefined)
      await askAnew(queries, ['plan'])
      say.done('plan', done.says)
      taken(done)
    } catch (error) {
      say.refused(error)
      await run.refetch()
    }
  }
  const r = run.data
  return (
    <Part name={words.replan}>
      {!id && (
        <>
          <p>{words.rebuildTheNextFourWeeks}</p>
          <Button onClick={() => void begin()}>{words.replan}</Button>
        </>
      )}
      {id && (!r || r.state === 'running') && (
        <>
          <Progress
            percent={r ? Math.round((r.done / Math.max(r.total, 1)) * 100) : 0}
            size="small"
            aria-label={words.planning}
          />
          <Button onClick={() => void stop()}>{words.stop}</Button>
        </>
      )}
      {r && r.state !== 'running' && (
        <>
          <p role="status">
            {r.says}
            {r.moved.length > 0 && words.stepsWouldMove(r.moved.length)}
          </p>
          {r.moved.length > 0 && (
            <ul className="moved">
              {r.moved.slice(0, 6).map((m) => (
                <li key={keyOf(m)}>
                  {m.name}, {m.treat}
                  <small>
                    {dayName(m.from.day)}, {clock(m.from.start)} →{' '}
                    <b>
                      {dayName(m.to.day)}, {clock(m.to.start)}
                    </b>
                  </small>
                </li>
              ))}
              {r.moved.length > 6 && (
                <li className="soft">
                  {words.and} {r.moved.length - 6} {words.more}
                </li>
              )}
            </ul>
          )}
          {r.better && (
            <Button type="primary" onClick={() => void take()}>
              {words.useThisPlan}
            </Button>
          )}{' '}
          <Button onClick={() => setID(undefined)}>{r.better ? words.cancel : words.ok}</Button>
        </>
      )}
    </Part>
  )
}
