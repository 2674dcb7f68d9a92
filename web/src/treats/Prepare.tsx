import { Button, Select } from 'antd'
import type { Schemas } from '../api/client'
import { starting } from '../api/families'
import { AmountInput } from '../kit/AmountInput'
import { anything, changed, type Pantry, Pick, useFault, without } from './fields'
import type { Work } from './Steps'
import type { Formula } from './TreatPage'
import { words } from './words'
import './treats.css'

type Preparation = Schemas['TreatPreparation']
type How = Preparation['how']

/** In the order in which they are usually done. */
const hows: How[] = ['wash', 'rinse', 'dry', 'chop', 'crush', 'grind', 'toast', 'freeze', 'warm', 'weigh']

/** What is done at a step to what goes in; washing has a bath of so much for so much fruit. */
export function Prepare({
  f,
  s,
  i,
  pantry,
  change,
}: {
  f: Formula
  s: Work
  i: number
  pantry: Pantry
  change: (x: Partial<Work>) => void
}) {
  const fault = useFault()
  const list = s.prepare ?? []
  const set = (prepare: Preparation[]) => change({ prepare: prepare.length > 0 ? prepare : undefined })
  const goesIn = ingredientsOf(f, pantry)
  const centre = f.centre && !pantry.mixes.has(f.centre.of) ? f.centre.of : undefined
  // What is too cold to pipe is a mix.
  const mixed = mixesOf(f, pantry)
  if (goesIn.length === 0) return null
  const of = (p: Preparation) => p.of ?? centre ?? ''
  const bath = (): Preparation['bath'] => {
    const named = (word: RegExp) => [...pantry.ingredients.values()].find((x) => word.test(x.name))?.id
    const parts = [
      { of: named(/^water$/i), amount: starting.water },
      { of: named(/vinegar/i), amount: starting.vinegar },
    ]
    const there = parts.filter((p): p is { of: string; amount: typeof p.amount } => Boolean(p.of))
    return there.length > 0 ? there : [{ of: '', amount: starting.water }]
  }
  return (
    <div className="prepare" data-path={`steps[${i}].prepare`}>
      {list.map((p, n) => {
        const at = `steps[${i}].prepare[${n}]`
        const edit = (x: Partial<Preparation>) => set(changed(list, n, x))
        return (
          <div key={n}>
            <span data-path={`${at}.how`}>
              <Select
                aria-label={words.howPrepared(n + 1, s.name)}
                value={p.how}
                style={{ width: 110 }}
                onChange={(how) =>
                  edit(
                    how === 'wash'
                      ? { how }
                      : how === 'warm' && mixed[0]
                        ? { how, of: mixed[0], bath: undefined, covers: undefined }
                        : { how, bath: undefined, covers: undefined },
                  )
                }
                options={hows.map((h) => ({ value: h, label: words.hows[h] }))}
              />
            </span>{' '}
            <span data-path={`${at}.of`}>
              <Select
                aria-label={words.whatIsPrepared(n + 1, s.name)}
                value={of(p)}
                style={{ minWidth: 150 }}
                popupMatchSelectWidth={false}
                onChange={(id) => edit({ of: id === centre ? undefined : id })}
                options={[...goesIn, ...(p.how === 'warm' ? mixed : [])].map((id) => ({
                  value: id,
                  label: pantry.name(id),
                }))}
              />
            </span>
            {p.how === 'wash' &&
              ((p.bath ?? []).length > 0 ? (
                <>
                  {' '}
                  {words.inABathOf}{' '}
                  {p.bath!.map((b, m) => (
                    <span key={m} className="bath-part">
                      <span data-path={`${at}.bath[${m}].amount`}>
                        <AmountInput
                          label={words.amountOf2(pantry.name(b.of))}
                          width={80}
                          of={b.of}
                          value={b.amount}
                          onChange={(amount) => edit({ bath: changed(p.bath!, m, { amount }) })}
                        />
                      </span>{' '}
                      <Pick
                        label={words.bathPart(m + 1)}
                        value={b.of}
                        only={anything}
                        path={`${at}.bath[${m}].of`}
                        width={140}
                        onChange={(id) => edit({ bath: changed(p.bath!, m, { of: id }) })}
                      />
                      <Button
                        type="text"
                        aria-label={words.leaveOut3(pantry.name(b.of))}
                        onClick={() => edit({ bath: without(p.bath!, m) })}
                      >
                        ×
                      </Button>
                    </span>
                  ))}
                  <Button
                    type="link"
                    className="link"
                    onClick={() => edit({ bath: [...p.bath!, { of: '', amount: starting.vinegar }] })}
                  >
                    {words.addToTheBath}
                  </Button>{' '}
                  {words.forEvery}{' '}
                  <span data-path={`${at}.covers`}>
                    <AmountInput
                      label={words.oneBathCovers}
                      width={80}
                      value={p.covers ?? starting.covers}
                      onChange={(covers) => edit({ covers })}
                    />
                  </span>
                </>
              ) : (
                <span data-path={`${at}.bath`}>
                  {' '}
                  <Button type="link" className="link" onClick={() => edit({ bath: bath(), covers: starting.covers })}>
                    {words.inABath}
                  </Button>
                </span>
              ))}
            <Button
              type="text"
              aria-label={words.leaveOutThePreparation(n + 1, s.name)}
              onClick={() => set(without(list, n))}
            >
              ×
            </Button>
            {['how', 'of', 'bath', 'covers'].map(
              (k) =>
                fault(`${at}.${k}`) && (
                  <span key={k} className="fault" role="alert">
                    {fault(`${at}.${k}`)}
                  </span>
                ),
            )}
          </div>
        )
      })}
      <Button
        type="link"
        className="link"
        aria-label={words.prepareAt(s.name)}
        onClick={() => set([...list, { how: 'chop', of: centre ? undefined : goesIn[0] }])}
      >
        {words.prepareSomething}
      </Button>
    </div>
  )
}

/** All ingredients that go into a treat, those of its mixes included. */
function ingredientsOf(f: Formula, pantry: Pantry): string[] {
  const list = new Set<string>()
  const add = (id?: string, depth = 0) => {
    if (!id || depth > 10) return
    const mix = pantry.mixes.get(id)
    if (mix) mix.parts.forEach((p) => add(p.of, depth + 1))
    else if (pantry.ingredients.has(id)) list.add(id)
  }
  add(f.centre?.of)
  for (const p of f.portions ?? []) add(p.ingredient)
  for (const d of f.finishes ?? []) {
    add(d.centre?.of)
    for (const p of d.portions ?? []) add(p.ingredient)
  }
  for (const c of f.coatings) add(c.ingredient)
  return [...list]
}

/** The mixes that go into a treat. */
function mixesOf(f: Formula, pantry: Pantry): string[] {
  const all = [f.centre?.of, ...(f.portions ?? []).map((p) => p.ingredient)]
  for (const d of f.finishes ?? []) all.push(d.centre?.of, ...(d.portions ?? []).map((p) => p.ingredient))
  return [...new Set(all.filter((id): id is string => Boolean(id) && pantry.mixes.has(id!)))]
}
