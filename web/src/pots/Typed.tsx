import { Button, InputNumber } from 'antd'
import { useState } from 'react'
import { Refused } from '../api/client'
import { useActs } from '../bench/queue'
import { words as bench } from '../bench/words'
import { Fault } from '../kit/Field'
import { useSay } from '../kit/say'
import { useKitchen } from '../shell/kitchen'
import { type Pot, scalesOf } from './pot'
import { words } from './words'

/** What a thermometer says that is not connected. */
export function Typed({ p }: { p: Pick<Pot, 'id' | 'name' | 'probe'> }) {
  const { act } = useActs()
  const say = useSay()
  const { degree, fahrenheit } = scalesOf(useKitchen())
  const [value, setValue] = useState<number | null>(null)
  const [fault, setFault] = useState<string>()
  if (p.probe) return null
  async function send() {
    if (value === null) return
    const outcome = await act(
      { kind: 'reading', pot: p.id, value, unit: fahrenheit ? 'F' : 'C' },
      words.readingOf(p.name, `${value} ${degree}`),
      `/bench/bowls/${p.id}`,
    )
    if (outcome instanceof Refused) return setFault(outcome.at('value') ?? outcome.message)
    setValue(null)
    setFault(undefined)
    if (outcome === 'waits') say.done('kept', bench.isKept(`${value} ${degree}`))
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
