import { useQuery } from '@tanstack/react-query'
import { Button, Input, InputNumber, Segmented, Select } from 'antd'
import { useEffect, useState } from 'react'
import { useNavigate, useSearchParams } from 'react-router'
import { api, ask, Refused, type Schemas } from '../api/client'
import { useActs } from '../bench/queue'
import { words as bench } from '../bench/words'
import { newKey } from '../device/register'
import { Fault, Field } from '../kit/Field'
import { useSay } from '../kit/say'
import { Link } from '../shell/Go'
import { useKitchen } from '../shell/kitchen'
import { scalesOf } from './pot'
import { useSensors } from './sensors'
import { words } from './words'
import './pots.css'

type Begin = Schemas['PotsBegin'] & { advice?: string[] | null }

/** What the address says of a bowl that the run sheet begins. */
function fromAddress(q: URLSearchParams): Partial<Begin> {
  try {
    return JSON.parse(q.get('of') ?? '{}') as Partial<Begin>
  } catch {
    return {}
  }
}

/** Begins a bowl: one of the run sheet, or any other. */
export default function BeginPot() {
  const kitchen = useKitchen()
  const navigate = useNavigate()
  const { weightUnit, fromWeight, grams } = scalesOf(kitchen)
  const [query] = useSearchParams()
  const sensors = useSensors()
  const house = useQuery({ queryKey: ['kitchen'], queryFn: () => ask(api.GET('/api/v1/kitchen', {})) })
  const larder = useQuery({ queryKey: ['ingredients'], queryFn: () => ask(api.GET('/api/v1/ingredients', {})) })
  const [b, setB] = useState<Partial<Begin>>(() => fromAddress(query))
  const [refused, setRefused] = useState<Refused>()
  const [id] = useState(newKey)
  const say = useSay()
  const { act } = useActs()
  // Where the browser keeps no files, the page of the bowl is fetched while there is a network.
  useEffect(() => void import('./PotPage').catch(() => {}), [])
  const set = (change: Partial<Begin>) => setB({ ...b, ...change })
  const chocolate = b.chocolate ?? { kind: 'real' as const, colour: 'dark' as const }
  const method = b.method ?? (chocolate.kind === 'compound' ? 'none' : 'seed')
  const source = b.source ?? house.data?.source ?? 'microwave'
  const free = (kind: 'probe' | 'scale') => (sensors.data?.sensors ?? []).filter((s) => s.kind === kind && !s.pot)
  const chosen = (kind: 'probe' | 'scale') => b[kind] ?? (free(kind).length === 1 ? free(kind)[0]!.id : undefined)
  const [byHand, setByHand] = useState<{ probe?: boolean; scale?: boolean }>({})
  const fault = (path: string) => refused?.at(path)
  const known = (larder.data?.ingredients ?? []).filter((i) => i.chocolate)
  async function begin() {
    const { advice, ...of } = b
    const begin = {
      ...of,
      id,
      name: (b.name ?? '').trim() || words.colours[chocolate.colour],
      chocolate,
      method,
      source,
      grams: b.grams ?? 0,
      probe: byHand.probe ? undefined : chosen('probe'),
      scale: byHand.scale ? undefined : chosen('scale'),
    }
    const title = words.beginOf(begin.name)
    const outcome = await act({ kind: 'pot', begin, advice: advice ?? [] }, title, `/bench/bowls/${id}`)
    if (outcome instanceof Refused) return setRefused(outcome)
    if (outcome === 'waits') say.done('kept', bench.isKept(title))
    void navigate(`/bench/bowls/${id}`, { replace: true })
  }
  const weightField = (of: 'grams' | 'coat' | 'pool', label: string, help?: string) => (
    <Field label={label} fault={fault(of)} help={help}>
      <InputNumber
        value={b[of] === undefined ? null : Number(grams(b[of]))}
        min={0}
        max={20000}
        suffix={weightUnit}
        controls={false}
        style={{ width: 150 }}
        onChange={(n) => set({ [of]: n === null ? undefined : fromWeight(n) })}
      />
    </Field>
  )
  const instrument = (kind: 'probe' | 'scale') => (
    <Field label={words[kind]} fault={fault(kind)}>
      <Select
        value={byHand[kind] ? '' : (chosen(kind) ?? '')}
        style={{ width: '100%' }}
        options={[
          { value: '', label: kind === 'probe' ? words.byHand : words.noScale },
          ...free(kind).map((s) => ({ value: s.id, label: s.simulated ? words.simulated(s.name) : s.name })),
        ]}
        onChange={(id) => {
          setByHand({ ...byHand, [kind]: id === '' })
          set({ [kind]: id || undefined })
        }}
      />
    </Field>
  )
  return (
    <section className="wide pot-new">
      <h1>{words.newBowl}</h1>
      <form
        noValidate
        onSubmit={(e) => {
          e.preventDefault()
          void begin()
        }}
      >
        <Field label={words.chocolate}>
          <Select
            showSearch={{ optionFilterProp: 'label' }}
            value={known.find((i) => i.name === b.name)?.id ?? ''}
            style={{ width: '100%' }}
            options={[
              { value: '', label: known.length ? words.another : words.choose },
              ...known.map((i) => ({ value: i.id, label: i.name })),
            ]}
            onChange={(id) => {
              const i = known.find((x) => x.id === id)
              set(i ? { name: i.name, chocolate: i.chocolate, method: undefined } : { name: undefined })
            }}
          />
        </Field>
        <Field label={words.name} fault={fault('name')}>
          <Input value={b.name ?? ''} maxLength={120} onChange={(e) => set({ name: e.target.value })} />
        </Field>
        <Field label={words.kind}>
          <Segmented
            value={chocolate.kind}
            options={(['real', 'compound'] as const).map((value) => ({ value, label: words.kinds[value] }))}
            onChange={(kind) => set({ chocolate: { ...chocolate, kind }, method: undefined })}
          />
        </Field>
        <Field label={words.colour} fault={fault('chocolate.bands')}>
          <Segmented
            value={chocolate.colour}
            options={(['dark', 'milk', 'white'] as const).map((value) => ({ value, label: words.colours[value] }))}
            onChange={(colour) => set({ chocolate: { kind: chocolate.kind, colour } })}
          />
        </Field>
        {weightField('grams', words.amount, words.amountHelp)}
        <Field label={words.method} fault={fault('method')}>
          <Segmented
            value={method}
            options={(chocolate.kind === 'compound'
              ? (['none'] as const)
              : (['seed', 'gentle', 'three-point', 'none'] as const)
            ).map((value) => ({ value, label: words.methods[value] }))}
            onChange={(m) => set({ method: m })}
          />
        </Field>
        <Field label={words.source}>
          <Segmented
            value={source}
            options={(['microwave', 'bath'] as const).map((value) => ({ value, label: words.sources[value] }))}
            onChange={(s) => set({ source: s })}
          />
        </Field>
        {instrument('probe')}
        {instrument('scale')}
        <p className="soft">{words.optional}</p>
        <div className="pot-pieces">
          <Field label={words.pieces} fault={fault('pieces')}>
            <InputNumber
              value={b.pieces ?? null}
              min={0}
              max={10000}
              precision={0}
              controls={false}
              onChange={(n) => set({ pieces: n ?? undefined })}
            />
          </Field>
          {weightField('coat', words.coat)}
          {weightField('pool', words.pool)}
        </div>
        <Fault>{refused?.message}</Fault>
        <footer>
          <Button type="primary" size="large" htmlType="submit">
            {words.start}
          </Button>
          <Link to="/bench/instruments">{words.instruments}</Link>
        </footer>
      </form>
    </section>
  )
}
