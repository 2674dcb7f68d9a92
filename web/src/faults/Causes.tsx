import { useQuery } from '@tanstack/react-query'
import { Button, Select } from 'antd'
import { useState } from 'react'
import { api, ask, Refused, type Schemas } from '../api/client'
import { words } from './words'
import { useTake } from './useTake'

type Where = Schemas['FaultsWhere']
type Told = Schemas['FaultsTold']

/** Less likely than this is not shown at once. */
const unlikely = 0.08

/** What is behind it, the likely one first, with what to do. */
export function Causes({ t, w, recorded, late }: { t: Told; w: Where; recorded: boolean; late: boolean }) {
  const [cream, setCream] = useState(t.creams[0]?.id ?? '')
  const { take, busy } = useTake(w)
  const [first, ...others] = t.causes
  const shown = others.filter((c) => c.likely >= unlikely)
  if (!first) return null
  const cause = (c: Told['causes'][number], lead: string) => (
    <article key={c.code} className="wrong-cause" aria-label={c.why}>
      <h3>
        <small>
          {lead} <b>{words.share(c.likely)}</b>
        </small>
        {c.why}
      </h3>
      <ul>
        {c.fixes.map((f) => (
          <li key={f.key}>
            <p>{f.do}</p>
            <small className="soft">
              {f.grade && <b className={`grade ${f.grade}`}>{words.grades[f.grade]}</b>}
              {recorded && ` ${f.books.length > 0 ? `${words.booked} ${f.books.join(', ')}` : words.nothingBooked}`}
            </small>
            {f.lost && t.effect && <Effect of={t.effect} />}
            {f.cream && recorded && t.creams.length > 0 && (
              <Select
                size="small"
                aria-label={words.cream}
                value={cream}
                popupMatchSelectWidth={false}
                options={[
                  ...t.creams.map((x) => ({ value: x.id, label: x.name })),
                  { value: '', label: words.noCream },
                ]}
                onChange={setCream}
              />
            )}
            {recorded && (
              <Button
                size="large"
                type={f === first.fixes[0] ? 'primary' : 'default'}
                disabled={late}
                loading={busy}
                onClick={() => void take(c.code, f.key, (f.cream && cream) || undefined, f.do)}
              >
                {words.doThis}
              </Button>
            )}
          </li>
        ))}
      </ul>
      {c.fixes.length === 0 && <p className="trouble">{words.sayBowl}</p>}
      <p className="wrong-next">
        <b>{words.nextTime}</b> {c.next}
      </p>
    </article>
  )
  return (
    <div className="wrong-causes">
      {cause(first, words.likely)}
      {shown.map((c) => cause(c, words.orElse))}
    </div>
  )
}

/** What it does to the orders, and when what is then missing could be made. */
function Effect({ of }: { of: NonNullable<Told['effect']> }) {
  const [asked, setAsked] = useState(false)
  const { order = '', line, count } = of
  const when = useQuery({
    queryKey: ['when-more', order, line, count],
    queryFn: () =>
      ask(api.GET('/api/v1/orders/{id}/remakes', { params: { path: { id: order }, query: { line, count } } })),
    enabled: asked && order !== '',
    retry: false,
  })
  return (
    <p className={of.enough ? 'soft' : 'trouble'}>
      {of.text}{' '}
      {!of.enough && order && !asked && (
        <Button type="link" className="link" onClick={() => setAsked(true)}>
          {words.when(count)}
        </Button>
      )}
      {when.data?.text}
      {when.error instanceof Refused && when.error.message}
    </p>
  )
}
