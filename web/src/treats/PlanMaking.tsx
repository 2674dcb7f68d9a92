import { useQuery } from '@tanstack/react-query'
import { Button, InputNumber } from 'antd'
import { useRef, useState } from 'react'
import { Link } from 'react-router'
import { api, ask, type Schemas } from '../api/client'
import { AmountInput, amountsRead } from '../kit/AmountInput'
import { Day } from '../kit/Day'
import { useChange } from '../plan/useChange'
import { dayName, plusDays, useKitchen } from '../shell/kitchen'
import { words } from './words'

/** What of a mix is planned to be made ahead, and how to plan some: work of its own, for no order. */
export function PlanMaking({ mix, yields }: { mix: Schemas['TreatsMix']; yields: number }) {
  const kitchen = useKitchen()
  const { change } = useChange()
  const plan = useQuery({
    queryKey: ['plan', 'making'],
    queryFn: () => ask(api.GET('/api/v1/plan', { params: { query: { days: 28 } } })),
  })
  const planned = (plan.data?.days ?? []).flatMap((d) =>
    d.steps.filter((s) => s.mix === mix.id && !s.done && !s.short).map((s) => ({ ...s, day: d.day })),
  )
  const [open, setOpen] = useState(false)
  const [typed, setTyped] = useState<Schemas['MeasureQuantity']>()
  const amount = typed ?? { amount: Math.round(yields), unit: 'g' as const }
  const latest = useRef(amount)
  const [day, setDay] = useState(() => plusDays(kitchen.today(), 1))
  const [minutes, setMinutes] = useState<number | null>(null)
  const [busy, setBusy] = useState(false)
  async function make() {
    setBusy(true)
    await amountsRead()
    const done = await change({
      kind: 'make',
      mix: mix.id,
      amount: typed ? latest.current : amount,
      day,
      minutes: minutes ?? 0,
    })
    setBusy(false)
    if (done) setOpen(false)
  }
  return (
    <>
      {planned.map((s) => (
        <p key={s.batch}>
          {words.isPlanned(kitchen.amount(s.amount!), dayName(s.day), kitchen.clock(s.start))}{' '}
          <Link to="/plan">{words.seeItInThePlan}</Link>
        </p>
      ))}
      {!open ? (
        <Button type="link" className="link" onClick={() => setOpen(true)}>
          {words.planTheMaking}
        </Button>
      ) : (
        <form
          className="plan-making"
          onSubmit={(e) => {
            e.preventDefault()
            void make()
          }}
        >
          <label>
            <span>{words.toBeMade}</span>
            <AmountInput
              label={words.toBeMade}
              value={amount}
              of={mix.id}
              onChange={(q) => {
                latest.current = q
                setTyped(q)
              }}
            />
          </label>
          <label>
            <span>{words.toBeThereOn}</span>
            <Day label={words.toBeThereOn} value={day} min={kitchen.today()} onChange={setDay} />
          </label>
          <label>
            <span>{words.handsForIt}</span>
            <InputNumber
              aria-label={words.handsForIt}
              value={minutes}
              min={1}
              max={600}
              precision={0}
              controls={false}
              placeholder={words.asItsMethodSays}
              style={{ width: 170 }}
              onChange={setMinutes}
            />
          </label>
          <p className="follows">{words.whatIsPlannedIsSetAside}</p>
          <Button htmlType="submit" loading={busy}>
            {words.putItIntoThePlan}
          </Button>{' '}
          <Button type="link" className="link" onClick={() => setOpen(false)}>
            {words.notNow}
          </Button>
        </form>
      )}
    </>
  )
}
