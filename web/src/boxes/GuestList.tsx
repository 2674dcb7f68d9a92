import { useQuery } from '@tanstack/react-query'
import { Button, Input } from 'antd'
import { type ReactNode, useDeferredValue, useState } from 'react'
import { api, ask, Refused, type Schemas } from '../api/client'
import { useFound, useKeep } from '../device/drafts'
import { OpenFile } from '../kit/OpenFile'
import { words } from './words'

export interface Guests {
  text: string
  setText: (text: string) => void
  read?: Schemas['OrdersGuests']
  refused?: Refused
}

/** The guests of an order, as their list was pasted or opened; it is kept on this device alone. */
export function useGuests(order: { id?: string; customer: string }): Guests {
  const place = `guests/${order.id ?? 'new'}`
  const found = useFound<string>(place)
  const [text, setText] = useState(found.value ?? '')
  const about = { title: words.guestsOf(order.customer), to: `/handover/${order.id}` }
  useKeep(place, about, text, order.id !== undefined && text.trim() !== '', found)
  const typed = useDeferredValue(text)
  const guests = useQuery({
    queryKey: ['guests', typed],
    queryFn: ({ signal }) => ask(api.POST('/api/v1/calculators/guests', { body: { text: typed }, signal })),
    enabled: typed.trim() !== '',
    retry: false,
    gcTime: 60_000,
  })
  return {
    text,
    setText,
    read: typed.trim() === '' ? undefined : guests.data,
    refused: guests.error instanceof Refused ? guests.error : undefined,
  }
}

/** A list of guests, pasted or opened, and how many they are at which table. */
export function GuestList({
  guests: { text, setText, read, refused },
  children,
  more,
}: {
  guests: Guests
  /** Beside the button that opens a file. */
  children?: ReactNode
  /** Behind what the list comes to. */
  more?: ReactNode
}) {
  const tables = (read?.tables ?? []).filter((t) => t.name)
  return (
    <>
      <Input.TextArea
        rows={4}
        aria-label={words.guests}
        placeholder={words.guestsExample}
        value={text}
        onChange={(e) => setText(e.target.value)}
      />
      <p className="guest-list-do">
        <OpenFile label={words.openGuests} accept=".csv,.txt,text/csv" open={async (f) => setText(await f.text())}>
          <Button size="small">{words.openGuests}</Button>
        </OpenFile>
        {children}
      </p>
      {refused && (
        <p className="fault" role="alert">
          {refused.at('text') ?? refused.message}
        </p>
      )}
      {read && (
        <p role="status">
          {words.guestsAt(read.guests.length, tables.length)}{' '}
          {tables.map((t) => words.atTable(t.name, t.guests)).join(', ')}
          {read.bad.length > 0 && <b className="trouble"> {words.badGuests(read.bad.map((b) => b.line).join(', '))}</b>}
          {more}
        </p>
      )}
    </>
  )
}
