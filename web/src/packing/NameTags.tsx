import { useQuery } from '@tanstack/react-query'
import { Button, Input } from 'antd'
import { useDeferredValue, useState } from 'react'
import { api, ask, Refused } from '../api/client'
import { useFound, useKeep } from '../device/drafts'
import { OpenFile } from '../kit/OpenFile'
import { useSay } from '../kit/say'
import { asQuery, usePrinting } from './useLabelSheet'
import { words } from './words'

/** Tags with the names of guests, from a list that is pasted or opened; it is kept on this device alone. */
export function NameTags({ order, boxes }: { order: { id: string; customer: string }; boxes: number }) {
  const say = useSay()
  const place = `guests/${order.id}`
  const found = useFound<string>(place)
  const [text, setText] = useState(found.value ?? '')
  const about = { title: words.guestsOf(order.customer), to: `/handover/${order.id}` }
  useKeep(place, about, text, text.trim() !== '', found)
  const { printing } = usePrinting()
  const typed = useDeferredValue(text)
  const guests = useQuery({
    queryKey: ['guests', typed],
    queryFn: ({ signal }) => ask(api.POST('/api/v1/calculators/guests', { body: { text: typed }, signal })),
    enabled: typed.trim() !== '',
    retry: false,
    gcTime: 60_000,
  })
  const g = typed.trim() === '' ? undefined : guests.data
  async function print() {
    try {
      const { free: _, ...sheet } = asQuery(printing) as Record<string, string>
      const file = await ask(
        api.POST('/api/v1/calculators/tags.pdf', {
          params: { query: { ...sheet, start: printing.start } },
          body: { text },
          parseAs: 'blob',
        }),
      )
      const link = document.createElement('a')
      link.href = URL.createObjectURL(file as unknown as Blob)
      link.download = 'tags.pdf'
      link.click()
      setTimeout(() => URL.revokeObjectURL(link.href), 10_000)
    } catch (error) {
      say.refused(error)
    }
  }
  return (
    <details className="name-tags" open={text !== ''}>
      <summary>{words.nameTags}</summary>
      <p className="soft">{words.nameTagsWhat}</p>
      <Input.TextArea
        rows={4}
        aria-label={words.guests}
        placeholder={words.guestsExample}
        value={text}
        onChange={(e) => setText(e.target.value)}
      />
      <p className="name-tags-do">
        <OpenFile label={words.openGuests} accept=".csv,.txt,text/csv" open={async (f) => setText(await f.text())}>
          <Button size="small">{words.openGuests}</Button>
        </OpenFile>
        {g && g.guests.length > 0 && (
          <Button size="small" type="primary" onClick={() => void print()}>
            {words.printTags(g.guests.length)}
          </Button>
        )}
      </p>
      {guests.error instanceof Refused && (
        <p className="fault" role="alert">
          {guests.error.at('text') ?? guests.error.message}
        </p>
      )}
      {g && (
        <p role="status">
          {words.guestsAt(g.guests.length, g.tables.filter((t) => t.name).length)}{' '}
          {g.tables
            .filter((t) => t.name)
            .map((t) => words.atTable(t.name, t.guests))
            .join(', ')}
          {g.bad.length > 0 && <b className="trouble"> {words.badGuests(g.bad.map((b) => b.line).join(', '))}</b>}
          {boxes > 0 && boxes !== g.guests.length && (
            <b className="trouble"> {words.boxesAndGuests(boxes, g.guests.length)}</b>
          )}
        </p>
      )}
    </details>
  )
}
