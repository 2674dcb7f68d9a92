import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { Button } from 'antd'
import { useRef } from 'react'
import { Link } from 'react-router'
import { api, ask, Refused, type Schemas } from '../api/client'
import { askAnew } from '../api/topics'
import { newKey } from '../device/register'
import { amountsRead } from '../kit/AmountInput'
import { wishes } from '../kit/Asks'
import { Fault } from '../kit/Field'
import { words as kit } from '../kit/words'
import { fresh } from '../larder/IngredientForm'
import { useStarting } from '../treats/fields'
import type { Writing } from './Sentence'
import { words } from './words'

type Swap = Schemas['OrderSwap']

/** What all of the order is to suit, and where it does not, other ingredients that were tried. */
export function Wishes({
  draft,
  set,
  order,
  wrong,
}: Pick<Writing, 'draft' | 'set'> & { order?: string; wrong: boolean }) {
  const chosen = draft.wishes ?? []
  const some =
    chosen.length > 0 ||
    draft.freeFrom.length > 0 ||
    draft.lines.some((l) => (l.wishes ?? []).length > 0 || (l.freeFrom ?? []).length > 0)
  const asks = wrong && draft.lines.length > 0 && some
  const swaps = useQuery({
    queryKey: ['figures', 'swaps', order, draft.lines, chosen, draft.freeFrom],
    queryFn: async ({ signal }) => {
      await amountsRead()
      return ask(api.POST('/api/v1/swaps', { body: { draft, order }, signal }))
    },
    enabled: asks,
    retry: false,
  })
  return (
    <>
      <fieldset className="free-from">
        <legend>{words.isToSuit}</legend>
        {wishes.map((w) => (
          <Button
            key={w}
            className="pill"
            aria-pressed={chosen.includes(w)}
            onClick={() => {
              const next = chosen.includes(w) ? chosen.filter((x) => x !== w) : [...chosen, w]
              set({ wishes: next.length > 0 ? next : undefined })
            }}
          >
            {kit.wishes[w]}
          </Button>
        ))}
      </fieldset>
      {asks && swaps.data && (
        <div className="swaps" role="status">
          {swaps.data.swaps.length === 0 && <p className="soft">{words.noSwapFits}</p>}
          <ul>
            {swaps.data.swaps.map((s) => (
              <Tried key={`${s.line} ${s.text}`} swap={s} draft={draft} set={set} />
            ))}
          </ul>
        </div>
      )}
    </>
  )
}

/** A swap that was tried: taken, the line is of a treat of its own that is made so, and the other treat stays. */
function Tried({ swap, draft, set }: Pick<Writing, 'draft' | 'set'> & { swap: Swap }) {
  const queries = useQueryClient()
  const starting = useStarting()
  const treat = draft.lines[swap.line]?.treat
  const key = useRef(newKey())
  const take = useMutation({
    mutationFn: async () => {
      const swaps: Swap['pairs'] = []
      for (const p of swap.pairs) {
        const name = p.in.startsWith(common) ? p.in.slice(common.length) : undefined
        const known = name && starting.data?.ingredients.find((i) => i.name === name)
        if (!known) {
          swaps.push(p)
          continue
        }
        const { source: _, ...fields } = known
        const made = await ask(
          api.POST('/api/v1/ingredients', {
            params: { header: { 'Idempotency-Key': `${key.current}-${name}` } },
            body: { ...fresh, ...fields, paid: '0.00' },
          }),
        )
        swaps.push({ ...p, in: made.id })
      }
      return ask(
        api.POST('/api/v1/treats/{id}/copies', {
          params: { path: { id: treat! }, header: { 'Idempotency-Key': key.current } },
          body: { swaps },
        }),
      )
    },
    onSuccess: async (copy) => {
      set({ lines: draft.lines.map((l, i) => (i === swap.line ? { ...l, treat: copy.id } : l)) })
      await askAnew(queries, ['treats', 'larder'])
    },
    onError: () => (key.current = newKey()),
  })
  const refused = take.error instanceof Refused ? take.error : undefined
  return (
    <li>
      {swap.text}{' '}
      <Button size="small" loading={take.isPending} disabled={!treat} onClick={() => take.mutate()}>
        {words.takeTheSwap}
      </Button>{' '}
      <Link className="link" to={`/treats/${treat}`}>
        {words.openTheTreat}
      </Link>
      <Fault>{refused && (refused.problem.errors?.[0]?.message ?? refused.message)}</Fault>
    </li>
  )
}

/** How the id of an ingredient begins that is common and not in the larder. */
const common = 'common '
