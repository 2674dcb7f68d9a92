import { useMutation, useQueryClient } from '@tanstack/react-query'
import { Button, Input } from 'antd'
import { useRef, useState } from 'react'
import { api, ask, Refused, type Schemas } from '../api/client'
import { askAnew } from '../api/topics'
import { newKey } from '../device/register'
import { AmountInput } from '../kit/AmountInput'
import { Fault } from '../kit/Field'
import { fresh, SupplyForm } from './SupplyForm'
import { words } from './words'
import './larder.css'

type Supply = Schemas['LarderSupply']

/** Packaging that is missed where it is needed, made in one line: its name, what was paid and for how many. */
export function QuickSupply({ name, close }: { name: string; close: (made?: Supply) => void }) {
  const queries = useQueryClient()
  const [called, setCalled] = useState(name)
  const [paid, setPaid] = useState('')
  const [paidFor, setPaidFor] = useState(fresh.paidFor)
  const [all, setAll] = useState(false)
  const key = useRef(newKey())
  const make = useMutation({
    mutationFn: () =>
      ask(
        api.POST('/api/v1/supplies', {
          params: { header: { 'Idempotency-Key': key.current } },
          body: {
            ...fresh,
            // Ribbon is kept by its length, all else by the piece.
            stock: { amount: 0, unit: paidFor.unit === 'each' ? 'each' : 'cm' },
            name: called.trim(),
            paid: paid.trim() || '0.00',
            paidFor,
          },
        }),
      ),
    onSuccess: async (made) => {
      await askAnew(queries, ['larder'])
      close(made)
    },
    onError: () => (key.current = newKey()),
  })
  const refused = make.error instanceof Refused ? make.error : undefined
  if (all) return <SupplyForm name={called} close={close} />
  return (
    <form
      className="quick-ingredient"
      aria-label={words.newPackaging}
      onSubmit={(e) => {
        e.preventDefault()
        make.mutate()
      }}
    >
      <Input
        autoFocus
        aria-label={words.name}
        value={called}
        style={{ width: 190 }}
        onChange={(e) => setCalled(e.target.value)}
      />{' '}
      {words.paid}{' '}
      <Input
        aria-label={words.lastPaid}
        value={paid}
        inputMode="decimal"
        placeholder="0.00"
        style={{ width: 70 }}
        onChange={(e) => setPaid(e.target.value)}
      />{' '}
      {words.for2} <AmountInput label={words.forHowMany} width={80} value={paidFor} onChange={setPaidFor} />{' '}
      <Button htmlType="submit" type="primary" size="small" loading={make.isPending}>
        {words.addIt}
      </Button>{' '}
      <Button type="link" className="link" onClick={() => setAll(true)}>
        {words.moreOfIt}
      </Button>{' '}
      <Button type="text" aria-label={words.leaveIt} onClick={() => close()}>
        ×
      </Button>
      <Fault>{refused && (refused.problem.errors?.[0]?.message ?? refused.message)}</Fault>
    </form>
  )
}
