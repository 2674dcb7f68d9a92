import { keepPreviousData, useInfiniteQuery } from '@tanstack/react-query'
import { Button } from 'antd'
import { useState } from 'react'
import { NavLink, useLocation } from 'react-router'
import { api, ask } from '../api/client'
import { Face } from '../kit/Face'
import { Sign } from '../kit/glyphs'
import { useKitchen } from '../shell/kitchen'
import { Letter, signOf, standing } from './Letter'
import { Rules } from './Rules'
import { words } from './words'
import './messages.css'

/** What customers are told: what was written, and what is told by itself. */
export default function Messages() {
  const rules = useLocation().pathname.endsWith('/rules')
  return (
    <section className="wide messages">
      <header className="messages-head">
        <h1>{words.title}</h1>
        <nav aria-label={words.title}>
          <NavLink to="/messages" end>
            {words.sent}
          </NavLink>
          <NavLink to="/messages/rules">{words.rules}</NavLink>
        </nav>
      </header>
      {rules ? <Rules /> : <Outbox />}
    </section>
  )
}

function Outbox() {
  const kitchen = useKitchen()
  const [chosen, choose] = useState<string>()
  const pages = useInfiniteQuery({
    queryKey: ['messages', 'outbox'],
    queryFn: ({ pageParam, signal }) =>
      ask(api.GET('/api/v1/messages', { params: { query: { after: pageParam || undefined } }, signal })),
    initialPageParam: '',
    getNextPageParam: (last) => (last.more ? last.messages.at(-1)?.id : undefined),
    placeholderData: keepPreviousData,
    refetchInterval: (q) => (q.state.data?.pages[0]?.waiting ? 5_000 : false), // they leave by the clock
  })
  if (!pages.data) return <Face of={[pages]} />
  const list = pages.data.pages.flatMap((p) => p.messages)
  const { waiting, trouble } = pages.data.pages[0]!
  const m = list.find((x) => x.id === chosen) ?? list[0]
  if (!m) return <p className="empty">{words.none}</p>
  return (
    <div className="outbox">
      <div>
        <p className="soft" role="status">
          {waiting > 0 && words.waiting(waiting)}
          {waiting > 0 && trouble > 0 && ' · '}
          {trouble > 0 && words.trouble(trouble)}
        </p>
        <ul className="outbox-list">
          {list.map((x) => {
            const sign = signOf(x.state)
            return (
              <li key={x.id}>
                <button type="button" aria-current={x.id === m.id ? 'true' : undefined} onClick={() => choose(x.id)}>
                  <b>{x.whom}</b>
                  <span>{words.kinds[x.kind]}</span>
                  <small className={sign === 'trouble' ? 'trouble' : 'soft'}>
                    {sign && <Sign kind={sign} size={12} />} {standing(x, kitchen)}
                  </small>
                </button>
              </li>
            )
          })}
        </ul>
        {pages.hasNextPage && (
          <Button className="more" loading={pages.isFetchingNextPage} onClick={() => void pages.fetchNextPage()}>
            {words.more}
          </Button>
        )}
      </div>
      <Letter key={m.id} m={m} />
    </div>
  )
}
