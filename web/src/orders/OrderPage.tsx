import { useQuery, useQueryClient } from '@tanstack/react-query'
import { Button, Input } from 'antd'
import { useEffect, useLayoutEffect, useRef, useState } from 'react'
import { useLocation, useNavigate, useParams, useSearchParams } from 'react-router'
import { api, ask, missing, Refused, type Schemas } from '../api/client'
import { askAnew } from '../api/topics'
import { drop, useFound, useKeep } from '../device/drafts'
import { newKey } from '../device/register'
import { Face } from '../kit/Face'
import { Boxes } from '../boxes/Boxes'
import { MixedBoxes } from '../boxes/MixedBoxes'
import { useSay } from '../kit/say'
import { useKitchen } from '../shell/kitchen'
import { useShelf } from '../shell/Shelf'
import { QuickHours } from '../plan/QuickHours'
import { type Draft, fieldName, sameDraft, type State, stateName, verb } from './draft'
import { caughtUp, type KeptOrder, placeOf } from './kept'
import { OrderLines } from './Lines'
import { OrderMessages } from '../messages/OrderMessages'
import { InvoiceList } from './InvoiceList'
import { Payments } from './Payments'
import { PriceTag } from './PriceTag'
import { QuotePanel } from './QuotePanel'
import { Parts } from './Estimate'
import { Helps } from './Helps'
import './orders.css'
import './order.css'
import { usePreview } from './preview'
import { useEstimate } from './estimate'
import { SaidLine } from './SaidLine'
import { DayHeat } from '../drive/DayHeat'
import { Wishes } from './Wishes'
import { Sentence, useWindow } from './Sentence'
import { Shortfalls } from './Shortfalls'
import { useSaving } from './saving'
import { type Start, useStart } from './again'
import { WhatIf } from './WhatIf'
import { useAllergens } from '../larder/allergens'
import { words } from './words'

type Order = Schemas['OrdersOrder']
const ahead: State[] = ['promised', 'in the making', 'packed']
const planned: State[] = [...ahead, 'handed over', 'settled']
/** With what one comes to a new order: what was typed in Find, a customer, or an order that is asked for again. */
interface Come extends Start {
  said?: string
  key?: string
}

/** An order, written as a sentence; it saves itself as one goes. */
export default function OrderPage() {
  const { id } = useParams()
  const come = useLocation().state as Come | null
  const order = useQuery({
    queryKey: ['order', id],
    queryFn: () => ask(api.GET('/api/v1/orders/{id}', { params: { path: { id: id! } } })),
    enabled: id !== 'new',
    placeholderData: undefined,
  })
  // A new order that has just been saved gets its address while one types: the page stays as it is, so that no key and
  // no click is lost. Only an address that was really shown counts: on its way to the new one the page may be drawn at
  // the old one again.
  const blank = useQuery({
    queryKey: ['orders', 'blank'],
    queryFn: () => ask(api.GET('/api/v1/orders/blank', {})),
    enabled: id === 'new',
  })
  const start = useStart(id === 'new' ? come : null)
  const [fresh, setFresh] = useState({ number: 0, born: '' })
  const kept = useSearchParams()[0].get('kept') ?? undefined // a new order that was begun on this device
  const shown = useRef(id)
  useLayoutEffect(() => {
    const left = shown.current === fresh.born && id !== fresh.born
    shown.current = id
    if (left && fresh.born) setFresh({ number: fresh.number + 1, born: '' })
  }, [id, fresh])
  if (id === 'new' || fresh.born === id) {
    if (!blank.data || !start.ready) return <Face title={words.newOrder} of={[blank, ...start.of]} />
    return (
      <Editor
        key={`new-${fresh.number}-${come?.key ?? kept ?? ''}`}
        blank={{ ...blank.data, ...start.draft }}
        kept={kept}
        said={come?.said}
        latest={order.data}
        onBorn={(made) => setFresh({ number: fresh.number, born: made })}
      />
    )
  }
  if (order.error && missing(order.error)) {
    return (
      <section className="work">
        <h1>{words.orderNotFound}</h1>
        <p className="soft">{order.error.message}</p>
      </section>
    )
  }
  if (!order.data) return <Face title={words.order} of={[order]} />
  return <Editor key={id} blank={order.data.draft} saved={order.data} latest={order.data} />
}

interface EditorProps {
  blank: Draft
  saved?: Order
  latest?: Order
  said?: string
  kept?: string
  onBorn?: (id: string) => void
}

function Editor({ blank, saved, latest, said, kept, onBorn }: EditorProps) {
  const kitchen = useKitchen()
  const navigate = useNavigate()
  const come: unknown = useLocation().state // kept, so that the page stays the same one
  const queries = useQueryClient()
  const say = useSay()
  const [own] = useState(() => kept ?? newKey()) // of a new order, until it has an address
  const found = useFound<KeptOrder>(placeOf(saved?.id ?? own))
  const [before] = useState(() => caughtUp(found.value, saved))
  const [draft, setDraft] = useState<Draft>(() => before?.draft ?? saved?.draft ?? blank)
  const saving = useSaving(before?.base ?? saved, draft, setDraft, latest, before, (made) => {
    drop(placeOf(own))
    onBorn?.(made.id)
    queries.setQueryData(['order', made.id], made)
    void navigate(`/orders/${made.id}`, { replace: true, state: come })
  })
  const order = saving.order
  useKeep(
    placeOf(order?.id ?? own),
    {
      title: words.keptTitle(draft.customer, order?.number),
      to: order ? `/orders/${order.id}` : `/orders/new?kept=${own}`,
    },
    { draft, base: order, key: saving.key },
    order ? !saving.clean : !sameDraft(draft, blank),
    found,
  )
  // A new order that is being written has its place in the address, for a reload; the router need not know.
  const begun = !order && draft !== blank
  useEffect(() => {
    if (begun && location.pathname === '/orders/new') history.replaceState(history.state, '', `/orders/new?kept=${own}`)
  }, [begun, own])
  const wishes = useAllergens()
  const treats = useQuery({ queryKey: ['treats'], queryFn: () => ask(api.GET('/api/v1/treats', {})) })
  const estimate = useEstimate(order?.id, draft)
  const wrong = [estimate.error, saving.refused].filter((e): e is Refused => e instanceof Refused)
  const fault = (path: string) => wrong.map((e) => e.at(path)).find(Boolean)
  const set = (change: Partial<Draft>) => setDraft((d) => ({ ...d, ...change }))

  const { day, from, to, window } = useWindow(draft, set)
  usePreview({
    order: order?.id,
    planned: (order?.days.length ?? 0) > 0,
    day,
    r: estimate.data,
    choose: (chosen) => window(chosen, from.format('HH:mm'), to.format('HH:mm')),
  })

  async function move(to: State) {
    try {
      await saving.flush()
      if (!saving.current()) return
      const before = saving.current()!.state
      const moved = await ask(
        api.POST('/api/v1/orders/{id}/moves', { params: { path: { id: saving.current()!.id } }, body: { to } }),
      )
      saving.take(moved)
      setDraft(moved.draft)
      await askAnew(queries, ['orders', 'plan'])
      say.done(
        'move',
        `${moved.draft.customer}: ${stateName[to]}.`,
        moved.moves.some((m) => m.to === before) ? () => void move(before) : undefined,
      )
    } catch (error) {
      say.refused(error)
    }
  }

  // A value of a field, as somebody else has set it.
  const shown = (value: Draft[keyof Draft]): string => {
    if (value === undefined || value === '') return words.empty
    if (Array.isArray(value)) {
      const said = value.map((x) =>
        typeof x === 'string'
          ? x
          : 'boxes' in x && 'pieces' in x
            ? words.soManyMixed(x.boxes)
            : `${x.count} ${treats.data?.treats.find((t) => t.id === x.treat)?.name ?? ''}`,
      )
      return said.join(', ') || words.empty
    }
    if (typeof value === 'object') return `${value.by} ${value.value}`
    return /^\d{4}-\d\d-\d\dT/.test(String(value)) ? kitchen.moment(String(value)) : String(value)
  }

  // Nobody works in the coming fortnight: no order can fit before hours are set.
  const shelf = useShelf()
  const idle = shelf.data?.tins.every((t) => t.hands === 0 && !t.reason)
  const lost = order?.days.some((d) => d.short) && !estimate.data?.when.fits
  const state: State = order?.state ?? 'enquiry'
  const moves = order?.moves ?? [{ to: 'promised' as const, back: false, next: true }]
  const next = moves.find((m) => m.next)
  const title = [draft.occasion, draft.customer].filter(Boolean).join(', ')
  return (
    <>
      <section className="work order-page">
        <p className="kicker" role="status">
          {order ? words.order3(order.number, stateName[state], saving.text) : saving.text}
        </p>
        <h1>{title || words.newOrder}</h1>
        {saving.conflict && (
          <div className="conflict" role="alert">
            <p>{words.conflict}</p>
            <ul>
              {saving.conflict.fields.map((f) => (
                <li key={f}>
                  <b>{fieldName[f]}</b>: {words.theirs} “{shown(saving.conflict!.theirs.draft[f])}”{' '}
                  <Button size="small" onClick={() => saving.settle(f, 'theirs')}>
                    {words.useTheirs}
                  </Button>{' '}
                  <Button size="small" onClick={() => saving.settle(f, 'mine')}>
                    {words.keepMine}
                  </Button>
                </li>
              ))}
            </ul>
          </div>
        )}
        {order && <Shortfalls order={order.id} />}
        {order && draft.way === 'delivery' && ahead.includes(order.state) && (
          <DayHeat day={kitchen.local(draft.from).format('YYYY-MM-DD')} order={order.id} />
        )}
        {!saved && <SaidLine draft={draft} take={setDraft} said={said} />}
        <Sentence draft={draft} set={set} fault={fault} home={blank.place ?? ''} fresh={!saved} />
        <OrderLines draft={draft} set={set} fault={fault} cards={estimate.data?.lines} allergens={wishes} />
        <fieldset className="free-from">
          <legend>{words.mustBeFreeFrom}</legend>
          {wishes.map((a) => (
            <Button
              key={a}
              aria-pressed={draft.freeFrom.includes(a)}
              className="pill"
              onClick={() =>
                set({
                  freeFrom: draft.freeFrom.includes(a) ? draft.freeFrom.filter((x) => x !== a) : [...draft.freeFrom, a],
                })
              }
            >
              {a}
            </Button>
          ))}
        </fieldset>
        <Wishes draft={draft} set={set} order={order?.id} wrong={Boolean(estimate.data?.care.some((c) => c.trouble))} />
        <div className="order-more">
          <label>
            <span>{words.notes}</span>
            <Input.TextArea
              value={draft.notes}
              onChange={(e) => set({ notes: e.target.value })}
              rows={2}
              status={fault('notes') ? 'error' : undefined}
            />
          </label>
        </div>
        <PriceTag draft={draft} set={set} r={estimate.data} agreed={order?.agreed?.amount} fault={fault} />
        {/* What an order gets with its first saving stands below: nothing moves under the pointer. */}
        <footer className="order-foot">
          {next && (
            <Button type="primary" size="large" disabled={!order && !draft.customer} onClick={() => void move(next.to)}>
              {verb(next)}
            </Button>
          )}
          {moves
            .filter((m) => m !== next)
            .map((m) => (
              <Button
                type="link"
                key={m.to}
                className={m.to === 'cancelled' ? 'link quiet' : 'link'}
                onClick={() => void move(m.to)}
              >
                {verb(m)}
              </Button>
            ))}
          {(state === 'enquiry' || state === 'quoted') && (
            <small className="soft">{words.confirmingBooksTheDaysTo}</small>
          )}
        </footer>
        {order && (
          <div className="order-side">
            <QuotePanel
              order={order}
              flush={saving.flush}
              take={(o) => {
                saving.take(o)
                setDraft(o.draft)
              }}
            />
            <Payments order={order} />
            {planned.includes(order.state) && <InvoiceList order={order} />}
            <OrderMessages order={order} />
          </div>
        )}
        {order && order.history.length > 1 && (
          <details className="history">
            <summary>{words.history}</summary>
            <ol>
              {order.history.map((h, i) => (
                <li key={i}>
                  {kitchen.moment(h.at)}:{' '}
                  {h.from
                    ? words.to3(stateName[h.from as State], stateName[h.to as State])
                    : h.to
                      ? words.created
                      : words.changedIt}
                  , {h.who}
                </li>
              ))}
            </ol>
          </details>
        )}
      </section>
      {next && state !== 'settled' && (
        <div className="order-bar" role="group" aria-label={words.bar}>
          {estimate.data && estimate.data.lines.length > 0 && (
            <span>
              {!next.back && (state === 'enquiry' || state === 'quoted') && (
                <b className={estimate.data.when.fits ? 'fine' : 'trouble'}>
                  {estimate.data.when.fits ? words.fits : words.fitsNot}
                </b>
              )}{' '}
              {kitchen.money(estimate.data.money.gross)}
            </span>
          )}
          <Button type="primary" size="large" disabled={!order && !draft.customer} onClick={() => void move(next.to)}>
            {verb(next)}
          </Button>
        </div>
      )}
      <aside className="takes" aria-label={words.whatItTakes}>
        <p className="kicker">{words.whatItTakes}</p>
        {estimate.error && (
          <p className="fault" role="alert">
            {estimate.error.message}
          </p>
        )}
        {estimate.data && (
          <Parts
            r={estimate.data}
            planned={order?.days}
            boxes={
              <Boxes
                r={estimate.data}
                own={(line) => (draft.lines[line]?.boxes ?? []).length > 0}
                use={(line, boxes) => set({ lines: draft.lines.map((l, i) => (i === line ? { ...l, boxes } : l)) })}
              />
            }
            helps={
              lost || (!estimate.data.when.fits && estimate.data.when.short.length > 0 && !order?.days.length) ? (
                <Helps order={order?.id} draft={draft} set={set} />
              ) : undefined
            }
          />
        )}
        <MixedBoxes
          order={order?.id}
          draft={draft}
          r={estimate.data}
          names={draft.lines.map((l) => treats.data?.treats.find((t) => t.id === l.treat)?.name ?? '')}
          set={set}
          fault={fault}
        />
        {idle && <QuickHours />}
        {estimate.data && estimate.data.lines.length > 0 && <WhatIf order={order?.id} draft={draft} />}
      </aside>
    </>
  )
}
