import { useQuery, useQueryClient } from '@tanstack/react-query'
import { Button, Input, InputNumber } from 'antd'
import { Link, useNavigate } from 'react-router'
import { api, ask, askTagged, etag, missing, type Schemas } from '../api/client'
import { askAnew } from '../api/topics'
import { useDocument } from '../device/useDocument'
import { Day } from '../kit/Day'
import { Face } from '../kit/Face'
import { Field } from '../kit/Field'
import { Sign } from '../kit/glyphs'
import { useSay } from '../kit/say'
import { TimeOfDay } from '../kit/TimeOfDay'
import { dayName, useKitchen } from '../shell/kitchen'
import { Brings } from './Brings'
import { Made } from './Made'
import { Plan } from './Plan'
import { Tables } from './Tables'
import { words } from './words'

export type Full = Schemas['EventsFull']

/** What every part of the page gets: the event as it is typed, and how to change it. */
export interface Part {
  e: Full
  set: (change: Partial<Full>) => void
  fault: (path: string) => string | undefined
}

/** An event: who comes, what is made for it, what is paid when, and who brings what. */
export function Event({ id }: { id: string }) {
  const kitchen = useKitchen()
  const queries = useQueryClient()
  const navigate = useNavigate()
  const say = useSay()
  const stored = useQuery({
    queryKey: ['events', id],
    queryFn: () => askTagged(api.GET('/api/v1/occasions/{id}', { params: { path: { id } } })),
    placeholderData: undefined,
  })
  const form = useDocument(
    `event/${id}`,
    { title: stored.data?.data.name ?? words.title, to: `/events/${id}` },
    stored,
    (v: Full, revision) =>
      ask(
        api.PUT('/api/v1/occasions/{id}', {
          params: { path: { id }, header: { 'If-Match': etag(revision) } },
          body: {
            name: v.name,
            host: v.host,
            place: v.place,
            begins: v.begins,
            setup: v.setup,
            countBy: v.countBy,
            tables: v.tables,
            plan: v.plan,
            restBy: v.restBy,
            brings: v.brings,
            follow: v.follow,
            notes: v.notes,
            orders: v.orders,
          },
        }),
      ),
    () => {
      void askAnew(queries, ['events'])
      say.done('event', words.saved)
    },
  )
  if (stored.error && missing(stored.error)) return <p className="events-choose soft">{stored.error.message}</p>
  const e = form.value
  if (!e) return <Face of={[stored]} />
  const part: Part = {
    e,
    set: (change) => form.set({ ...e, ...change }),
    fault: (path) => form.refused?.at(path),
  }
  const { set, fault } = part
  const begins = kitchen.local(e.begins)
  const at = (day: string, minute: number) =>
    set({
      begins: kitchen.instant(
        day,
        `${String(Math.floor(minute / 60)).padStart(2, '0')}:${String(minute % 60).padStart(2, '0')}`,
      ),
    })
  const minute = begins.hour() * 60 + begins.minute()
  async function remove() {
    try {
      await ask(api.DELETE('/api/v1/occasions/{id}', { params: { path: { id } } }))
      form.drop()
      void navigate('/events')
      say.done('event', words.goneSaid(e!.name))
      await askAnew(queries, ['events', 'orders'])
    } catch (error) {
      say.refused(error)
    }
  }
  return (
    <form
      className="event"
      aria-label={e.name}
      noValidate
      onSubmit={(x) => {
        x.preventDefault()
        form.save()
      }}
    >
      {form.notice}
      <div className="event-head">
        <Field label={words.name} fault={fault('name')}>
          <Input className="event-name" value={e.name} onChange={(x) => set({ name: x.target.value })} />
        </Field>
        <Field label={words.day} fault={fault('begins')} group>
          <span className="event-when">
            <Day label={words.day} value={begins.format('YYYY-MM-DD')} onChange={(day) => day && at(day, minute)} />
            <TimeOfDay label={words.begins} value={minute} set={(m) => at(begins.format('YYYY-MM-DD'), m)} />
          </span>
        </Field>
        <Field label={words.host} fault={fault('host')}>
          <Input value={e.host} onChange={(x) => set({ host: x.target.value })} />
        </Field>
        <Field label={words.place} fault={fault('place')}>
          <Input value={e.place} onChange={(x) => set({ place: x.target.value })} />
        </Field>
        <Field label={words.setup} fault={fault('setup')} help={words.setupHelp}>
          <InputNumber min={0} max={1440} value={e.setup} onChange={(n) => set({ setup: n ?? 0 })} />
        </Field>
        {e.setup > 0 && <Link to={`/handover/drive/${begins.format('YYYY-MM-DD')}`}>{words.setupInPlan}</Link>}
      </div>
      <Deadlines e={e} />
      <div className="event-parts">
        <Tables {...part} />
        <Made {...part} dirty={form.dirty} />
        <Plan {...part} />
        <Brings {...part} />
        <Field label={words.notes} fault={fault('notes')}>
          <Input.TextArea rows={3} value={e.notes} onChange={(x) => set({ notes: x.target.value })} />
        </Field>
      </div>
      <p className={form.dirty ? 'event-save waits' : 'event-save'}>
        {form.dirty && (
          <Button type="primary" htmlType="submit" loading={form.saving}>
            {words.save}
          </Button>
        )}
        <Button type="link" className="link quiet" onClick={() => void remove()}>
          {words.gone}
        </Button>
      </p>
    </form>
  )
}

/** What must be settled by when, from the first on, as a line on which one walks. */
const Deadlines = ({ e }: { e: Full }) => (
  <ol className="deadlines" aria-label={words.deadlines}>
    {e.deadlines.map((d) => {
      const past = d.days < 0 && !d.done
      return (
        <li key={d.kind + d.by} className={d.done ? 'done' : past ? 'past' : undefined}>
          <b>{dayName(d.by)}</b>
          <span>{words.kinds[d.kind]}</span>
          <small className={past ? 'trouble' : 'soft'}>
            {past && <Sign kind="trouble" size={12} />} {d.done ? words.done : words.inDays(d.days)}
          </small>
        </li>
      )
    })}
  </ol>
)
