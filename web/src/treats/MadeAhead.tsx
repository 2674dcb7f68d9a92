import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { Button } from 'antd'
import { useRef, useState } from 'react'
import { Link } from 'react-router'
import { api, ask, Refused, type Schemas } from '../api/client'
import { askAnew } from '../api/topics'
import { newKey } from '../device/register'
import { AmountInput, amountsRead } from '../kit/AmountInput'
import { useSay } from '../kit/say'
import { Part } from '../orders/Estimate'
import { dayName, useKitchen } from '../shell/kitchen'
import { PlanMaking } from './PlanMaking'
import { words } from './words'

/** What there is of a mix that was made ahead, and how to note that some was made: what went into it is used then. */
export function MadeAhead({ mix, yields }: { mix: Schemas['TreatsMix']; yields: number }) {
  const kitchen = useKitchen()
  const queries = useQueryClient()
  const say = useSay()
  const stock = useQuery({
    queryKey: ['item', mix.id, mix.revision],
    queryFn: () => ask(api.GET('/api/v1/stock/{id}', { params: { path: { id: mix.id } } })),
  })
  const [typed, setTyped] = useState<Schemas['MeasureQuantity']>()
  const amount = typed ?? { amount: Math.round(yields), unit: 'g' as const }
  const latest = useRef(amount)
  const key = useRef(newKey())
  const make = useMutation({
    mutationFn: async () => {
      await amountsRead()
      return ask(
        api.POST('/api/v1/mixes/{id}/lots', {
          params: { path: { id: mix.id }, header: { 'Idempotency-Key': key.current } },
          body: { amount: latest.current },
        }),
      )
    },
    onSuccess: async (now) => {
      key.current = newKey()
      queries.setQueryData(['item', mix.id, mix.revision], now)
      await askAnew(queries, ['larder'])
      say.done('larder', words.isInTheLarder(mix.name))
    },
    onError: () => (key.current = newKey()),
  })
  const refused = make.error instanceof Refused ? make.error : undefined
  const lots = stock.data?.lotList ?? []
  return (
    <Part name={words.madeAhead}>
      {lots.length === 0 && <p className="soft">{words.noneOfItInTheLarder}</p>}
      {lots.map((l) => (
        <p key={l.id} className={l.good ? undefined : 'care'}>
          <b>{kitchen.amount(l.left)}</b>{' '}
          <small className="inline">
            {l.bestBefore
              ? l.good
                ? words.goodUntil(dayName(l.bestBefore))
                : words.wasGoodUntil(dayName(l.bestBefore))
              : words.madeOn(dayName(l.bought))}
          </small>
        </p>
      ))}
      <form
        className="made-ahead"
        onSubmit={(e) => {
          e.preventDefault()
          if (!typed) latest.current = amount
          make.mutate()
        }}
      >
        <AmountInput
          label={words.whatCameOut}
          value={amount}
          of={mix.id}
          onChange={(q) => {
            latest.current = q
            setTyped(q)
          }}
        />{' '}
        <Button htmlType="submit" loading={make.isPending}>
          {words.noteThatItWasMade}
        </Button>
      </form>
      {refused && (
        <p className="fault" role="alert">
          {refused.at('amount') ?? refused.message}
        </p>
      )}
      <p className="follows">{words.whatGoesIntoItIsUsed}</p>
      <PlanMaking mix={mix} yields={yields} />
      {lots.length > 0 && <Link to="/larder">{words.seeItInTheLarder}</Link>}
    </Part>
  )
}
