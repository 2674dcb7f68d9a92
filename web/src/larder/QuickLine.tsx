import { Button, Input } from 'antd'
import { AmountInput } from '../kit/AmountInput'
import { Fault } from '../kit/Field'
import type { Refused, Schemas } from '../api/client'
import { words } from './words'
import './larder.css'

type Quantity = Schemas['MeasureQuantity']

/** What is said of something that is bought: its name, what was paid, and for how much. */
export interface Bought {
  name: string
  paid: string
  paidFor: Quantity
}

/** Something that is missed where it is needed, made in one line. */
export function QuickLine({
  label,
  forWhat,
  f,
  set,
  namedAlready,
  pending,
  refused,
  make,
  more,
  close,
}: {
  label: string
  /** What the amount is called: how much, or how many. */
  forWhat: string
  f: Bought
  set: (x: Partial<Bought>) => void
  /** Its name is known: what was paid is typed first. */
  namedAlready?: boolean
  pending: boolean
  refused?: Refused
  make: () => void
  more: () => void
  close: () => void
}) {
  return (
    <form
      className="quick-ingredient"
      aria-label={label}
      onSubmit={(e) => {
        e.preventDefault()
        make()
      }}
    >
      <Input
        autoFocus={!namedAlready}
        aria-label={words.name}
        value={f.name}
        style={{ width: 190 }}
        onChange={(e) => set({ name: e.target.value })}
      />{' '}
      {words.paid}{' '}
      <Input
        autoFocus={namedAlready}
        aria-label={words.lastPaid}
        value={f.paid}
        inputMode="decimal"
        placeholder="0.00"
        style={{ width: 70 }}
        onChange={(e) => set({ paid: e.target.value })}
      />{' '}
      {words.for2} <AmountInput label={forWhat} width={80} value={f.paidFor} onChange={(paidFor) => set({ paidFor })} />{' '}
      <Button htmlType="submit" type="primary" size="small" loading={pending}>
        {words.addIt}
      </Button>{' '}
      <Button type="link" className="link" onClick={more}>
        {words.moreOfIt}
      </Button>{' '}
      <Button type="text" aria-label={words.leaveIt} onClick={close}>
        ×
      </Button>
      <Fault>{refused && (refused.problem.errors?.[0]?.message ?? refused.message)}</Fault>
    </form>
  )
}
