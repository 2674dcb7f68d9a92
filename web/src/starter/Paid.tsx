import { Button, Input, Popover } from 'antd'
import { useState } from 'react'
import type { Schemas } from '../api/client'
import { AmountInput } from '../kit/AmountInput'
import { moneyOf } from '../shell/kitchen'
import type { Answers } from './Starter'
import { words } from './words'

/** A row for all that must be bought, in its usual pack. What nobody has typed is marked as an estimate. */
export function Paid(props: {
  rows: Schemas['StarterRow'][]
  a: Answers
  set: (paid: Answers['paid']) => void
  fault: (path: string) => string | undefined
}) {
  const { rows, a, set, fault } = props
  const [open, setOpen] = useState<string>()
  return (
    <>
      <ul className="starter-paid">
        {rows.map((r) => {
          const own = a.paid[r.name]
          const wrong = fault(`paid.${r.name}`)
          const id = `paid-${r.name.replaceAll(/\W/g, '-')}`
          const pack = a.units === 'us' ? r.shown.us : r.shown.metric
          return (
            <li key={r.name}>
              <span className="starter-what">
                <b>{r.name}</b>{' '}
                {open === r.name ? (
                  <AmountInput
                    label={words.pack(r.name)}
                    value={r.paidFor!}
                    width={90}
                    onChange={(q) => set({ ...a.paid, [r.name]: { paid: own?.paid ?? r.paid, paidFor: q } })}
                  />
                ) : (
                  <Button type="link" className="link quiet" onClick={() => setOpen(r.name)}>
                    <span className="unseen">{words.pack(r.name)}: </span>
                    {pack}
                  </Button>
                )}
              </span>
              {!own && (
                <Popover trigger={['click', 'focus']} content={<p className="why">{words.estimateWhy}</p>}>
                  <button type="button" className="estimate">
                    {words.estimate}
                  </button>
                </Popover>
              )}
              <Input
                aria-label={words.paid(r.name)}
                aria-describedby={wrong ? id : undefined}
                value={own?.paid ?? r.paid}
                inputMode="decimal"
                prefix={moneyOf.sign(a.currency)}
                status={wrong ? 'error' : undefined}
                onChange={(e) => set({ ...a.paid, [r.name]: { ...own, paid: e.target.value } })}
              />
              {wrong && (
                <span className="fault" id={id} role="alert">
                  {wrong}
                </span>
              )}
            </li>
          )
        })}
      </ul>
      <p className="soft starter-leave">{words.leave}</p>
    </>
  )
}
