import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { Button, Input, InputNumber } from 'antd'
import { useState } from 'react'
import { api, ask, Refused, type Schemas } from '../api/client'
import { Fault, Field } from '../kit/Field'
import { Sheet } from '../kit/Sheet'
import { Sign } from '../kit/glyphs'
import { useSay } from '../kit/say'
import { moneyOf, useKitchen } from '../shell/kitchen'
import './shortfalls.css'
import { words } from './words'

type Shortfall = Schemas['OrderShortfall']

/** Lines of orders in work of which fewer good pieces are left than were promised. */
export function useShortfalls() {
  const known = useQuery({ queryKey: ['shortfalls'], queryFn: () => ask(api.GET('/api/v1/shortfalls', {})) })
  return known.data?.shortfalls ?? []
}

/** What is missing, of one order or of all, with the two things that help. */
export function Shortfalls({ order }: { order?: string }) {
  const queries = useQueryClient()
  const say = useSay()
  const list = useShortfalls().filter((s) => !order || s.order === order)
  const [fewer, setFewer] = useState<Shortfall>()
  const more = useMutation({
    mutationFn: (s: Shortfall) =>
      ask(
        api.POST('/api/v1/orders/{id}/remakes', {
          params: { path: { id: s.order } },
          body: { line: s.line, count: s.missing },
        }),
      ),
    onSuccess: (_, s) => say.done('more', words.moreMade(s.missing, s.name)),
    onError: (error) => say.refused(error),
    onSettled: () => refresh(queries),
  })
  if (list.length === 0) return null
  return (
    <ul className="too-few" role="alert">
      {list.map((s) => (
        <li key={`${s.order}/${s.line}`}>
          <Sign kind="trouble" size={20} />
          <span>
            <b>{words.tooFew(s.good, s.wanted, s.name)}</b> {!order && words.tooFewFor(s.customer)}
          </span>
          <Button type="primary" loading={more.isPending} onClick={() => more.mutate(s)}>
            {words.makeMore(s.missing)}
          </Button>
          <Button onClick={() => setFewer(s)}>{words.changeOrder}</Button>
        </li>
      ))}
      {fewer && <Fewer of={fewer} close={() => setFewer(undefined)} />}
    </ul>
  )
}

function refresh(queries: ReturnType<typeof useQueryClient>) {
  for (const key of ['shortfalls', 'orders', 'order', 'plan', 'run-sheet', 'shelf', 'till']) {
    void queries.invalidateQueries({ queryKey: [key] })
  }
}

/** Fewer pieces are handed over, at another price. */
function Fewer({ of, close }: { of: Shortfall; close: () => void }) {
  const kitchen = useKitchen()
  const queries = useQueryClient()
  const say = useSay()
  const [count, setCount] = useState<number | null>(Math.max(of.good, 1))
  const [agreed, setAgreed] = useState('')
  const change = (to: { count: number; agreed?: string }) =>
    ask(api.POST('/api/v1/orders/{id}/counts', { params: { path: { id: of.order } }, body: { line: of.line, ...to } }))
  const save = useMutation({
    mutationFn: async () => {
      const was = await ask(api.GET('/api/v1/orders/{id}', { params: { path: { id: of.order } } }))
      await change({ count: count ?? 0, agreed: agreed || undefined })
      return was.agreed?.amount
    },
    onSuccess: (was) => {
      say.done('fewer', words.changed(of.customer), () => {
        void change({ count: of.wanted, agreed: was }).then(() => refresh(queries), say.refused)
      })
      close()
    },
    onSettled: () => refresh(queries),
  })
  const refused = save.error instanceof Refused ? save.error : undefined
  const fault = (path: string) => refused?.at(path)
  return (
    <Sheet title={words.fewer(of.customer, of.name)} close={close} okText={words.saveChange} onOk={() => save.mutate()}>
      <p>{words.fewerLead(of.good, of.wanted)}</p>
      <Field label={words.pieces} fault={fault('count')}>
        <InputNumber min={1} max={of.wanted} value={count} onChange={setCount} />
      </Field>
      <Field label={words.newPrice} fault={fault('agreed')} help={words.newPriceHelp}>
        <Input
          value={agreed}
          inputMode="decimal"
          prefix={moneyOf.sign(kitchen.session.currency ?? 'USD')}
          onChange={(e) => setAgreed(e.target.value)}
        />
      </Field>
      <Fault>{refused && !fault('count') && !fault('agreed') && refused.message}</Fault>
    </Sheet>
  )
}
