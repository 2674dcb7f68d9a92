import { useQuery } from '@tanstack/react-query'
import { Button, Input, Select } from 'antd'
import { api, ask } from '../api/client'
import { useKitchen } from '../shell/kitchen'
import { type State, stateName } from './draft'
import { daysOf, type Span } from './spans'
import { words } from './words'

export interface Filter {
  find: string
  state?: State
  treat?: string
  span?: Span
}

export const noFilter: Filter = { find: '' }
export const filters = (f: Filter) => Boolean(f.find.trim() || f.state || f.treat || f.span)

const ahead: State[] = ['enquiry', 'quoted', 'promised', 'in the making', 'packed']
const behind: State[] = ['handed over', 'settled', 'cancelled']

/** Which orders the list shows. */
export function FilterRow({ f, set, past }: { f: Filter; set: (f: Filter) => void; past: boolean }) {
  const treats = useQuery({ queryKey: ['treats'], queryFn: () => ask(api.GET('/api/v1/treats', {})) })
  const spans = past
    ? (['week', 'lastWeek', 'month', 'lastMonth'] as const)
    : (['week', 'nextWeek', 'month', 'nextMonth'] as const)
  return (
    <div className="order-filter" role="search" aria-label={words.filter}>
      <Input
        size="small"
        allowClear
        aria-label={words.filterFind}
        placeholder={words.filterFind}
        value={f.find}
        onChange={(e) => set({ ...f, find: e.target.value })}
      />
      <Select
        size="small"
        allowClear
        aria-label={words.filterState}
        placeholder={words.filterState}
        popupMatchSelectWidth={false}
        value={f.state}
        options={(past ? behind : ahead).map((value) => ({ value, label: stateName[value] }))}
        onChange={(state?: State) => set({ ...f, state })}
      />
      <Select
        size="small"
        allowClear
        showSearch={{ optionFilterProp: 'label' }}
        aria-label={words.filterTreat}
        placeholder={words.filterTreat}
        popupMatchSelectWidth={false}
        value={f.treat}
        options={(treats.data?.treats ?? []).map((t) => ({ value: t.id, label: t.name }))}
        onChange={(treat?: string) => set({ ...f, treat })}
      />
      <Select
        size="small"
        allowClear
        aria-label={words.filterSpan}
        placeholder={words.filterSpan}
        popupMatchSelectWidth={false}
        value={f.span}
        options={spans.map((value) => ({ value, label: words.spans[value] }))}
        onChange={(span?: Span) => set({ ...f, span })}
      />
      {filters(f) && (
        <Button size="small" type="link" onClick={() => set(noFilter)}>
          {words.filterNone}
        </Button>
      )}
    </div>
  )
}

/** The filter as the list is asked; what is typed is asked for once it rests. */
export function useFilter(f: Filter, find: string) {
  const today = useKitchen().today()
  return { find: find.trim() || undefined, state: f.state, treat: f.treat, ...daysOf(f.span, today) }
}
