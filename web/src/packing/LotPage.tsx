import { useQuery } from '@tanstack/react-query'
import { useParams } from 'react-router'
import { api, ask } from '../api/client'
import { Face } from '../kit/Face'
import { Link } from '../shell/Go'
import { dayName, useKitchen } from '../shell/kitchen'
import { stateName } from '../orders/draft'
import { words } from './words'
import './packing.css'

/** Every order that got some of a lot, with whom to tell: what one needs when something has to come back. */
export default function LotPage() {
  const { id = '' } = useParams()
  const kitchen = useKitchen()
  const trace = useQuery({
    queryKey: ['lot', id],
    queryFn: () => ask(api.GET('/api/v1/lots/{id}/orders', { params: { path: { id } } })),
  })
  if (!trace.data) return <Face title={words.lots} of={[trace]} />
  const { lot, orders } = trace.data
  return (
    <section className="wide">
      <header className="work-head">
        <h1>{words.lotHead(lot.name)}</h1>
        <p className="soft">
          {words.boughtOn(words.origin[lot.origin], dayName(lot.day), lot.shop ?? '')}.{' '}
          {orders.length === 0 ? words.nobodyGotAny : words.ordersWithIt(orders.length)}
        </p>
        {orders.length > 0 && (
          <a className="button-link" href={`/api/v1/lots/${id}/orders.csv`} download>
            {words.asCsv}
          </a>
        )}
      </header>
      {orders.length > 0 && <p className="care">{words.whoToTell}</p>}
      <ul className="pack-rows lot-orders">
        {orders.map((o) => (
          <li key={o.id}>
            <span>
              <Link to={`/handover/${o.id}`}>
                <b>{o.customer}</b>
              </Link>{' '}
              <small className="inline">
                {stateName[o.state]} · {kitchen.moment(o.from)}
              </small>
              <small>
                {o.treats.join(', ')} · {o.used ? words.used(kitchen.amount(o.used)) : words.inSomethingElse}
              </small>
            </span>
            <span>
              {o.phone && <a href={`tel:${o.phone.replaceAll(' ', '')}`}>{o.phone}</a>}{' '}
              {o.mail && <a href={`mailto:${o.mail}`}>{o.mail}</a>}
            </span>
          </li>
        ))}
      </ul>
    </section>
  )
}
