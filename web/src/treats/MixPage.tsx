import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { App, Button, Checkbox, ConfigProvider, Input, InputNumber, Select } from 'antd'
import { useLayoutEffect, useMemo, useRef, useState } from 'react'
import { useLocation, useNavigate, useParams } from 'react-router'
import { api, ask, etag, missing, Refused, type Schemas } from '../api/client'
import { askAnew } from '../api/topics'
import { newKey } from '../device/register'
import { Both } from '../device/Both'
import { useFound, useKeep } from '../device/drafts'
import { onTop, same } from '../device/merge'
import { Restored } from '../device/Restored'
import { BothChanged, saveOver, type Tagged } from '../device/saveOver'
import { Face } from '../kit/Face'
import { AmountInput, amountsRead } from '../kit/AmountInput'
import { lookOf } from '../kit/chocolate'
import { UsedIn } from '../larder/IngredientForm'
import { Line, Part } from '../orders/Estimate'
import {
  anything,
  changed,
  Fault,
  FaultContext,
  faultsOf,
  Group,
  type Pantry,
  Pick,
  Row,
  useAsked,
  usePantry,
  without,
} from './fields'
import { useKitchen } from '../shell/kitchen'
import { useSpots } from '../plan/Space'
import { MadeAhead } from './MadeAhead'
import { words } from './words'
import './treats.css'

type Fields = Schemas['TreatsMixFields']
type Mix = Schemas['TreatsMix']

/** A mix: what goes in, what boils off, what it yields, and what it is used in. */
export default function MixPage() {
  const { id } = useParams()
  const state = useLocation().state as { fields?: Fields } | null
  const asked = useAsked()
  const pantry = usePantry()
  const mix = useQuery({
    queryKey: ['mix', id],
    queryFn: () => ask(api.GET('/api/v1/mixes/{id}', { params: { path: { id: id! } } })),
    enabled: id !== 'new',
    placeholderData: undefined,
  })
  if (mix.error && missing(mix.error))
    return (
      <section className="wide">
        <h1>{words.mixNotFound}</h1>
        <p className="soft">{mix.error.message}</p>
      </section>
    )
  if (!pantry.ready || (id !== 'new' && !mix.data))
    return <Face of={[asked.larder, asked.mixes, ...(id === 'new' ? [] : [mix])]} />
  return <Editor key={id} mix={mix.data} begin={state?.fields} pantry={pantry} />
}

/** A mix as it was typed, and what it was typed on top of. */
interface KeptMix {
  fields: Fields
  base?: Tagged<Fields>
}

const fieldsOf = (m: Mix): Tagged<Fields> => ({
  data: {
    name: m.name,
    parts: m.parts,
    loss: m.loss,
    density: m.density,
    method: m.method,
    keeps: m.keeps,
    place: m.place,
  },
  revision: m.revision,
})

function Editor({ mix, begin, pantry }: { mix?: Mix; begin?: Fields; pantry: Pantry }) {
  const kitchen = useKitchen()
  const queries = useQueryClient()
  const navigate = useNavigate()
  const { message } = App.useApp()
  const place = `mix/${mix?.id ?? 'new'}`
  const found = useFound<KeptMix>(place)
  const spots = useSpots()
  const fresh: Fields = mix ? fieldsOf(mix).data : (begin ?? { name: '', parts: [], loss: 0 })
  // What was typed on top of an older version is saved on top of that: what came between is merged.
  const [base, setBase] = useState(() => found.value?.base ?? (mix && fieldsOf(mix)))
  const [f, setF] = useState<Fields>((begin ? undefined : found.value?.fields) ?? fresh)
  const set = (change: Partial<Fields>) => setF((now) => ({ ...now, ...change }))
  const weighed = useQuery({
    queryKey: ['weigh', mix?.id, f],
    queryFn: ({ signal }) =>
      ask(api.POST('/api/v1/calculators/mix', { body: { ...f, name: f.name || words.it, id: mix?.id }, signal })),
    retry: false,
    gcTime: 60_000,
  })
  const dirty = !base || !same(f, base.data)
  useKeep(
    place,
    { title: f.name.trim() || words.newMix, to: `/treats/mixes/${mix?.id ?? 'new'}` },
    { fields: f, base } satisfies KeptMix,
    base ? dirty : !mix && !same(f, { name: '', parts: [], loss: 0 }),
    found,
  )
  // What was typed since sent was sent stays on top; without it there is nothing to keep.
  const take = (fields: Fields, at: Tagged<Fields> | undefined, sent?: Fields) => {
    setF((now) => (sent ? onTop(sent, now, fields) : fields))
    setBase(at)
  }
  // Changed elsewhere, while nothing is typed here: shown as it is now.
  if (mix && base && !dirty && mix.revision > base.revision) take(fieldsOf(mix).data, fieldsOf(mix))
  const key = useRef(newKey())
  const latest = useRef(f)
  useLayoutEffect(() => {
    latest.current = f
  })
  const save = useMutation({
    mutationFn: async () => {
      await amountsRead()
      const sent = latest.current
      if (mix && base) {
        return saveOver(
          base,
          sent,
          (body, revision) =>
            ask(
              api.PUT('/api/v1/mixes/{id}', {
                params: { path: { id: mix.id }, header: { 'If-Match': etag(revision) } },
                body,
              }),
            ),
          (e) => fieldsOf(e.problem.current as Mix),
          take,
        )
      }
      const made = api.POST('/api/v1/mixes', { params: { header: { 'Idempotency-Key': key.current } }, body: sent })
      return { answer: await ask(made), sent }
    },
    onSuccess: async ({ answer: now, sent }) => {
      take(fieldsOf(now).data, fieldsOf(now), sent)
      if (mix) queries.setQueryData(['mix', mix.id], now)
      const touched = (now.usedIn ?? []).filter((u) => u.kind === 'treat').length
      void message.success(words.isSaved(now.name, mix && touched > 0 ? words.treatsThatUseItHave : ''))
      await askAnew(queries, ['treats', 'larder'])
      if (!mix) void navigate(`/treats/mixes/${now.id}`, { replace: true })
    },
    onError: (error) => {
      if (!(error instanceof Refused) || error.status !== 0) key.current = newKey() // nothing was made under it
    },
  })
  const refused = save.error instanceof Refused ? save.error : undefined
  const fault = useMemo(() => faultsOf([weighed.error, refused]), [weighed.error, refused])
  const forget = (to: Tagged<Fields> | undefined) => {
    found.forget()
    save.reset()
    take(to?.data ?? fresh, to)
  }
  async function cameOut(grams: number) {
    const { lost } = await ask(
      api.POST('/api/v1/calculators/mix', { body: { ...f, name: f.name || words.it, id: mix?.id, out: grams } }),
    )
    if (lost !== undefined) set({ loss: lost })
  }
  const w = weighed.data
  const first = [...pantry.ingredients.values()].find((i) => !i.chocolate) ?? [...pantry.ingredients.values()][0]
  return (
    <FaultContext value={fault}>
      <section className="work treat-page">
        <h1 className="unseen">{f.name || words.newMix}</h1>
        <Restored found={Boolean(found.value) && dirty && !begin} forget={() => forget(mix && fieldsOf(mix))} />
        <p className="kicker" role="status">
          {words.mix}
          {mix && mix.revision > 1 && words.changed(mix.revision - 1, mix.revision === 2 ? words.time2 : words.times)}
          {dirty && mix && words.changedNotSavedYet}
        </p>
        <Input
          className="title-input"
          aria-label={words.nameOfTheMix}
          placeholder={words.nameOfTheMix}
          value={f.name}
          onChange={(e) => set({ name: e.target.value })}
          variant="borderless"
          status={refused?.at('name') ? 'error' : undefined}
        />
        {refused?.at('name') && (
          <p className="fault" role="alert">
            {refused.at('name')}
          </p>
        )}
        {save.error instanceof BothChanged && (
          <Both theirs={() => forget((save.error as BothChanged<Fields>).theirs)} mine={() => save.mutate()} />
        )}
        <div className="treat-sheet">
          <Jar
            parts={f.parts.map((p, i) => ({
              name: pantry.name(p.of),
              grams: w?.parts?.[i] ?? 0,
              fill: shade(pantry, p.of),
            }))}
            loss={f.loss}
          />
          <ConfigProvider componentSize="small">
            <div className="numbers">
              <Group name={words.whatGoesIn}>
                {f.parts.map((p, i) => (
                  <Row
                    key={i}
                    label={
                      <Pick
                        label={words.part(i + 1)}
                        value={p.of}
                        onChange={(id) => set({ parts: changed(f.parts, i, { of: id }) })}
                        only={anything}
                        path={`parts[${i}].of`}
                      />
                    }
                    fault={fault(`parts[${i}].amount`)}
                    of={p.of}
                  >
                    <AmountInput
                      label={words.amountOf(pantry.name(p.of))}
                      value={p.amount}
                      of={p.of}
                      onChange={(amount) => set({ parts: changed(f.parts, i, { amount }) })}
                    />
                    {pantry.ingredients.get(p.of)?.chocolate && (
                      <Checkbox
                        aria-label={words.meltedFirst2(pantry.name(p.of))}
                        checked={Boolean(p.melted)}
                        onChange={(e) => set({ parts: changed(f.parts, i, { melted: e.target.checked || undefined }) })}
                      >
                        {words.meltedFirst}
                      </Checkbox>
                    )}
                    <Button
                      type="text"
                      aria-label={words.leaveOut2(pantry.name(p.of))}
                      onClick={() => set({ parts: without(f.parts, i) })}
                    >
                      ×
                    </Button>
                  </Row>
                ))}
                {first ? (
                  <Button
                    type="link"
                    className="link"
                    onClick={() => set({ parts: [...f.parts, { of: first.id, amount: { amount: 100, unit: 'g' } }] })}
                  >
                    {words.addAnIngredientOrMix}
                  </Button>
                ) : (
                  // Nothing is in the larder yet: what is common is found by its name, and made here.
                  <Pick
                    label={words.whichIngredient}
                    value=""
                    onChange={(id) => set({ parts: [...f.parts, { of: id, amount: { amount: 100, unit: 'g' } }] })}
                    only={anything}
                    path={`parts[${f.parts.length}].of`}
                  />
                )}
                {fault('parts') && <Fault text={fault('parts')!} />}
              </Group>
              <Group name={words.yield}>
                <Row label={words.lossBoilsOffOrSticks} fault={fault('loss')}>
                  <InputNumber
                    aria-label={words.loss}
                    value={Number((f.loss * 100).toFixed(2))}
                    min={0}
                    controls={false}
                    suffix="%"
                    style={{ width: 90 }}
                    onChange={(n) => n !== null && set({ loss: n / 100 })}
                  />
                </Row>
                {w && (
                  <Row label={words.orWeighTheResult}>
                    <InputNumber
                      aria-label={words.resultInG}
                      value={Math.round(w.yield)}
                      min={0}
                      max={Math.round(w.in)}
                      controls={false}
                      suffix="g"
                      style={{ width: 90 }}
                      onChange={(n) => n !== null && n > 0 && void cameOut(n)}
                    />
                  </Row>
                )}
                <Row label={words.weightPerMillilitre} fault={fault('density')}>
                  <InputNumber
                    aria-label={words.density}
                    value={f.density ?? null}
                    min={0}
                    step={0.01}
                    controls={false}
                    suffix={words.gramsPerMillilitre}
                    style={{ width: 110 }}
                    onChange={(n) => set({ density: n ?? undefined })}
                  />
                </Row>
                <p className="follows">{words.neededIfYouPourIt}</p>
              </Group>
              <Group name={words.keeping}>
                <Row label={words.mixKeeps} fault={fault('keeps')}>
                  <InputNumber
                    aria-label={words.mixKeeps}
                    value={f.keeps ?? null}
                    min={1}
                    controls={false}
                    suffix="h"
                    placeholder="168"
                    style={{ width: 90 }}
                    onChange={(n) => set({ keeps: n ? Math.round(n) : undefined })}
                  />
                </Row>
                <Row label={words.keptIn} fault={fault('place')}>
                  <Select
                    aria-label={words.keptIn}
                    value={f.place ?? ''}
                    style={{ width: 150 }}
                    onChange={(place) => set({ place: place || undefined })}
                    options={[{ value: '', label: '–' }, ...spots.map((s) => ({ value: s.id!, label: s.name }))]}
                  />
                </Row>
                <p className="follows">{words.mixesUsuallyKeep}</p>
              </Group>
              <Group name={words.how}>
                <Input.TextArea
                  aria-label={words.method}
                  rows={4}
                  value={f.method ?? ''}
                  onChange={(e) => set({ method: e.target.value || undefined })}
                />
              </Group>
            </div>
          </ConfigProvider>
        </div>
        <footer className="order-foot">
          <Button type="primary" size="large" disabled={!dirty} loading={save.isPending} onClick={() => save.mutate()}>
            {mix ? words.save : words.addToTheBook}
          </Button>
          {dirty && mix && (
            <Button type="link" className="link" onClick={() => forget(fieldsOf(mix))}>
              {words.undoAllChanges}
            </Button>
          )}
          {refused && !refused.problem.errors?.some((e) => e.location !== 'body') && (
            <span className="fault" role="alert">
              {refused.message}
            </span>
          )}
        </footer>
      </section>
      <aside className="takes" aria-label={words.yield}>
        <p className="kicker">{words.yield}</p>
        {w ? (
          <>
            <p className="big">{kitchen.amount(w.yields)}</p>
            <Part name={words.weighs}>
              {f.parts.map((p, i) => (
                <Line
                  key={i}
                  figure={w.of[i] && kitchen.amount(w.of[i].mass)}
                  note={w.of[i] && words.ofWhatGoesIn(Math.round(w.of[i].share * 1000) / 10)}
                >
                  {pantry.name(p.of)}
                </Line>
              ))}
              <Line figure={kitchen.amount(w.goesIn)}>{words.goesIn}</Line>
            </Part>
          </>
        ) : (
          <p className="soft">{words.mendWhatIsMarkedAnd}</p>
        )}
        {mix && w && <MadeAhead mix={mix} yields={w.yield} />}
        {mix && (
          <Part name={words.used2}>
            <UsedIn uses={mix.usedIn ?? []} />
            <p className="care">
              {(mix.allergens ?? []).length > 0 ? words.contains(mix.allergens!.join(', ')) : words.noneOfTheAllergens}
            </p>
          </Part>
        )}
      </aside>
    </FaultContext>
  )
}

/** Colours by what sort of thing it is; chocolate has its own. */
const shades: Partial<Record<Schemas['LarderIngredient']['kind'], string>> = {
  fruit: '#C9404B',
  nut: '#C39A63',
  dairy: '#FBF3DF',
  sugar: '#FFFFFF',
  fat: '#EBCB70',
  baked: '#D9B98A',
  alcohol: '#A8672A',
  flavour: '#B9C7A2',
  colour: '#7FA8CC',
  topping: '#E2D3B5',
  other: '#D8E4EA',
}

function shade(pantry: Pantry, id: string): string {
  const i = pantry.ingredients.get(id)
  return i?.chocolate ? lookOf(i.chocolate).fill : i ? (shades[i.kind] ?? '#E2D3B5') : '#A98A63'
}

/** The parts of a mix stacked in a jar, each as high as its share; what is lost is above the line. */
function Jar({ parts, loss }: { parts: { name: string; grams: number; fill: string }[]; loss: number }) {
  const total = parts.reduce((n, p) => n + p.grams, 0)
  let y = 262
  const line = 262 - 220 * (1 - Math.min(Math.max(loss, 0), 1))
  return (
    <figure className="section-drawing">
      <svg viewBox="0 0 300 300" role="img" aria-label={words.thePartsOfTheMix}>
        {total > 0 &&
          parts.map((p, i) => {
            const h = (220 * p.grams) / total
            y -= h
            return (
              <g key={i}>
                <rect x="62" y={y} width="120" height={h} fill={p.fill} stroke="#b79b72" strokeWidth=".8" />
                {h > 12 && (
                  <text x="192" y={y + h / 2 + 4} className="measure">
                    {p.name.length > 16 ? `${p.name.slice(0, 15)}…` : p.name}
                  </text>
                )}
              </g>
            )
          })}
        {loss > 0 && <rect x="62" y="42" width="120" height={Math.max(line - 42, 0)} fill="#FFFFFF" opacity=".62" />}
        {loss > 0 && <path d={`M50 ${line}h144`} stroke="#C8500A" strokeWidth="2" strokeDasharray="5 4" />}
        <path
          d="M56 26h132M62 30v222q0 16 16 16h88q16 0 16-16V30"
          fill="none"
          stroke="#b79b72"
          strokeWidth="4"
          strokeLinecap="round"
        />
      </svg>
      <figcaption>{loss > 0 ? words.whatIsAboveTheDashed : words.byWeight}</figcaption>
    </figure>
  )
}
