import { useQuery, useQueryClient } from '@tanstack/react-query'
import { Button, Input, Select } from 'antd'
import { useState } from 'react'
import { Link, useNavigate } from 'react-router'
import { api, ask, askTagged, etag, missing, type Schemas } from '../api/client'
import { askAnew } from '../api/topics'
import { useDocument } from '../device/useDocument'
import { Asks } from '../kit/Asks'
import { Face } from '../kit/Face'
import { Download } from '../kit/Download'
import { Field } from '../kit/Field'
import { useSay } from '../kit/say'
import { useAllergens } from '../larder/allergens'
import { stateName } from '../orders/draft'
import { dayName, useKitchen } from '../shell/kitchen'
import { pathOf } from './Customers'
import { words } from './words'

type Customer = Schemas['CustomersCustomer']
type Found = Schemas['CustomersFound']

const fieldsOf = (c: Customer): Found => ({
  name: c.name,
  phone: c.phone ?? '',
  mail: c.mail ?? '',
  place: c.place ?? '',
  notes: c.notes ?? '',
  freeFrom: c.freeFrom,
  wishes: c.wishes,
})

/** A customer: what is written down of them, and their orders. */
export function Person({ name }: { name: string }) {
  const kitchen = useKitchen()
  const queries = useQueryClient()
  const navigate = useNavigate()
  const say = useSay()
  const allergens = useAllergens()
  const key = ['customers', 'person', name.toLowerCase()]
  const person = useQuery({
    queryKey: key,
    queryFn: () => askTagged(api.GET('/api/v1/customers/person', { params: { query: { name } } })),
    placeholderData: undefined,
  })
  const fields = {
    ...person,
    data: person.data && { data: fieldsOf(person.data.data), revision: person.data.revision },
    refetch: async () => {
      const again = await person.refetch()
      return { ...again, data: again.data && { data: fieldsOf(again.data.data), revision: again.data.revision } }
    },
  } as Parameters<typeof useDocument<Found, Customer>>[2]
  const form = useDocument<Found, Customer>(
    `customer/${name.toLowerCase()}`,
    { title: words.title2(name), to: pathOf(name) },
    fields,
    (body, revision) =>
      ask(
        api.PUT('/api/v1/customers/person', {
          params: { query: { name }, header: { 'If-Match': etag(revision) } },
          body,
        }),
      ),
    (saved) => {
      void askAnew(queries, ['customers', 'orders'])
      say.done('customer', words.saved(saved.name))
      if (saved.name !== name) void navigate(pathOf(saved.name), { replace: true })
    },
  )
  if (person.error && missing(person.error)) {
    return (
      <section className="customer">
        <h2>{name}</h2>
        <p className="soft">{person.error.message}</p>
      </section>
    )
  }
  const p = person.data?.data
  const value = form.value
  if (!p || !value) return <Face of={[person]} />
  const fault = (path: string) => form.refused?.at(path)
  const field = (at: 'name' | 'phone' | 'mail' | 'place', label: string) => (
    <Field label={label} fault={fault(at)}>
      <Input value={value[at] ?? ''} onChange={(e) => form.set({ ...value, [at]: e.target.value })} />
    </Field>
  )
  const last = p.history.find((h) => h.lines.length > 0)
  return (
    <section className="customer" aria-label={p.name}>
      <header>
        <h2>{p.name}</h2>
        <p>
          <b>{kitchen.money(p.paid)}</b> <span className="soft">{words.paid}</span>
        </p>
        <Button
          type="primary"
          onClick={() =>
            void navigate('/orders/new', { state: { again: last?.order, customer: p.name, key: `${p.name}-again` } })
          }
        >
          {last ? words.again : words.newOrder}
        </Button>
      </header>
      {form.notice}
      <form
        onSubmit={(e) => {
          e.preventDefault()
          form.save()
        }}
      >
        <div className="customer-fields">
          {field('name', words.name)}
          {field('phone', words.phone)}
          {field('mail', words.mail)}
          {field('place', words.place)}
        </div>
        <Field label={words.always} group help={words.alwaysHelp} fault={fault('freeFrom[0]') ?? fault('wishes[0]')}>
          <Asks
            label={words.always}
            asked={{ wishes: value.wishes, freeFrom: value.freeFrom }}
            allergens={allergens}
            change={(x) =>
              form.set({ ...value, freeFrom: x.freeFrom ?? [], wishes: (x.wishes ?? []) as Found['wishes'] })
            }
          />
        </Field>
        <Field label={words.notes} fault={fault('notes')}>
          <Input.TextArea
            rows={3}
            placeholder={words.notesExample}
            value={value.notes ?? ''}
            onChange={(e) => form.set({ ...value, notes: e.target.value })}
          />
        </Field>
        {form.dirty && (
          <Button type="primary" htmlType="submit" loading={form.saving}>
            {words.save}
          </Button>
        )}
      </form>
      <h3>{words.history}</h3>
      {p.history.length === 0 && <p className="soft">{words.noHistory}</p>}
      <ul className="customer-history">
        {p.history.map((h) => (
          <li key={h.order}>
            <Link to={`/orders/${h.order}`}>{words.order(h.number)}</Link>
            <span>{dayName(kitchen.local(h.from).format('YYYY-MM-DD'))}</span>
            <span className="soft">
              {h.occasion && `${h.occasion}: `}
              {h.lines.join(', ')}
            </span>
            <span>{stateName[h.state]}</span>
            <b>{h.gross && kitchen.money(h.gross)}</b>
          </li>
        ))}
      </ul>
      <MergeOrForget name={p.name} />
    </section>
  )
}

/** Two that are one, and somebody who wants to be forgotten. */
function MergeOrForget({ name }: { name: string }) {
  const queries = useQueryClient()
  const navigate = useNavigate()
  const say = useSay()
  const [open, setOpen] = useState<'merge' | 'forget'>()
  const [into, setInto] = useState<string>()
  const others = useQuery({
    queryKey: ['customers', 'book', ''],
    queryFn: () => ask(api.GET('/api/v1/customers/book', {})),
    enabled: open === 'merge',
  })
  const anew = () => askAnew(queries, ['customers', 'orders'])
  async function merge(to: string) {
    try {
      const back = await ask(api.POST('/api/v1/customers/merge', { body: { from: name, into: to } }))
      await anew()
      say.done('customer', words.merged(name, to), () => {
        ask(api.POST('/api/v1/customers/split', { body: back }))
          .then(anew)
          .then(() => navigate(pathOf(name)), say.refused)
      })
      void navigate(pathOf(to))
    } catch (error) {
      say.refused(error)
    }
  }
  async function forget() {
    try {
      await ask(api.POST('/api/v1/customers/forget', { body: { name } }))
      await anew()
      say.done('customer', words.forgotten)
      void navigate('/customers')
    } catch (error) {
      say.refused(error)
    }
  }
  if (open === 'merge') {
    return (
      <div className="customer-acts">
        <p>{words.mergeWhat}</p>
        <Select
          showSearch
          aria-label={words.mergeInto}
          placeholder={words.mergeInto}
          style={{ minWidth: 240 }}
          value={into}
          onChange={setInto}
          options={(others.data?.people ?? []).filter((p) => p.name !== name).map((p) => ({ value: p.name }))}
        />
        <Button type="primary" disabled={!into} onClick={() => into && void merge(into)}>
          {words.doMerge}
        </Button>
        <Button onClick={() => setOpen(undefined)}>{words.keep}</Button>
      </div>
    )
  }
  if (open === 'forget') {
    return (
      <div className="customer-acts">
        <p>{words.forgetWhat}</p>
        <Button danger onClick={() => void forget()}>
          {words.forgetNow}
        </Button>
        <Button onClick={() => setOpen(undefined)}>{words.keep}</Button>
      </div>
    )
  }
  return (
    <p className="customer-acts">
      <Button type="link" className="link" onClick={() => setOpen('merge')}>
        {words.merge}
      </Button>
      <Download href={`/api/v1/customers/file?name=${encodeURIComponent(name)}`} download="customer.json">
        {words.theirData}
      </Download>
      <Button type="link" className="link quiet" onClick={() => setOpen('forget')}>
        {words.forget}
      </Button>
    </p>
  )
}
