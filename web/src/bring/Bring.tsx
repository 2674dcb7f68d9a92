import { keepPreviousData, useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { Alert, Button, Input, Segmented, Select } from 'antd'
import { type ReactNode, useDeferredValue, useRef, useState } from 'react'
import { Link } from 'react-router'
import { api, ask, Refused, type Schemas } from '../api/client'
import { useFound, useKeep } from '../device/drafts'
import { newKey } from '../device/register'
import { Field } from '../kit/Field'
import { useSay } from '../kit/say'
import { OpenFile } from '../kit/OpenFile'
import { useKitchen } from '../shell/kitchen'
import './bring.css'
import { words } from './words'

type Kind = 'customers' | 'prices'
type CustomerColumns = Schemas['BringCustomerColumns']
type PriceColumns = Schemas['BringPriceColumns']
interface Typed {
  kind: Kind
  text: string
}

/** Customers and a price list from elsewhere: read, checked by a person, and then taken. */
export default function Bring() {
  const found = useFound<Typed>('bring')
  const [typed, setTyped] = useState<Typed>(found.value ?? { kind: 'customers', text: '' })
  const [customers, setCustomers] = useState<CustomerColumns>()
  const [prices, setPrices] = useState<PriceColumns>()
  const [wrong, setWrong] = useState<string>()
  useKeep('bring', { title: words.title, to: '/bring' }, typed, typed.text.trim() !== '', found)
  const { kind, text } = useDeferredValue(typed)
  const read = useQuery({
    queryKey: ['brought', kind, text, customers, prices],
    queryFn: ({ signal }) =>
      ask(api.POST('/api/v1/calculators/brought', { body: { kind, text, customers, prices }, signal })),
    enabled: text.trim() !== '',
    retry: false,
    gcTime: 60_000,
    placeholderData: keepPreviousData,
  })
  const begin = (next: Partial<Typed>) => {
    setTyped({ ...typed, ...next })
    setCustomers(undefined)
    setPrices(undefined)
    setWrong(undefined)
  }
  const over = () => {
    found.forget()
    setTyped({ kind, text: '' })
  }
  async function open(file: File) {
    if (file.size > 1 << 20) setWrong(words.tooLarge)
    else begin({ text: await file.text() })
  }
  const refused = read.error instanceof Refused ? (read.error.at('text') ?? read.error.message) : undefined
  const r = text.trim() === '' || read.error ? undefined : read.data
  return (
    <section className="wide bring">
      <header className="work-head">
        <h1>{words.title}</h1>
        <p className="soft">{words.lead}</p>
      </header>
      <p className="bring-how">
        <Segmented
          aria-label={words.kind}
          options={words.kinds}
          value={typed.kind}
          onChange={(value) => begin({ kind: value as Kind })}
        />
        <OpenFile label={words.open} accept=".csv,text/csv,text/plain" open={open}>
          <Button>{words.open}</Button>
        </OpenFile>
      </p>
      <Input.TextArea
        aria-label={words.paste}
        rows={6}
        value={typed.text}
        placeholder={words.example[typed.kind]}
        status={refused ? 'error' : undefined}
        onChange={(e) => setTyped({ ...typed, text: e.target.value })}
      />
      {(wrong ?? refused) && (
        <p className="fault" role="alert">
          {wrong ?? refused}
        </p>
      )}
      {r?.customerColumns && typed.kind === 'customers' && (
        <>
          <Columns
            head={r.head}
            names={words.customerColumns}
            value={r.customerColumns}
            set={(c) => setCustomers(c as CustomerColumns)}
          />
          <People list={r.customers} over={over} />
        </>
      )}
      {r?.priceColumns && typed.kind === 'prices' && (
        <>
          <Columns
            head={r.head}
            names={words.priceColumns}
            value={r.priceColumns}
            set={(c) => setPrices(c as PriceColumns)}
          />
          <Prices list={r.prices} over={over} />
        </>
      )}
      {r && r.bad.length > 0 && (
        <Alert
          type="warning"
          title={words.bad(r.bad.length)}
          description={
            <ul>
              {r.bad.slice(0, 20).map((b) => (
                <li key={b.line}>
                  <b>{words.line(b.line)}</b>: {b.says} <small className="soft">{b.text}</small>
                </li>
              ))}
            </ul>
          }
        />
      )}
    </section>
  )
}

/** Which column of the file is which. */
function Columns<T extends Record<string, number>>(p: {
  head: string[]
  names: Record<keyof T, string>
  value: T
  set: (value: T) => void
}) {
  const options = [
    { value: -1, label: words.none },
    ...p.head.map((h, value) => ({ value, label: h.trim() || words.column(value + 1) })),
  ]
  return (
    <fieldset className="bring-columns">
      <legend>{words.columns}</legend>
      {Object.entries(p.names).map(([key, name]) => (
        <Field key={key} label={name}>
          <Select
            aria-label={name}
            value={p.value[key]}
            options={options}
            onChange={(column) => p.set({ ...p.value, [key]: column })}
          />
        </Field>
      ))}
    </fieldset>
  )
}

const shownRows = 200

/** A table in a frame that scrolls. (The library's own writes style elements that the content policy refuses.) */
function Rows({ head, children }: { head: string[]; children: ReactNode }) {
  return (
    <div className="bring-rows" role="region" aria-label={words.read} tabIndex={0}>
      <table>
        <thead>
          <tr>
            {head.map((h) => (
              <th key={h} scope="col">
                {h}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>{children}</tbody>
      </table>
    </div>
  )
}

const More = ({ n }: { n: number }) => (n > 0 ? <p className="soft">{words.more(n)}</p> : null)

function People({ list, over }: { list: Schemas['BringCustomer'][]; over: () => void }) {
  const queries = useQueryClient()
  const say = useSay()
  const key = useRef(newKey())
  const back = useMutation({
    mutationFn: (id: string) => ask(api.DELETE('/api/v1/customers/brought/{id}', { params: { path: { id } } })),
    onError: say.refused,
    onSettled: () => queries.invalidateQueries({ queryKey: ['customers'] }),
  })
  const add = useMutation({
    mutationFn: () =>
      ask(
        api.POST('/api/v1/customers', {
          params: { header: { 'Idempotency-Key': key.current } },
          body: { customers: list },
        }),
      ),
    onSuccess: (done) => {
      key.current = newKey()
      over()
      say.done(
        'bring',
        words.added(done.added, done.known),
        done.added > 0 ? () => back.mutate(done.brought) : undefined,
      )
    },
    onError: say.refused,
    onSettled: () => queries.invalidateQueries({ queryKey: ['customers'] }),
  })
  if (list.length === 0) return null
  const n = words.customerColumns
  return (
    <>
      <Rows head={[n.name, n.phone, n.mail, n.place, n.notes]}>
        {list.slice(0, shownRows).map((c) => (
          <tr key={`${c.name} ${c.phone} ${c.mail}`}>
            <td>{c.name}</td>
            <td>{c.phone}</td>
            <td>{c.mail}</td>
            <td>{c.place}</td>
            <td>{c.notes}</td>
          </tr>
        ))}
      </Rows>
      <More n={list.length - shownRows} />
      <Button type="primary" size="large" loading={add.isPending} onClick={() => add.mutate()}>
        {words.addCustomers(list.length)}
      </Button>
    </>
  )
}

function Prices({ list, over }: { list: Schemas['BringListed'][]; over: () => void }) {
  const kitchen = useKitchen()
  const queries = useQueryClient()
  const say = useSay()
  const treats = useQuery({ queryKey: ['treats'], queryFn: () => ask(api.GET('/api/v1/treats', {})) })
  const [chosen, setChosen] = useState<Record<string, string>>({}) // by name; empty: left out
  const set = (prices: Schemas['BringListPrice'][]) => ask(api.PUT('/api/v1/list-prices', { body: { prices } }))
  const refresh = () => {
    void queries.invalidateQueries({ queryKey: ['treats'] })
    void queries.invalidateQueries({ queryKey: ['estimate'] })
  }
  const rows = list.map((p) => ({ ...p, treat: chosen[p.name] ?? p.treat ?? '' }))
  const ready = rows.filter((p) => p.treat)
  const take = useMutation({
    mutationFn: () => set(ready.map((p) => ({ treat: p.treat, price: p.price, count: p.count }))),
    onSuccess: (before) => {
      say.done('bring', words.priced(ready.length), () => void set(before.prices).then(refresh, say.refused))
      over()
    },
    onError: say.refused,
    onSettled: refresh,
  })
  if (treats.data?.treats.length === 0) {
    return (
      <p className="empty">
        {words.noTreats} <Link to="/start">{words.makeTreats}</Link>
      </p>
    )
  }
  const options = [
    { value: '', label: words.leave },
    ...(treats.data?.treats ?? []).map((t) => ({ value: t.id, label: t.name })),
  ]
  return (
    <>
      <Rows head={[words.item, words.price, words.treat]}>
        {rows.slice(0, shownRows).map((p, i) => (
          <tr key={`${i} ${p.name}`}>
            <td>{p.name}</td>
            <td className="figure">
              {kitchen.money({ amount: p.price, currency: kitchen.session.currency ?? 'USD' })} {words.per} {p.count}
            </td>
            <td>
              <Select
                aria-label={words.which(p.name)}
                showSearch={{ optionFilterProp: 'label' }}
                style={{ width: 260 }}
                value={p.treat}
                options={options}
                onChange={(treat) => setChosen({ ...chosen, [p.name]: treat })}
              />
            </td>
          </tr>
        ))}
      </Rows>
      <More n={rows.length - shownRows} />
      <Button
        type="primary"
        size="large"
        disabled={ready.length === 0}
        loading={take.isPending}
        onClick={() => take.mutate()}
      >
        {words.addPrices(ready.length)}
      </Button>
    </>
  )
}
