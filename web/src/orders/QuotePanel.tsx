import { useQueryClient } from '@tanstack/react-query'
import { Button, Input } from 'antd'
import { useState } from 'react'
import { api, ask, type Schemas } from '../api/client'
import { askAnew } from '../api/topics'
import { copy, OnlyHere, useAddress } from '../kit/address'
import { useSay } from '../kit/say'
import { useKitchen } from '../shell/kitchen'
import { words } from './words'

type Order = Schemas['OrdersOrder']

/** The quote of an order: its link for the customer, and what they answered. */
export function QuotePanel({
  order,
  flush,
  take,
}: {
  order: Order
  flush: () => Promise<void>
  take: (o: Order) => void
}) {
  const kitchen = useKitchen()
  const queries = useQueryClient()
  const say = useSay()
  const [copied, setCopied] = useState(false)
  const q = order.quote
  const { href: link, here } = useAddress(q ? `/q/${q.token}` : '')
  const open = q && !q.revoked && !q.accepted
  const when = kitchen.moment
  async function change(send: () => Promise<Order>, done: string) {
    try {
      await flush()
      take(await send())
      await askAnew(queries, ['orders'])
      say.done('quote', done)
    } catch (error) {
      say.refused(error)
    }
  }
  const path = { params: { path: { id: order.id } } }
  const write = () => change(() => ask(api.POST('/api/v1/orders/{id}/quotes', path)), words.quoteCreatedSendItsLink)
  const mayQuote = order.state === 'enquiry' || order.state === 'quoted'
  if (!q && !mayQuote) return null
  return (
    <section aria-label={words.quote}>
      <h2>{words.quote}</h2>
      {!q && <p className="soft">{words.aPrivateWebPageWith}</p>}
      {q?.accepted && (
        <p>
          <b className="fine">
            {words.acceptedBy} {q.by}
          </b>
          , {when(q.accepted)}.
          {order.state === 'quoted' && <span className="trouble"> {words.itNoLongerFitsYour}</span>}
        </p>
      )}
      {q?.request && q.requested && (
        <div className="asked-change">
          <small>
            {words.changeRequested} {when(q.requested)}:
          </small>
          <br />
          {q.request}
        </div>
      )}
      {open && (
        <>
          <p className="soft">{words.validUntil(when(q.expires))}</p>
          <div className="quote-link">
            <Input
              readOnly
              size="small"
              aria-label={words.linkToTheQuote}
              value={link}
              onFocus={(e) => e.target.select()}
            />
            <Button size="small" onClick={() => void copy(link).then(setCopied)}>
              {copied ? words.copied : words.copy}
            </Button>
          </div>
          <OnlyHere here={here} />
          <a href={link} target="_blank" rel="noreferrer">
            {words.view}
          </a>
          {' · '}
          <a href={`/api/v1/quotes/${q.token}/quote.pdf`}>PDF</a>
          {' · '}
          <Button
            type="link"
            className="link quiet"
            onClick={() => void change(() => ask(api.DELETE('/api/v1/orders/{id}/quotes', path)), words.linkTurnedOff)}
          >
            {words.turnOffLink}
          </Button>
        </>
      )}
      {q?.revoked && !q.accepted && <p className="soft">{words.theLastQuotesLinkIs}</p>}
      {mayQuote && !q?.accepted && (
        <p>
          <Button onClick={() => void write()}>{q ? words.makeANewQuote : words.makeAQuote}</Button>
        </p>
      )}
    </section>
  )
}
