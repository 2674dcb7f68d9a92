import { keepPreviousData, useQuery } from '@tanstack/react-query'
import { AutoComplete, Input } from 'antd'
import { useDeferredValue } from 'react'
import { api, ask, type Schemas } from '../api/client'
import { words } from './words'
import './orders.css'

type Known = Schemas['CustomersFound']

/** Whom an order is for: somebody who is known is offered with how to reach them. */
export function Customer(p: {
  value: string
  fault?: string
  autoFocus?: boolean
  onChange: (name: string) => void
  onKnown: (customer: Known) => void
}) {
  const typed = useDeferredValue(p.value.trim())
  const known = useQuery({
    queryKey: ['customers', typed],
    queryFn: ({ signal }) =>
      ask(api.GET('/api/v1/customers', { params: { query: { find: typed, limit: 8 } }, signal })),
    enabled: typed.length > 1,
    placeholderData: keepPreviousData,
  })
  const list = typed.length > 1 ? (known.data?.customers ?? []).filter((c) => c.name !== p.value) : []
  return (
    <span className="blank-field">
      <AutoComplete
        className="customer-input"
        variant="borderless"
        popupMatchSelectWidth={false}
        defaultActiveFirstOption={false}
        value={p.value}
        options={list.map((c) => ({
          value: c.name,
          label: (
            <span className="known-customer">
              <b>{c.name}</b> <small className="soft">{[c.phone, c.mail].filter(Boolean).join(' · ')}</small>
            </span>
          ),
        }))}
        onChange={(name: string) => p.onChange(name ?? '')}
        onSelect={(name: string) => {
          const chosen = list.find((c) => c.name === name)
          if (chosen) p.onKnown(chosen)
        }}
      >
        <Input
          variant="borderless"
          className={p.fault ? 'blank wrong' : 'blank'}
          aria-label={words.customer}
          aria-invalid={Boolean(p.fault)}
          autoFocus={p.autoFocus}
          placeholder={words.customerExample}
          htmlSize={Math.min(Math.max((p.value || words.customerExample).length + 1, 9), 34)}
        />
      </AutoComplete>
      {p.fault && (
        <span className="fault" role="alert">
          {p.fault}
        </span>
      )}
    </span>
  )
}
