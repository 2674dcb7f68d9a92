import { Button } from 'antd'
import { useQuery } from '@tanstack/react-query'
import { api, ask, type Schemas } from '../api/client'
import { useSay } from '../kit/say'
import { useChange } from '../plan/useChange'
import type { Draft } from './draft'
import { Part } from './Estimate'
import '../plan/plan.css'
import { words } from './words'

type Relief = Schemas['OrderSuggestion']

/** The single changes that make an order fit, each tried; one touch does it. */
export function Helps({ order, draft, set }: { order?: string; draft: Draft; set: (change: Partial<Draft>) => void }) {
  const { change } = useChange()
  const say = useSay()
  const found = useQuery({
    queryKey: ['reliefs', order, draft.lines, draft.from, draft.freeFrom],
    queryFn: ({ signal }) => ask(api.POST('/api/v1/reliefs', { body: { order, draft }, signal })),
    retry: false,
    placeholderData: undefined,
  })
  const line = (r: Relief, to: Partial<Draft['lines'][number]>) =>
    set({ lines: draft.lines.map((l, i) => (i === r.line ? { ...l, ...to } : l)) })
  function apply(r: Relief) {
    const was = { lines: draft.lines, from: draft.from, to: draft.to }
    const written = () => say.done('helps', `${r.text}.`, () => set(was))
    switch (r.kind) {
      case 'fewer':
        line(r, { count: r.count })
        return written()
      case 'coating':
        line(r, { coating: true })
        return written()
      case 'later':
        set({ from: r.starts!, to: r.ends! })
        return written()
      case 'spot':
        return void change({ kind: 'spot', spot: r.spot, count: r.trays })
      case 'mould':
        return void change({ kind: 'mould', tool: r.tool, count: r.count })
      case 'day':
        return void change({ kind: 'day', day: r.day, from: r.from, to: r.to, hands: r.hands })
      default:
        return void change({ kind: 'hours', day: r.day, from: r.from, to: r.to, hands: r.hands })
    }
  }
  if (found.isPending)
    return (
      <Part name={words.toFit}>
        <p className="soft" role="status">
          {words.checkingWhatWouldHelp}
        </p>
      </Part>
    )
  const list = found.data?.reliefs ?? []
  return (
    <Part name={words.toFit}>
      {list.length === 0 && <p className="soft">{words.noSingleChangeIsEnough}</p>}
      {list.length > 0 && <p className="soft">{words.waysToMakeItFit}</p>}
      <ul className="helps">
        {list.map((r) => (
          <li key={r.text}>
            <span>
              {r.text}
              {r.why && <small>{r.why}</small>}
            </span>
            <Button type="link" className="link" aria-label={words.doIt(r.text)} onClick={() => apply(r)}>
              {words.apply}
            </Button>
          </li>
        ))}
      </ul>
    </Part>
  )
}
