import { useQuery, useQueryClient } from '@tanstack/react-query'
import { Button } from 'antd'
import { Link, useNavigate, useParams } from 'react-router'
import { api, ask } from '../api/client'
import { askAnew } from '../api/topics'
import { Face } from '../kit/Face'
import { useSay } from '../kit/say'
import { dayName, plusDays, useKitchen } from '../shell/kitchen'
import { Event } from './Event'
import { words } from './words'
import './events.css'

/** Occasions for which several orders are made. */
export default function Events() {
  const { id } = useParams()
  const kitchen = useKitchen()
  const queries = useQueryClient()
  const navigate = useNavigate()
  const say = useSay()
  const events = useQuery({ queryKey: ['events', 'list'], queryFn: () => ask(api.GET('/api/v1/occasions', {})) })
  async function begin() {
    try {
      const made = await ask(
        api.POST('/api/v1/occasions', {
          body: {
            name: words.newName,
            host: '',
            place: '',
            begins: kitchen.instant(plusDays(kitchen.today(), 21), '18:00'),
            setup: 0,
            countBy: '',
            tables: [{ name: '', guests: 0 }],
            plan: [],
            restBy: '',
            brings: [],
            follow: [],
            notes: '',
            orders: [],
          },
        }),
      )
      await askAnew(queries, ['events'])
      void navigate(`/events/${made.id}`)
    } catch (error) {
      say.refused(error)
    }
  }
  if (!events.data) return <Face title={words.title} of={[events]} />
  return (
    <div className="events">
      <section className="events-list" aria-label={words.title}>
        <h1>{words.title}</h1>
        <p className="soft">{words.lead}</p>
        <Button type="primary" onClick={() => void begin()}>
          {words.newEvent}
        </Button>
        {events.data.events.length === 0 && <p className="empty">{words.none}</p>}
        <ul>
          {events.data.events.map((e) => {
            const day = kitchen.local(e.begins).format('YYYY-MM-DD')
            return (
              <li key={e.id}>
                <Link to={`/events/${e.id}`} aria-current={e.id === id ? 'page' : undefined}>
                  <b>{e.name}</b>
                  <small>
                    {[dayName(day), words.guests(e.guests), words.orders(e.orders)].join(' · ')}
                    {day < kitchen.today() && ` · ${words.over}`}
                  </small>
                  {e.next && day >= kitchen.today() && (
                    <small className={e.next.days < 0 ? 'trouble' : undefined}>
                      {words.kinds[e.next.kind]}: {words.inDays(e.next.days)}
                    </small>
                  )}
                </Link>
              </li>
            )
          })}
        </ul>
      </section>
      {id ? <Event key={id} id={id} /> : <p className="events-choose soft">{words.choose}</p>}
    </div>
  )
}
