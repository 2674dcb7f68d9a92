import { Button, Input } from 'antd'
import type { Schemas } from '../api/client'
import { Field } from '../kit/Field'
import { AmountInput } from '../kit/AmountInput'
import { Sign } from '../kit/glyphs'
import { words } from './words'
import './larder.css'

interface Paid {
  paid: string
  paidFor: Schemas['MeasureQuantity']
  estimated?: boolean
}

/** What was last paid, and for how much. A price that is typed is no estimate any more. */
export function PaidField({
  f,
  set,
  fault,
  of,
}: {
  f: Paid
  set: (p: Partial<Paid>) => void
  fault: (path: string) => string | undefined
  of?: string // the ingredient, whose own measures are read too
}) {
  const typed = (change: Partial<Paid>) => set({ ...change, estimated: undefined })
  return (
    <Field label={words.lastPaid} fault={fault('paid') ?? fault('paidFor')} group>
      <span className="paid">
        <Input
          aria-label={words.lastPaid}
          value={f.paid}
          inputMode="decimal"
          onChange={(e) => typed({ paid: e.target.value })}
          style={{ width: 90 }}
        />{' '}
        {words.for2}{' '}
        <AmountInput label={words.forHowMuch} value={f.paidFor} onChange={(paidFor) => typed({ paidFor })} of={of} />
      </span>
      <PriceNote paid={f.paid} estimated={f.estimated} keep={() => typed({})} />
    </Field>
  )
}

/** What there is to say of a price: that there is none, or that it is an estimate. */
function PriceNote({ paid, estimated, keep }: { paid: string; estimated?: boolean; keep: () => void }) {
  if (Number(paid) === 0) {
    return (
      <small>
        <Sign kind="caution" size={13} /> {words.noPriceYetSoCosts}
      </small>
    )
  }
  if (!estimated) return null
  return (
    <small>
      <Sign kind="caution" size={13} /> {words.thisPriceIsAnEstimate}{' '}
      <Button size="small" type="link" onClick={keep}>
        {words.itIsRight}
      </Button>
    </small>
  )
}
