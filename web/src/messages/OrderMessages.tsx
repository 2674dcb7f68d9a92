import { useQuery, useQueryClient } from '@tanstack/react-query'
import { Button, Input, Segmented, Select } from 'antd'
import { useState } from 'react'
import { api, ask, Refused, type Schemas } from '../api/client'
import { askAnew } from '../api/topics'
import { newKey } from '../device/register'
import { Field } from '../kit/Field'
import { Sign } from '../kit/glyphs'
import { useSay } from '../kit/say'
import { Sheet } from '../kit/Sheet'
import { useKitchen } from '../shell/kitchen'
import { Deeds, signOf, standing } from './Letter'
import { words } from './words'
import './messages.css'

type Drafts = Schemas['MessagesDrafts']

/** What the customer of an order was told, and what one may still tell them. */
export function OrderMessages({ order }: { order: Schemas['OrdersOrder'] }) {
  const kitchen = useKitchen()
  const [writing, setWriting] = useState(false)
  const [stopping, setStopping] = useState(false)
  const queries = useQueryClient()
  const say = useSay()
  async function stop() {
    setStopping(false)
    try {
      await ask(api.POST('/api/v1/orders/{id}/no-more', { params: { path: { id: order.id } } }))
      await askAnew(queries, ['messages'])
    } catch (error) {
      say.refused(error)
    }
  }
  const drafts = useQuery({
    queryKey: ['order-messages', order.id, order.revision],
    queryFn: () => ask(api.GET('/api/v1/orders/{id}/messages', { params: { path: { id: order.id } } })),
    refetchInterval: (q) => (q.state.data?.messages.some((m) => m.state === 'waiting') ? 5_000 : false),
  })
  if (!drafts.data) return null
  return (
    <div className="order-messages">
      <ul aria-label={words.title}>
        {drafts.data.messages.map((m) => {
          const sign = signOf(m.state)
          return (
            <li key={m.id}>
              <span>
                {sign && <Sign kind={sign} size={13} />} {words.kinds[m.kind]}{' '}
                <small className="soft">{standing(m, kitchen)}</small>
                {m.says && m.state !== 'sent' && <small className="soft"> {m.says}</small>}
              </span>
              {m.state === 'waiting' && <Deeds m={m} />}
            </li>
          )
        })}
      </ul>
      {drafts.data.refused ? (
        <p className="soft">{words.wantsNone}</p>
      ) : (
        <p>
          <Button onClick={() => setWriting(true)}>{words.write}</Button>{' '}
          {(drafts.data.mail || drafts.data.phone) && (
            <Button type="link" className="link quiet" onClick={() => setStopping(true)}>
              {words.theyWantNone}
            </Button>
          )}
        </p>
      )}
      {stopping && (
        <Sheet
          title={words.noMoreTo(order.draft.customer)}
          close={() => setStopping(false)}
          onOk={() => void stop()}
          okText={words.noMore}
        >
          <p>{words.noMoreWhat}</p>
        </Sheet>
      )}
      {writing && <Write order={order} drafts={drafts.data} close={() => setWriting(false)} />}
    </div>
  )
}

/** A message by hand: the words that are set for its occasion, filled in, to be changed before it leaves. */
function Write({ order, drafts, close }: { order: Schemas['OrdersOrder']; drafts: Drafts; close: () => void }) {
  const queries = useQueryClient()
  const say = useSay()
  const [key] = useState(newKey)
  const first = drafts.drafts.find((d) => d.fits) ?? drafts.drafts[0]!
  const [m, setM] = useState(first)
  const [refused, setRefused] = useState<Refused>()
  async function put() {
    try {
      const written = await ask(
        api.POST('/api/v1/orders/{id}/messages', {
          params: { path: { id: order.id }, header: { 'Idempotency-Key': key } },
          body: { kind: m.kind, way: m.way, subject: m.subject, body: m.body },
        }),
      )
      close()
      await askAnew(queries, ['messages'])
      say.done('message', words.written, () => {
        const path = { id: written.id, deed: 'undo' as const }
        void ask(api.POST('/api/v1/messages/{id}/{deed}', { params: { path } }))
          .catch(say.refused)
          .finally(() => void askAnew(queries, ['messages']))
      })
    } catch (error) {
      if (!(error instanceof Refused)) throw error
      setRefused(error)
    }
  }
  const fault = (path: string) => refused?.at(path)
  return (
    <Sheet title={words.writeTo(order.draft.customer)} close={close} onOk={() => void put()} okText={words.put}>
      <Field label={words.about}>
        <Select
          value={m.kind}
          options={drafts.drafts.map((d) => ({ value: d.kind, label: words.kinds[d.kind] }))}
          onChange={(kind) => setM(drafts.drafts.find((d) => d.kind === kind)!)}
        />
      </Field>
      <Field label={words.by} fault={fault('way')}>
        <Segmented<typeof m.way>
          value={m.way}
          options={[
            { value: 'mail', label: drafts.mail || words.byMail },
            { value: 'text', label: drafts.phone || words.byText },
          ]}
          onChange={(way) => setM({ ...m, way })}
        />
      </Field>
      {m.way === 'mail' && (
        <Field label={words.subject} fault={fault('subject')}>
          <Input value={m.subject} maxLength={150} onChange={(e) => setM({ ...m, subject: e.target.value })} />
        </Field>
      )}
      <Field label={words.body} fault={fault('body')}>
        <Input.TextArea
          rows={11}
          maxLength={4000}
          value={m.body}
          onChange={(e) => setM({ ...m, body: e.target.value })}
        />
      </Field>
      {refused && !fault('way') && !fault('subject') && !fault('body') && (
        <p className="fault" role="alert">
          {refused.message}
        </p>
      )}
    </Sheet>
  )
}
