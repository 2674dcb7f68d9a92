import { keepPreviousData, useInfiniteQuery, useQuery } from '@tanstack/react-query'
import { Button, Input, Select } from 'antd'
import { useDeferredValue, useState } from 'react'
import { useSearchParams } from 'react-router'
import { api, ask, type Schemas } from '../api/client'
import { Face } from '../kit/Face'
import { Glyph } from '../kit/glyphs'
import { dayLong, minutes, moneyOf, together, whom, useKitchen } from '../shell/kitchen'
import { Entry } from './Entry'
import { Lessons } from './Lessons'
import { Over } from './Over'
import { words } from './words'
import './logbook.css'

type Batch = Schemas['LogbookBatch']

/** What was made, the last first; of one treat also over time, with what it teaches. */
export default function Logbook() {
  const { owns } = useKitchen()
  const [query, setQuery] = useSearchParams()
  const treat = query.get('treat') ?? ''
  const asked = query.get('find') ?? ''
  const [find, setFind] = useState(asked)
  const [last, setLast] = useState(asked)
  if (asked !== last) {
    // Found anew from elsewhere, while this page is open.
    setLast(asked)
    setFind(asked)
  }
  const typed = useDeferredValue(find.trim())
  const treats = useQuery({ queryKey: ['treats'], queryFn: () => ask(api.GET('/api/v1/treats', {})) })
  const log = useInfiniteQuery({
    queryKey: ['logbook', treat, typed],
    queryFn: ({ pageParam, signal }) =>
      ask(
        api.GET('/api/v1/logbook', {
          params: { query: { treat: treat || undefined, find: typed || undefined, before: pageParam } },
          signal,
        }),
      ),
    initialPageParam: undefined as string | undefined,
    getNextPageParam: (last) => (last.more ? last.batches.at(-1)?.day : undefined),
    placeholderData: keepPreviousData,
  })
  if (!log.data) return <Face title={words.title} of={[log]} />
  const batches = log.data.pages.flatMap((p) => p.batches)
  const days = [...new Set(batches.map((b) => b.day))]
  const name = treats.data?.treats.find((t) => t.id === treat)?.name ?? ''
  return (
    <section className="wide logbook">
      <header className="work-head">
        <h1>{words.title}</h1>
        <Input
          type="search"
          aria-label={words.find}
          placeholder={words.find}
          value={find}
          maxLength={100}
          style={{ width: 230 }}
          onChange={(e) => setFind(e.target.value)}
        />
        <Select
          aria-label={words.treat}
          showSearch={{ optionFilterProp: 'label' }}
          value={treat}
          style={{ width: 260 }}
          options={[
            { value: '', label: words.allTreats },
            ...(treats.data?.treats ?? []).map((t) => ({ value: t.id, label: t.name })),
          ]}
          onChange={(id) => setQuery(id ? { treat: id } : {})}
        />
        {owns && (
          <span className="head-acts no-print">
            <a className="button-link" href="/api/v1/logbook.csv" download="logbook.csv">
              {words.csv}
            </a>
            <a className="button-link" href="/api/v1/logbook.json" download="logbook.json">
              {words.json}
            </a>
          </span>
        )}
      </header>
      {treat && <Over batches={batches} name={name} />}
      {treat && <Lessons treat={treat} all />}
      {!treat && <Shows />}
      {batches.length === 0 && <p className="empty">{typed || treat ? words.nothingFound : words.nothing}</p>}
      {days.map((day) => (
        <section key={day} aria-label={dayLong(day)}>
          <h2>{dayLong(day)}</h2>
          {batches
            .filter((b) => b.day === day)
            .map((b) => (
              <Line key={b.id} b={b} />
            ))}
        </section>
      ))}
      {log.hasNextPage && (
        <Button loading={log.isFetchingNextPage} onClick={() => void log.fetchNextPage()}>
          {words.older}
        </Button>
      )}
    </section>
  )
}

/** What the bowls of this kitchen show, whatever was made. */
function Shows() {
  const known = useQuery({
    queryKey: ['logbook', 'kitchen'],
    queryFn: () => ask(api.GET('/api/v1/logbook/kitchen', {})),
  })
  const list = known.data?.shows ?? []
  if (list.length === 0) return null
  return (
    <ul className="lessons" aria-label={words.kitchenShows}>
      {list.map((text) => (
        <li key={text}>{text}</li>
      ))}
    </ul>
  )
}

/** A batch in one line; opened, all of it. */
function Line({ b }: { b: Batch }) {
  const [open, setOpen] = useState(false)
  const says = [
    b.good !== undefined && b.counted
      ? words.good(b.good, b.started)
      : b.counted
        ? words.started(b.started, b.sold)
        : words.wanted(b.wanted, b.sold),
    b.lost > 0 && words.lost(b.lost),
    b.repaired > 0 && words.repaired(b.repaired),
    b.back > 0 && words.back(b.back),
    b.took
      ? words.took(minutes(Math.round(b.took)), minutes(Math.round(b.planned)))
      : words.planned(minutes(Math.round(b.planned))),
    b.cost.amount && moneyOf.text(b.cost),
    b.who.length > 0 && words.by(together(b.who)),
    !b.done && words.under,
  ].filter(Boolean)
  return (
    <details className="log-line" open={open} onToggle={(e) => setOpen(e.currentTarget.open)}>
      <summary>
        <Glyph family={b.family} size={22} />
        <span>
          <b>{b.name}</b> <span className="soft">{words.for(whom(b.for))}</span>
          <small>{says.join(' · ')}</small>
          {b.faults.length > 0 && (
            <small className="trouble">{[...new Set(b.faults.map((f) => f.sign))].join(' · ')}</small>
          )}
        </span>
        {b.photo && <img src={`/api/v1/batches/${b.id}/photo`} alt="" height={44} loading="lazy" />}
      </summary>
      {open && <Entry b={b} />}
    </details>
  )
}
