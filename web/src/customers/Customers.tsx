import { keepPreviousData, useQuery, useQueryClient } from '@tanstack/react-query'
import { Button, Input } from 'antd'
import { useDeferredValue, useState } from 'react'
import { Link, useNavigate, useParams } from 'react-router'
import { api, ask, type Schemas } from '../api/client'
import { askAnew } from '../api/topics'
import { Download } from '../kit/Download'
import { Face } from '../kit/Face'
import { OpenFile } from '../kit/OpenFile'
import { useSay } from '../kit/say'
import { dayName, useKitchen } from '../shell/kitchen'
import { Person } from './Person'
import { words } from './words'
import './customers.css'

export const pathOf = (name: string) => `/customers/${encodeURIComponent(name)}`

/** Who orders: how to reach them, what they always want, and what they had. */
export default function Customers() {
  const { name } = useParams()
  const queries = useQueryClient()
  const say = useSay()
  const [find, setFind] = useState('')
  const typed = useDeferredValue(find.trim())
  const book = useQuery({
    queryKey: ['customers', 'book', typed],
    queryFn: ({ signal }) => ask(api.GET('/api/v1/customers/book', { params: { query: { find: typed } }, signal })),
    placeholderData: keepPreviousData,
  })
  const before = useQuery({
    queryKey: ['customers', 'year-ago'],
    queryFn: () => ask(api.GET('/api/v1/customers/year-ago', {})),
  })
  async function cards(file: File) {
    try {
      const read = await ask(api.POST('/api/v1/customers/vcards', { body: { text: await file.text() } }))
      const added = await ask(api.POST('/api/v1/customers', { body: { customers: read.customers } }))
      await askAnew(queries, ['customers'])
      const bad = read.bad.length > 0 ? ` ${words.someBad(read.bad.length)}` : ''
      say.done('cards', words.read(added.added) + bad, () => {
        void ask(api.DELETE('/api/v1/customers/brought/{id}', { params: { path: { id: added.brought } } })).then(
          () => askAnew(queries, ['customers']),
          say.refused,
        )
      })
    } catch (error) {
      say.refused(error)
    }
  }
  if (!book.data) return <Face title={words.title} of={[book]} />
  const people = book.data.people
  return (
    <div className="customers">
      <section className="customers-book" aria-label={words.title}>
        <h1>{words.title}</h1>
        <Input
          type="search"
          aria-label={words.find}
          placeholder={words.findExample}
          value={find}
          onChange={(e) => setFind(e.target.value)}
          allowClear
        />
        {(before.data?.yearAgo ?? []).length > 0 && <YearAgo list={before.data!.yearAgo} />}
        {people.length === 0 && <p className="empty">{typed ? words.noneFound : words.none}</p>}
        <ul className="customers-list">
          {people.map((p) => (
            <One key={p.name} p={p} chosen={p.name.toLowerCase() === name?.toLowerCase()} />
          ))}
        </ul>
        <p className="customers-files">
          <Link to="/bring">{words.bring}</Link>
          <OpenFile label={words.cards} accept=".vcf,text/vcard" open={cards}>
            <Button type="link" className="link">
              {words.cards}
            </Button>
          </OpenFile>
          <Download href="/api/v1/customers/all.vcf" download="customers.vcf">
            {words.asCards}
          </Download>
          <Download href="/api/v1/customers/all.csv" download="customers.csv">
            {words.asCsv}
          </Download>
        </p>
      </section>
      {name ? <Person key={name.toLowerCase()} name={name} /> : <p className="customers-choose soft">{words.choose}</p>}
    </div>
  )
}

function One({ p, chosen }: { p: Schemas['CustomersPerson']; chosen: boolean }) {
  const kitchen = useKitchen()
  const day = (at: string) => dayName(kitchen.local(at).format('YYYY-MM-DD'))
  return (
    <li>
      <Link to={pathOf(p.name)} aria-current={chosen ? 'page' : undefined}>
        <b>{p.name}</b>
        <small>
          {[
            words.orders(p.orders),
            p.next ? words.next(day(p.next)) : p.last ? words.last(day(p.last)) : '',
            Number(p.paid.amount) > 0 ? kitchen.money(p.paid) : '',
          ]
            .filter(Boolean)
            .join(' · ')}
        </small>
      </Link>
    </li>
  )
}

/** Whom it is time to ask. */
function YearAgo({ list }: { list: Schemas['CustomersAnniversary'][] }) {
  const kitchen = useKitchen()
  const navigate = useNavigate()
  return (
    <div className="year-ago">
      <h2>{words.yearAgo}</h2>
      <ul>
        {list.map((a) => (
          <li key={a.order}>
            <Link to={pathOf(a.customer)}>
              {words.yearAgoOrdered(a.customer, a.lines.join(', '), a.occasion ?? '')}
            </Link>{' '}
            <small>{dayName(kitchen.local(a.from).format('YYYY-MM-DD'))}</small>{' '}
            <Button
              type="link"
              className="link"
              onClick={() => void navigate('/orders/new', { state: { again: a.order, key: a.order } })}
            >
              {words.again}
            </Button>
          </li>
        ))}
      </ul>
    </div>
  )
}
