import { useMutation, useQuery } from '@tanstack/react-query'
import { Button, InputNumber, Select } from 'antd'
import { useState } from 'react'
import { api, ask, Refused, type Schemas } from '../api/client'
import { traitsOf } from '../api/families'
import { onTop } from '../device/merge'
import { AmountInput } from '../kit/AmountInput'
import { Fault } from '../kit/Field'
import { type Change, Group } from './fields'
import type { Formula } from './TreatPage'
import { words } from './words'
import './treats.css'

type Saying = Schemas['FamilySaying']
type As = Saying['as']

const grams = (amount: number) => ({ amount, unit: 'g' as const })

/** The amounts of a treat as a recipe says them: solved into its numbers, and told the other way round. */
export function AsSaid({ f, set, wrong }: { f: Formula; set: (change: Change) => void; wrong: boolean }) {
  const [open, setOpen] = useState(false)
  return (
    <details className="as-said" onToggle={(e) => setOpen(e.currentTarget.open)}>
      <summary>{words.asARecipeSaysIt}</summary>
      {open && (wrong ? <p className="soft">{words.mendFirst}</p> : <Words f={f} set={set} />)}
    </details>
  )
}

function Words({ f, set }: { f: Formula; set: (change: Change) => void }) {
  const known = useQuery({
    queryKey: ['as-said', f],
    queryFn: ({ signal }) => ask(api.POST('/api/v1/calculators/as-said', { body: { formula: f }, signal })),
    placeholderData: (before) => before,
    retry: false,
    gcTime: 60_000,
  })
  const [chosen, setChosen] = useState<As>()
  const [amounts, setAmounts] = useState([grams(300), grams(0), grams(0)])
  const [count, setCount] = useState<number | null>(12)
  const [upTo, setUpTo] = useState<number | null>(null)
  const ways = (known.data?.as ?? []) as As[]
  const as = chosen && ways.includes(chosen) ? chosen : ways[0]
  const layered = f.coatings.some((c) => c.role === 'layer')
  const filled = Boolean(f.mould && f.centre)
  const solve = useMutation({
    mutationFn: async (say: Saying) => {
      const answer = await ask(api.POST('/api/v1/calculators/as-said', { body: { formula: f, say } }))
      return { ...answer, sent: f }
    },
    // What was typed while it was solved stays on top.
    onSuccess: ({ solved, sent }) => {
      if (!solved) return
      set((now) => {
        // Named one by one: a filling that goes is left out of the answer.
        const { shell, centre, sheet, mould, coatings, portions, steps } = onTop<Formula>(sent, now, solved.formula)
        return { shell, centre, sheet, mould, coatings, portions, steps }
      })
    },
  })
  if (!known.data || !as) return null
  // Which amounts a way has: what covers, fills or is spread; of filled pieces filling and cap, of two the second.
  const labels =
    as === 'makes' || as === 'cocoa'
      ? []
      : as === 'inside'
        ? [words.fillingOrAsWritten]
        : as === 'covers'
          ? [words.coating]
          : as === 'fills'
            ? filled
              ? [words.chocolateOfShells, words.filling, words.chocolateOfCaps]
              : [words.chocolate]
            : f.centre
              ? [words.mixture]
              : layered
                ? [words.firstChocolate, words.secondChocolate2]
                : [words.chocolate]
  const refused = solve.error instanceof Refused ? solve.error : undefined
  return (
    <Group name="">
      <ul className="says">
        {known.data.recipe.map((line) => (
          <li key={line} className="follows">
            {line}
          </li>
        ))}
      </ul>
      <form
        className="say-it"
        onSubmit={(e) => {
          e.preventDefault()
          solve.mutate({
            as,
            amounts: labels.map((_, i) => amounts[i]!).filter((q) => q.amount > 0),
            ...(as === 'spread' ? {} : { count: count ?? 0, upTo: as === 'cocoa' ? undefined : (upTo ?? undefined) }),
          })
        }}
      >
        {ways.length > 1 && (
          <Select
            size="small"
            aria-label={words.howTheRecipeSaysIt}
            value={as}
            style={{ width: 170 }}
            onChange={(x) => setChosen(x)}
            options={ways.map((x) => ({ value: x, label: words.says[x] }))}
          />
        )}
        {labels.map((label, i) => (
          <span key={label}>
            {label}{' '}
            <AmountInput
              label={label}
              width={84}
              value={amounts[i]!}
              fault={refused?.at(`say.amounts[${i}]`)}
              onChange={(q) => setAmounts((now) => now.map((x, n) => (n === i ? { ...q, unit: q.unit as 'g' } : x)))}
            />
          </span>
        ))}
        {as !== 'spread' && (
          <span>
            {words.saysFor[as]}{' '}
            <InputNumber
              size="small"
              aria-label={words.soMany}
              value={count}
              min={1}
              controls={false}
              style={{ width: 56 }}
              onChange={setCount}
            />{' '}
            {as === 'cocoa' ? (
              words.percentOfCocoa
            ) : (
              <>
                {words.to}{' '}
                <InputNumber
                  size="small"
                  aria-label={words.toSoMany}
                  value={upTo}
                  min={1}
                  controls={false}
                  placeholder="–"
                  style={{ width: 56 }}
                  onChange={setUpTo}
                />{' '}
                {traitsOf(f.family).units}
              </>
            )}
          </span>
        )}
        <Button size="small" htmlType="submit" loading={solve.isPending}>
          {words.useIt}
        </Button>
      </form>
      <Fault>{refused && (refused.problem.errors?.[0]?.message ?? refused.message)}</Fault>
      {solve.data?.solved && !refused && (
        <p className="follows" role="status">
          {solve.data.solved.given} {solve.data.solved.follows.join(' ')}
        </p>
      )}
    </Group>
  )
}
