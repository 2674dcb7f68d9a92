import { useQuery } from '@tanstack/react-query'
import { Button, InputNumber } from 'antd'
import { useState } from 'react'
import { api, ask, type Schemas } from '../api/client'
import { scalesOf, usePot, weight } from '../pots/pot'
import { useKitchen } from '../shell/kitchen'
import type { Act } from './queue'
import type { Step } from './StepRow'
import { words } from './words'

type Weigh = Schemas['BenchWeigh']

/** How near is enough, as a share of what is weighed out. */
const near = 0.02

/** The amounts of a step against the scale, large, with what is missing; what was really taken is kept as a note. */
export function WeighOut({
  s,
  does,
  keep,
}: {
  s: Step
  does: (a: Act, title: string) => void
  keep: (t: string) => void
}) {
  const kitchen = useKitchen()
  const [at, setAt] = useState<Weigh>()
  const pots = useQuery({
    queryKey: ['pots', 'weighing'],
    queryFn: () => ask(api.GET('/api/v1/pots', { params: { query: {} } })),
    enabled: (s.weighs ?? []).length > 0,
  })
  const beside = pots.data?.pots.find((p) => p.weighs && !p.ended)
  if (!s.weighs?.length) return null
  function begin(w: Weigh) {
    setAt(w)
    const title = words.weighOf(kitchen.amount(w.amount), w.of)
    if (beside) does({ kind: 'deed', pot: beside.id, deed: { what: 'weigh', grams: w.grams } }, title)
  }
  return (
    <div className="weigh-out no-print">
      {at ? (
        <Weighing
          key={at.of}
          w={at}
          pot={beside?.id}
          done={(taken) => {
            if (taken !== undefined) {
              keep(words.weighed(weight(kitchen, taken), kitchen.amount(at.amount), at.of))
            }
            setAt(undefined)
          }}
        />
      ) : (
        s.weighs.map((w) => (
          <Button key={w.of} onClick={() => begin(w)}>
            {words.weighOf(kitchen.amount(w.amount), w.of)}
          </Button>
        ))
      )}
    </div>
  )
}

function Weighing({ w, pot, done }: { w: Weigh; pot?: string; done: (taken?: number) => void }) {
  return pot ? <OnScale w={w} pot={pot} done={done} /> : <ByHand w={w} done={done} />
}

/** The scale beside a bowl says it. */
function OnScale({ w, pot, done }: { w: Weigh; pot: string; done: (taken?: number) => void }) {
  const kitchen = useKitchen()
  const { grams, weightUnit } = scalesOf(kitchen)
  const p = usePot(pot)
  const shown = p.data?.curve.grams.at(-1)?.value
  const missing = w.grams - (shown ?? 0)
  const enough = Math.abs(missing) <= w.grams * near
  return (
    <section aria-label={words.weighOf(kitchen.amount(w.amount), w.of)}>
      <p className="weigh-figure">
        <b>{shown === undefined ? '–' : grams(shown)}</b> <i>{weightUnit}</i>
      </p>
      <p className={enough ? 'weigh-missing enough' : 'weigh-missing'} role="status">
        {enough
          ? words.weighEnough
          : missing > 0
            ? words.weighMissing(weight(kitchen, missing), w.of)
            : words.weighOver(weight(kitchen, -missing))}
      </p>
      {p.data?.advice?.scale && <p className="soft">{p.data.advice.scale}</p>}
      <Button type="primary" size="large" disabled={shown === undefined} onClick={() => done(shown)}>
        {words.keepIt}
      </Button>
      <Button size="large" onClick={() => done()}>
        {words.leaveIt}
      </Button>
    </section>
  )
}

/** No scale is connected: what another one shows is typed. */
function ByHand({ w, done }: { w: Weigh; done: (taken?: number) => void }) {
  const kitchen = useKitchen()
  const { weightUnit, fromWeight, grams } = scalesOf(kitchen)
  const [typed, setTyped] = useState<number | null>(null)
  return (
    <form
      aria-label={words.weighOf(kitchen.amount(w.amount), w.of)}
      onSubmit={(e) => {
        e.preventDefault()
        if (typed) done(fromWeight(typed))
      }}
    >
      <InputNumber
        autoFocus
        aria-label={words.reallyTaken(w.of)}
        value={typed}
        min={0}
        max={99999}
        placeholder={grams(w.grams)}
        suffix={weightUnit}
        controls={false}
        onChange={setTyped}
      />
      <Button type="primary" htmlType="submit" disabled={!typed}>
        {words.keepIt}
      </Button>
      <Button onClick={() => done()}>{words.leaveIt}</Button>
    </form>
  )
}
