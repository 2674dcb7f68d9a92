import { useQueryClient } from '@tanstack/react-query'
import { Button } from 'antd'
import { Link } from 'react-router'
import { api, ask, type Schemas } from '../api/client'
import { askAnew } from '../api/topics'
import { Sign } from '../kit/glyphs'
import { useSay } from '../kit/say'
import { type Kitchen, useKitchen } from '../shell/kitchen'
import { words } from './words'

export type Message = Schemas['MessagesMessage']

/** How a message stands, in a line. */
export function standing(m: Message, kitchen: Kitchen) {
  if (m.state === 'waiting') return words.leaves(kitchen.moment(m.due))
  if (m.state === 'sent') return words.left(kitchen.moment(m.changed))
  return words.stands(words.states[m.state]!, kitchen.moment(m.changed))
}

export const signOf = (state: Message['state']) =>
  state === 'failed' || state === 'unsure' ? 'trouble' : state === 'sent' ? 'fine' : undefined

/** What can be done with a message. */
export function useDeeds() {
  const queries = useQueryClient()
  const say = useSay()
  return async (m: Message, deed: string) => {
    try {
      await ask(
        api.POST('/api/v1/messages/{id}/{deed}', {
          params: { path: { id: m.id, deed: deed as 'undo' | 'now' | 'again' | 'sent' } },
        }),
      )
      if (deed === 'again') say.done('message', words.written)
    } catch (error) {
      say.refused(error)
    }
    await askAnew(queries, ['messages'])
  }
}

const nameOf = (m: Message, deed: string) => {
  if (deed === 'again' && m.state === 'unsure') return words.againTwice
  if (deed === 'again' && m.state !== 'failed') return words.sendFirst
  if (deed === 'sent' && m.state === 'failed') return words.sentOtherwise
  return words.deeds[deed]!
}

export function Deeds({ m }: { m: Message }) {
  const change = useDeeds()
  return (
    <>
      {m.deeds.map((deed) => (
        <Button key={deed} onClick={() => void change(m, deed)}>
          {nameOf(m, deed)}
        </Button>
      ))}
    </>
  )
}

/** A message as its customer reads it, and what became of it. */
export function Letter({ m }: { m: Message }) {
  const kitchen = useKitchen()
  const sign = signOf(m.state)
  return (
    <article className="letter" aria-label={words.kinds[m.kind]}>
      <header>
        <p>
          {words.to(m.whom, m.address)} · <Link to={`/orders/${m.order}`}>{words.order(m.number)}</Link>
        </p>
        <p className={sign === 'trouble' ? 'letter-state trouble' : 'letter-state'}>
          {sign && <Sign kind={sign} size={14} />} <b>{standing(m, kitchen)}</b>
          {m.byHand && <span className="soft"> · {words.byHand}</span>}
        </p>
        {m.says && <p className="soft">{m.says}</p>}
      </header>
      <Paper subject={m.way === 'mail' ? m.subject : ''} body={m.body} />
      <footer>
        <Deeds m={m} />
      </footer>
    </article>
  )
}

/** The words themselves, on their paper. */
export const Paper = ({ subject, body }: { subject: string; body: string }) => (
  <div className="letter-paper">
    {subject && <h3>{subject}</h3>}
    <p className="letter-body">{body}</p>
  </div>
)
