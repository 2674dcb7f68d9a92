import { Input, InputNumber, Segmented } from 'antd'
import { useState } from 'react'
import { Refused } from '../api/client'
import { useActs } from '../bench/queue'
import { words as bench } from '../bench/words'
import { Fault, Field } from '../kit/Field'
import { useSay } from '../kit/say'
import { Sheet } from '../kit/Sheet'
import { useKitchen } from '../shell/kitchen'
import { type Pot, scalesOf } from './pot'
import { words } from './words'

/** The bowl is over: how it set, and what is left of it. */
export function End({ p, close }: { p: Pick<Pot, 'id' | 'name' | 'scale' | 'curve'>; close: () => void }) {
  const { act } = useActs()
  const say = useSay()
  const { weightUnit, fromWeight, grams } = scalesOf(useKitchen())
  const [result, setResult] = useState<Pot['result']>('')
  const [remains, setRemains] = useState<number | null>(null)
  const [note, setNote] = useState('')
  const [fault, setFault] = useState<string>()
  async function end() {
    const end = { result, note, ...(remains !== null && { remains: fromWeight(remains) }) }
    const outcome = await act({ kind: 'end', pot: p.id, end }, words.endOf(p.name), `/bench/bowls/${p.id}`)
    if (outcome instanceof Refused) {
      setFault(outcome.message)
      return
    }
    close()
    say.done('end', outcome === 'sent' ? words.ended : bench.isKept(words.endOf(p.name)))
  }
  const left = p.scale && p.curve.grams.at(-1)
  return (
    <Sheet title={words.end} close={close} onOk={() => void end()}>
      <Field label={words.howWasIt}>
        <Segmented
          value={result}
          onChange={setResult}
          options={[
            { value: 'good' as const, label: words.results.good },
            { value: 'poor' as const, label: words.results.poor },
            { value: '' as const, label: words.results.none },
          ]}
        />
      </Field>
      <Field label={words.remains}>
        <InputNumber
          value={remains}
          min={0}
          max={20000}
          suffix={weightUnit}
          controls={false}
          placeholder={left ? grams(left.value) : undefined}
          onChange={setRemains}
        />
      </Field>
      <Field label={words.note}>
        <Input.TextArea value={note} maxLength={1000} rows={2} onChange={(e) => setNote(e.target.value)} />
      </Field>
      <Fault>{fault}</Fault>
    </Sheet>
  )
}
