import { Button, Input, InputNumber } from 'antd'
import { useState } from 'react'
import { api, ask, type Schemas } from '../api/client'
import { Field } from '../kit/Field'
import { useSay } from '../kit/say'
import { words } from './words'

/** Asks where an address is that no map has. */
export function WhereIs({
  unknown,
  home,
  done,
}: {
  unknown: Schemas['HandoverUnknown']
  home: string
  done: () => void
}) {
  const say = useSay()
  const [at, setAt] = useState('')
  const [far, setFar] = useState<number>()
  const [fault, setFault] = useState<string>()
  const isHome = !unknown.order
  const address = unknown.address || words.home
  async function save() {
    try {
      await ask(
        api.PUT('/api/v1/positions', {
          body: { address: unknown.address || 'home', ...(at ? { at } : { minutes: far ?? 0, from: home }) },
        }),
      )
      done()
    } catch (error) {
      setFault(error instanceof Error ? error.message : undefined)
      say.refused(error)
    }
  }
  return (
    <form
      className="where-is no-print"
      onSubmit={(e) => {
        e.preventDefault()
        void save()
      }}
    >
      <div>
        <h2>{isHome ? words.whereIsHome : words.whereIs(unknown.address)}</h2>
        <p className="soft">
          {unknown.customer && `${unknown.customer}. `}
          {words.whereWhat}
        </p>
      </div>
      <Field label={words.position} fault={fault}>
        <Input
          aria-label={words.positionOf(address)}
          placeholder={words.examplePosition}
          value={at}
          onChange={(e) => setAt(e.target.value)}
        />
      </Field>
      {!isHome && (
        <Field label={words.orMinutes}>
          <InputNumber
            aria-label={words.minutesTo(address)}
            min={0}
            max={600}
            value={far ?? null}
            onChange={(n) => setFar(n ?? undefined)}
          />
        </Field>
      )}
      <Button type="primary" htmlType="submit" disabled={!at && far === undefined}>
        {words.save}
      </Button>
    </form>
  )
}
