import { useQueryClient } from '@tanstack/react-query'
import { Button, InputNumber } from 'antd'
import { useState } from 'react'
import { api, ask, Refused } from '../api/client'
import { askAnew } from '../api/topics'
import { newKey } from '../device/register'
import { Fault } from '../kit/Field'
import { useKitchen } from '../shell/kitchen'
import { type Pot, scalesOf } from './pot'
import { words } from './words'

/** What a thermometer says that is not connected. */
export function Typed({ p }: { p: Pot }) {
  const queries = useQueryClient()
  const { degree, fahrenheit } = scalesOf(useKitchen())
  const [value, setValue] = useState<number | null>(null)
  const [fault, setFault] = useState<string>()
  if (p.probe) return null
  async function send() {
    if (value === null) return
    try {
      await ask(
        api.POST('/api/v1/pots/{id}/readings', {
          params: { path: { id: p.id }, header: { 'Idempotency-Key': newKey() } },
          body: { kind: 'probe', value, unit: fahrenheit ? 'F' : 'C' },
        }),
      )
      setValue(null)
      setFault(undefined)
      await askAnew(queries, ['pots'])
    } catch (error) {
      if (!(error instanceof Refused)) throw error
      setFault(error.at('value') ?? error.message)
    }
  }
  return (
    <div className="pot-typed">
      <InputNumber
        aria-label={words.typeIt}
        placeholder={words.typeIt}
        value={value}
        suffix={degree}
        controls={false}
        size="large"
        status={fault ? 'error' : undefined}
        onChange={setValue}
        onPressEnter={() => void send()}
      />
      <Button size="large" onClick={() => void send()} disabled={value === null}>
        {words.read}
      </Button>
      <Fault>{fault}</Fault>
    </div>
  )
}
