import { Button, Input, InputNumber } from 'antd'
import { Day } from '../kit/Day'
import { Field } from '../kit/Field'
import { useKitchen } from '../shell/kitchen'
import type { Part } from './Event'
import { words } from './words'

/** Who comes, table by table, and until when that may change. */
export function Tables({ e, set, fault }: Part) {
  const kitchen = useKitchen()
  const at = (i: number, change: Partial<(typeof e.tables)[number]>) =>
    set({ tables: e.tables.map((t, n) => (n === i ? { ...t, ...change } : t)) })
  const sum = e.tables.reduce((n, t) => n + t.guests, 0)
  return (
    <section aria-label={words.tables}>
      <h2>
        {words.tables} <small className="soft">{words.guests(sum)}</small>
      </h2>
      <ul className="event-rows">
        {e.tables.map((t, i) => {
          const name = t.name || words.table(i + 1)
          return (
            <li key={i}>
              <Input
                aria-label={words.tableName(i + 1)}
                placeholder={words.table(i + 1)}
                value={t.name}
                onChange={(x) => at(i, { name: x.target.value })}
              />
              <InputNumber
                aria-label={words.guestsAt(name)}
                min={0}
                max={10_000}
                value={t.guests}
                status={fault(`tables[${i}].guests`) ? 'error' : undefined}
                onChange={(n) => at(i, { guests: n ?? 0 })}
              />
              {e.tables.length > 1 && (
                <Button
                  type="link"
                  className="link quiet"
                  aria-label={words.remove(name)}
                  onClick={() => set({ tables: e.tables.filter((_, n) => n !== i) })}
                >
                  ×
                </Button>
              )}
            </li>
          )
        })}
      </ul>
      {fault('tables') && (
        <p className="fault" role="alert">
          {fault('tables')}
        </p>
      )}
      <Button type="link" className="link" onClick={() => set({ tables: [...e.tables, { name: '', guests: 0 }] })}>
        {words.addTable}
      </Button>
      <Field label={words.countBy} fault={fault('countBy')} group>
        <Day
          label={words.countBy}
          value={e.countBy}
          empty={words.untilTheDay}
          max={kitchen.local(e.begins).format('YYYY-MM-DD')}
          onChange={(countBy) => set({ countBy })}
        />
      </Field>
    </section>
  )
}
