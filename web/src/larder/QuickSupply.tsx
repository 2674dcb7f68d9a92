import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useRef, useState } from 'react'
import { api, ask, Refused, type Schemas } from '../api/client'
import { askAnew } from '../api/topics'
import { newKey } from '../device/register'
import { type Bought, QuickLine } from './QuickLine'
import { fresh, SupplyForm } from './SupplyForm'
import { words } from './words'

type Supply = Schemas['LarderSupply']

/** Packaging that is missed where it is needed, made in one line: its name, what was paid and for how many. */
export function QuickSupply({ name, close }: { name: string; close: (made?: Supply) => void }) {
  const queries = useQueryClient()
  const [f, setF] = useState<Bought>({ name, paid: '', paidFor: fresh.paidFor })
  const [all, setAll] = useState(false)
  const key = useRef(newKey())
  const make = useMutation({
    mutationFn: () =>
      ask(
        api.POST('/api/v1/supplies', {
          params: { header: { 'Idempotency-Key': key.current } },
          body: {
            ...fresh,
            // As it was bought: ribbon by its length, shred by weight, all else by the piece.
            stock: { amount: 0, unit: f.paidFor.unit },
            name: f.name.trim(),
            paid: f.paid.trim() || '0.00',
            paidFor: f.paidFor,
          },
        }),
      ),
    onSuccess: async (made) => {
      await askAnew(queries, ['larder'])
      close(made)
    },
    onError: () => (key.current = newKey()),
  })
  if (all) return <SupplyForm name={f.name} close={close} />
  return (
    <QuickLine
      label={words.newPackaging}
      forWhat={words.forHowMany}
      f={f}
      set={(x) => setF((now) => ({ ...now, ...x }))}
      pending={make.isPending}
      refused={make.error instanceof Refused ? make.error : undefined}
      make={() => make.mutate()}
      more={() => setAll(true)}
      close={() => close()}
    />
  )
}
