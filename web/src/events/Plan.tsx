import { Button, InputNumber } from 'antd'
import { Day } from '../kit/Day'
import { Field } from '../kit/Field'
import { Sign } from '../kit/glyphs'
import { useKitchen } from '../shell/kitchen'
import type { Part } from './Event'
import { words } from './words'

/** What is paid in which parts, and how far it is. */
export function Plan({ e, set, fault }: Part) {
  const kitchen = useKitchen()
  const last = kitchen.local(e.begins).format('YYYY-MM-DD')
  const at = (i: number, change: Partial<(typeof e.plan)[number]>) =>
    set({ plan: e.plan.map((p, n) => (n === i ? { ...p, ...change } : p)) })
  // What is due is of what is saved: it is shown beside a part as long as the parts are the same.
  const due = e.payments.length === e.plan.length + 1 ? e.payments : []
  const state = (i: number) => {
    const p = due[i]
    if (!p || Number(p.amount.amount) === 0) return null
    const paid = Number(p.open.amount) === 0
    return (
      <span className={p.late ? 'trouble' : 'soft'}>
        <b>{kitchen.money(p.amount)}</b>{' '}
        {p.open.amount === p.amount.amount ? (
          p.late && (
            <>
              <Sign kind="trouble" size={13} /> {words.late}
            </>
          )
        ) : paid ? (
          <>
            <Sign kind="fine" size={13} /> {words.isPaid}
          </>
        ) : (
          <>
            {p.late && <Sign kind="trouble" size={13} />} {words.open(kitchen.money(p.open))}
            {p.late && `, ${words.late}`}
          </>
        )}
      </span>
    )
  }
  return (
    <section aria-label={words.money}>
      <h2>
        {words.money} <small className="soft">{words.paid(kitchen.money(e.paid), kitchen.money(e.total))}</small>
      </h2>
      <ul className="event-rows">
        {e.plan.map((p, i) => (
          <li key={i}>
            <InputNumber
              aria-label={words.share(i + 1)}
              suffix="%"
              min={0}
              max={100}
              value={Number((p.share * 100).toFixed(2))}
              status={fault(`plan[${i}].share`) ? 'error' : undefined}
              onChange={(n) => at(i, { share: (n ?? 0) / 100 })}
              style={{ width: 90 }}
            />
            <Day label={words.by(i + 1)} value={p.by} max={last} empty="" onChange={(by) => at(i, { by })} />
            <Button
              type="link"
              className="link quiet"
              aria-label={words.remove(words.part(i + 1))}
              onClick={() => set({ plan: e.plan.filter((_, n) => n !== i) })}
            >
              ×
            </Button>
            {state(i)}
            {(fault(`plan[${i}].share`) ?? fault(`plan[${i}].by`)) && (
              <span className="fault" role="alert">
                {fault(`plan[${i}].share`) ?? fault(`plan[${i}].by`)}
              </span>
            )}
          </li>
        ))}
        <li>
          <span className="event-rest">{words.rest}</span>
          {state(e.plan.length)}
        </li>
      </ul>
      {fault('plan') && (
        <p className="fault" role="alert">
          {fault('plan')}
        </p>
      )}
      <Button
        type="link"
        className="link"
        onClick={() => set({ plan: [...e.plan, { share: 0.3, by: e.countBy || last }] })}
      >
        {words.addPart}
      </Button>
      <Field label={words.restBy} fault={fault('restBy')} group>
        <Day
          label={words.restBy}
          value={e.restBy}
          empty={words.onTheDay}
          max={last}
          onChange={(restBy) => set({ restBy })}
        />
      </Field>
    </section>
  )
}
