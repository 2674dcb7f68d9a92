import { useQuery } from '@tanstack/react-query'
import { Button } from 'antd'
import { Link } from 'react-router'
import { api, ask } from '../api/client'
import { amountsRead } from '../kit/AmountInput'
import type { Writing } from './Sentence'
import { words } from './words'

const wishes = Object.keys(words.wishes) as (keyof typeof words.wishes)[]

/** What all of the order is to suit, and where it does not, other ingredients that were tried. */
export function Wishes({
  draft,
  set,
  order,
  wrong,
}: Pick<Writing, 'draft' | 'set'> & { order?: string; wrong: boolean }) {
  const chosen = draft.wishes ?? []
  const asks = wrong && draft.lines.length > 0 && (chosen.length > 0 || draft.freeFrom.length > 0)
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
            {words.wishes[w]}
          </Button>
        ))}
      </fieldset>
      {asks && swaps.data && (
        <div className="swaps" role="status">
          {swaps.data.swaps.length === 0 && <p className="soft">{words.noSwapFits}</p>}
          <ul>
            {swaps.data.swaps.map((s) => (
              <li key={s.text}>
                {s.text}{' '}
                <Link className="link" to={`/treats/${draft.lines[s.line]?.treat}`}>
                  {words.openTheTreat}
                </Link>
              </li>
            ))}
          </ul>
        </div>
      )}
    </>
  )
}
