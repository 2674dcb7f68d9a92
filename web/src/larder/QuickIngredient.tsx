import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useRef, useState } from 'react'
import { api, ask, Refused, type Schemas } from '../api/client'
import { askAnew } from '../api/topics'
import { newKey } from '../device/register'
import { fresh, IngredientForm } from './IngredientForm'
import { type Bought, QuickLine } from './QuickLine'
import { words } from './words'

type Common = Schemas['FoodStarter']

/** An ingredient that is missed where it is needed, made in one line: its name, what was paid and for how much. */
export function QuickIngredient({
  name,
  common,
  close,
}: {
  name: string
  common?: Common
  close: (made?: Schemas['LarderIngredient']) => void
}) {
  const queries = useQueryClient()
  const [f, setF] = useState<Bought>({ name, paid: '', paidFor: fresh.paidFor })
  const [all, setAll] = useState(false)
  const key = useRef(newKey())
  const make = useMutation({
    mutationFn: () => {
      const { source: _, ...known } = common ?? { ...fresh, source: '' }
      return ask(
        api.POST('/api/v1/ingredients', {
          params: { header: { 'Idempotency-Key': key.current } },
          body: { ...fresh, ...known, name: f.name.trim(), paid: f.paid.trim() || '0.00', paidFor: f.paidFor },
        }),
      )
    },
    onSuccess: async (made) => {
      await askAnew(queries, ['larder'])
      close(made)
    },
    onError: () => (key.current = newKey()),
  })
  if (all) return <IngredientForm name={f.name} close={close} />
  return (
    <QuickLine
      label={words.newIngredient}
      forWhat={words.forHowMuch}
      f={f}
      set={(x) => setF((now) => ({ ...now, ...x }))}
      namedAlready={Boolean(common)}
      pending={make.isPending}
      refused={make.error instanceof Refused ? make.error : undefined}
      make={() => make.mutate()}
      more={() => setAll(true)}
      close={() => close()}
    />
  )
}
