import { keepPreviousData, useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { Button, Input } from 'antd'
import { useRef, useState } from 'react'
import { Link, useNavigate } from 'react-router'
import { useFound, useKeep } from '../device/drafts'
import { api, ask, Refused, type Schemas } from '../api/client'
import { askAnew } from '../api/topics'
import { newKey } from '../device/register'
import { minutes, moneyOf, useKitchen } from '../shell/kitchen'
import { Customs } from './Customs'
import { Paid } from './Paid'
import './starter.css'
import { Tiles } from './Tiles'
import { useTakeBack } from './undo'
import { WeekTins } from './Week'
import { words } from './words'
import { Trays } from './Trays'

export type Answers = Schemas['StarterAnswers']
export type Outset = Schemas['StarterOutset']

/** The first evening: one page, everything prefilled, then a first order. */
export default function Starter() {
  const outset = useQuery({ queryKey: ['starter'], queryFn: () => ask(api.GET('/api/v1/starter', {})) })
  if (outset.error) {
    return (
      <main className="alone">
        <h1>{words.title}</h1>
        <p className="fault" role="alert">
          {outset.error.message}
        </p>
        <Button onClick={() => void outset.refetch()}>{words.again}</Button>
      </main>
    )
  }
  if (!outset.data) {
    return (
      <p className="loading" role="status">
        {words.loading}
      </p>
    )
  }
  return <Page outset={outset.data} />
}

function Page({ outset }: { outset: Outset }) {
  const kitchen = useKitchen()
  const navigate = useNavigate()
  const queries = useQueryClient()
  const takeBack = useTakeBack()
  const found = useFound<Answers>('starter')
  const [begun] = useState<Answers>(() => ({ ...outset.ways, sells: {}, paid: {} }))
  const [a, setA] = useState(found.value ?? begun)
  useKeep('starter', { title: words.title, to: '/start' }, a, JSON.stringify(a) !== JSON.stringify(begun), found)
  const set = (change: Partial<Answers>) => setA((was) => ({ ...was, ...change }))
  const preview = useQuery({
    queryKey: ['starter', 'preview', a],
    queryFn: ({ signal }) => ask(api.POST('/api/v1/calculators/starter', { body: a, signal })),
    placeholderData: keepPreviousData,
    retry: false,
  })
  // What was shown stays while a new answer is asked for, and when what was typed is refused.
  const [last, setLast] = useState(preview.data)
  if (preview.data && preview.data !== last) setLast(preview.data)
  const key = useRef(newKey())
  const run = useMutation({
    mutationFn: () =>
      ask(api.POST('/api/v1/starter', { body: a, params: { header: { 'Idempotency-Key': key.current } } })),
    onSuccess: async () => {
      found.over()
      await askAnew(queries, ['kitchen'])
      takeBack.offer(words.ready)
      void navigate('/orders/new')
    },
    onError: () => {
      key.current = newKey()
    },
  })
  const refused = [run.error, preview.error].find((e) => e instanceof Refused)
  const fault = (path: string) => refused?.at(path)
  const sells = Object.keys(a.sells).length > 0
  return (
    <div className="starter">
      <header className="lid starter-lid">
        <span className="mark">{words.mark}</span>
        <span className="starter-kitchen">{kitchen.session.kitchen}</span>
      </header>
      <main className="starter-page">
        <div className="starter-head">
          <div>
            <h1>{words.title}</h1>
            <p className="soft">
              {words.lead} <Link to="/bring">{words.selling}</Link>
            </p>
          </div>
          <Button onClick={() => void navigate('/orders')}>{words.skip}</Button>
        </div>
        <div className="starter-asked">
          <Customs a={a} set={set} countries={outset.countries} fault={fault} />
          <section aria-labelledby="starter-sell">
            <h2 id="starter-sell">
              <b>1</b> {words.sell}
            </h2>
            <Tiles tiles={outset.tiles} sells={a.sells} set={(change) => set({ sells: change })} />
          </section>
          <div className="starter-row">
            <section aria-labelledby="starter-work">
              <h2 id="starter-work">
                <b>2</b> {words.work}
              </h2>
              <WeekTins week={a.week} clock={a.clock} set={(week) => set({ week })} fault={fault} />
            </section>
            <section aria-labelledby="starter-set">
              <h2 id="starter-set">
                <b>3</b> {words.set}
              </h2>
              <Trays trays={a.trays} set={(trays) => set({ trays })} />
            </section>
          </div>
        </div>
        <div className="starter-money">
          <section className="starter-card" aria-labelledby="starter-pay">
            <h2 id="starter-pay">
              <b>4</b> {words.pay}
            </h2>
            {!sells && <p className="soft">{words.none}</p>}
            {sells && <Paid rows={last?.rows ?? []} a={a} set={(paid) => set({ paid })} fault={fault} />}
            <div className="starter-hour">
              <h2 id="starter-hour">
                <b>5</b> {words.hour}
              </h2>
              <Input
                aria-labelledby="starter-hour"
                aria-describedby={fault('hourly') ? 'starter-hourly-fault' : undefined}
                value={a.hourly}
                inputMode="decimal"
                prefix={moneyOf.sign(a.currency)}
                status={fault('hourly') ? 'error' : undefined}
                onChange={(e) => set({ hourly: e.target.value })}
              />
            </div>
            {fault('hourly') && (
              <span className="fault" id="starter-hourly-fault" role="alert">
                {fault('hourly')}
              </span>
            )}
          </section>
          {sells && (last?.offers.length ?? 0) > 0 && (
            <section className="starter-card starter-offers" aria-live="polite">
              {last!.offers.map((o) => (
                <div key={o.family} className="starter-offer">
                  <span>
                    <b>{words.offer(o.count, o.name)}</b>
                    <small>{words.offerWhy(minutes(o.hands), o.start)}</small>
                  </span>
                  <output>{moneyOf.text(o.price)}</output>
                </div>
              ))}
              {last!.holds && last!.holds.count > 0 && (
                <p className="fine">{words.holds(last!.holds.weekday, last!.holds.count, last!.holds.name)}</p>
              )}
            </section>
          )}
          {refused && !refused.problem.errors?.length && (
            <p className="fault" role="alert">
              {refused.message}
            </p>
          )}
          <Button
            type="primary"
            size="large"
            className="starter-go"
            disabled={!sells}
            loading={run.isPending}
            onClick={() => run.mutate()}
          >
            {words.go}
          </Button>
        </div>
      </main>
    </div>
  )
}
