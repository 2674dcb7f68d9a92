import { useMutation } from '@tanstack/react-query'
import { Button, Select } from 'antd'
import { useState } from 'react'
import { api, ask, Refused, type Schemas } from '../api/client'
import { Blank } from '../kit/Blank'
import { useKitchen } from '../shell/kitchen'
import type { Pantry } from './fields'
import type { Formula } from './TreatPage'
import { words } from './words'

/** How many can I make with what I have? */
export function Have({ f, pantry, card }: { f: Formula; pantry: Pantry; card?: Schemas['BatchCard'] }) {
  const [rows, setRows] = useState<{ ingredient: string; text: string }[]>([])
  const kitchen = useKitchen()
  const asked = useMutation({
    mutationFn: () =>
      ask(api.POST('/api/v1/calculators/makeable', { body: { formula: f, have: rows.filter((r) => r.text) } })),
  })
  const options = [...(card?.needs ?? []).map((n) => n.ingredient), ...(card?.mixes ?? []).map((m) => m.mix)].map(
    (id) => ({ value: id, label: pantry.name(id) }),
  )
  // What is free in the larder: bought, left of bowls, or a mix that was made ahead.
  const larder = useMutation({
    mutationFn: () => ask(api.GET('/api/v1/stock', {})),
    onSuccess: ({ items }) =>
      setRows(
        options.flatMap((o) => {
          const free = items.find((i) => i.id === o.value)?.free
          if (!free || (free.amount <= 0 && pantry.mixes.has(o.value))) return []
          return [{ ingredient: o.value, text: `${Math.floor(free.amount * 10) / 10} ${free.unit}` }]
        }),
      ),
  })
  const refused = asked.error instanceof Refused ? asked.error : undefined
  return (
    <details
      className="have no-print"
      onToggle={(e) =>
        e.currentTarget.open &&
        rows.length === 0 &&
        setRows(options.slice(0, 2).map((o) => ({ ingredient: o.value, text: '' })))
      }
    >
      <summary>{words.whatCanIMakeWith}</summary>
      <form
        onSubmit={(e) => {
          e.preventDefault()
          asked.mutate()
        }}
      >
        {rows.map((r, i) => (
          <p key={i}>
            <Blank
              label={words.iHaveOf(pantry.name(r.ingredient))}
              placeholder={i === 0 ? '900 g' : words.punnetsExample}
              wide={9}
              value={r.text}
              onChange={(e) => setRows(rows.map((x, j) => (j === i ? { ...x, text: e.target.value } : x)))}
            />{' '}
            {words.of}{' '}
            <Select
              size="small"
              aria-label={words.ingredientThatIHave(i + 1)}
              value={r.ingredient}
              options={options}
              style={{ width: 170 }}
              onChange={(ingredient) => setRows(rows.map((x, j) => (j === i ? { ...x, ingredient } : x)))}
            />
            {refused?.below(`have[${i}]`) && (
              <span className="fault" role="alert">
                {refused.below(`have[${i}]`)}
              </span>
            )}
          </p>
        ))}
        {options.length > rows.length && (
          <Button
            type="link"
            className="link"
            onClick={() =>
              setRows([
                ...rows,
                { ingredient: options.find((o) => !rows.some((r) => r.ingredient === o.value))!.value, text: '' },
              ])
            }
          >
            {words.addAnother}
          </Button>
        )}{' '}
        <Button type="link" className="link" loading={larder.isPending} onClick={() => larder.mutate()}>
          {words.whatIsInTheLarder}
        </Button>{' '}
        <Button size="small" htmlType="submit" loading={asked.isPending}>
          {words.howMany2}
        </Button>
      </form>
      <div role="status">
        {asked.data && !refused && (
          <>
            <p>
              <b>{asked.data.text}</b>
            </p>
            <ul>
              {asked.data.left.map((l) => (
                <li key={l.ingredient}>
                  {kitchen.amount(l.amount)} {l.name} {words.left}
                </li>
              ))}
            </ul>
          </>
        )}
        {refused && <p className="fault">{refused.at('have') ?? refused.message}</p>}
      </div>
    </details>
  )
}
