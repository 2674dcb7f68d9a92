import { keepPreviousData, useQuery, useQueryClient } from '@tanstack/react-query'
import { Dropdown, Input } from 'antd'
import { useDeferredValue, useEffect, useId, useMemo, useRef, useState } from 'react'
import { NavLink, useLocation, useNavigate } from 'react-router'
import { stateName } from '../orders/draft'
import { forgetAnswers } from '../device/answers'
import { api, ask } from '../api/client'
import { newKey } from '../device/register'
import { Answers } from './Answers'
import { Post } from './Post'
import { dayName, padEvent, useKitchen } from './kitchen'
import { useSay } from '../kit/say'
import { type Place, placesOf } from './roles'
import { keysEvent } from './shortcuts'
import { words } from './words'
import './shell.css'

/** The places of whoever is signed in. */
export function usePlaces() {
  const kitchen = useKitchen()
  return placesOf[kitchen.role](kitchen.today())
}

export function Lid() {
  const kitchen = useKitchen()
  const navigate = useNavigate()
  const { pathname } = useLocation()
  const places = usePlaces()
  const queries = useQueryClient()
  const say = useSay()
  const settings = kitchen.owns ? [words.lid.settings, '/kitchen'] : [words.lid.you, '/kitchen/you']
  const at = places.find(([, path]) => pathname.startsWith(path))?.[0] ?? settings[0]!
  const kitchens = kitchen.session.kitchens ?? []
  const inKitchen = words.lid.in(kitchen.session.kitchen ?? '', kitchen.role)
  const more = [
    { key: 'where', type: 'group' as const, label: inKitchen },
    ...(kitchen.role === 'bookkeeper' ? [] : [{ key: 'pad', label: words.lid.pad }]),
    { key: 'keys', label: words.lid.keys },
    ...(kitchen.owns ? [{ key: 'api', label: words.lid.api }] : []),
    ...kitchens.filter((k) => !k.this).map((k) => ({ key: `in:${k.id}`, label: words.lid.goTo(k.name) })),
    { key: 'out', label: words.lid.out },
  ]
  const choose = async ({ key }: { key: string }) => {
    if (key.startsWith('/')) void navigate(key)
    if (key === 'pad') window.dispatchEvent(new Event(padEvent))
    if (key === 'keys') window.dispatchEvent(new Event(keysEvent))
    if (key === 'api') window.open('/api/docs', '_blank')
    if (key.startsWith('in:')) {
      try {
        const body = { kitchen: key.slice(3) }
        queries.setQueryData(['session'], await ask(api.PUT('/api/v1/session/kitchen', { body })))
      } catch (error) {
        say.refused(error)
      }
    }
    if (key === 'out') {
      await api.DELETE('/api/v1/session', {})
      await forgetAnswers()
      location.assign('/') // nothing of it stays in memory
    }
  }
  return (
    <header className="lid">
      <NavLink to={places[0]![1]} className="mark" aria-label={words.lid.home(places[0]![0])}>
        <svg
          width="27"
          height="20"
          viewBox="0 0 27 20"
          fill="none"
          stroke="currentColor"
          strokeWidth="2"
          aria-hidden="true"
        >
          <rect x="1.2" y="1.2" width="24.6" height="17.6" rx="6" />
          <path d="M13.5 1.5v17" strokeWidth="1.6" />
          <circle cx="7.6" cy="10" r="2.1" fill="currentColor" stroke="none" />
          <path d="M17 10h5" strokeLinecap="round" />
        </svg>
        <span>Zesty Tin</span>
      </NavLink>
      <nav aria-label={words.lid.places} className="places">
        {places.map(([name, path]) => (
          <NavLink key={path} to={path}>
            {name}
          </NavLink>
        ))}
        <NavLink to={settings[1]!} className="to-settings">
          {settings[0]}
        </NavLink>
      </nav>
      <Dropdown
        trigger={['click']}
        menu={{
          items: [
            ...places.map(([name, path]) => ({ key: path, label: name })),
            { key: settings[1]!, label: settings[0] },
            { type: 'divider' as const },
            ...more,
          ],
          onClick: choose,
        }}
      >
        <button type="button" className="lid-menu" aria-label={words.lid.menuAt(at)}>
          {at} <span aria-hidden="true">▾</span>
        </button>
      </Dropdown>
      {kitchen.role !== 'bookkeeper' && <Find places={places} />}
      {kitchen.owns && <Post />}
      {kitchen.owns && <Answers />}
      {!kitchen.owns && <span className="in-kitchen">{inKitchen}</span>}
      <Dropdown trigger={['click']} menu={{ items: more, onClick: choose }}>
        <button
          type="button"
          className="clock"
          aria-label={`${kitchen.moment(kitchen.now().toISOString())}, ${words.lid.menu}`}
        >
          {kitchen.moment(kitchen.now().toISOString())} <span aria-hidden="true">▾</span>
        </button>
      </Dropdown>
    </header>
  )
}

interface Hit {
  key: string
  what: string
  beside: string
  to: string
  said?: string // what a customer asks for, to be read into a new order
}

/** Find anything: orders by customer, occasion or number, treats by name, places. */
function Find({ places }: { places: Place[] }) {
  const kitchen = useKitchen()
  const [text, setText] = useState('')
  const [at, setAt] = useState(0)
  const [open, setOpen] = useState(false)
  const box = useRef<HTMLDivElement>(null)
  const list = useId()
  const navigate = useNavigate()
  const typed = useDeferredValue(text.trim())
  const orders = useQuery({
    queryKey: ['orders', 'found', typed],
    queryFn: ({ signal }) =>
      ask(api.GET('/api/v1/orders', { params: { query: { which: 'all', find: typed, limit: 8 } }, signal })),
    enabled: open && typed !== '' && kitchen.owns,
    placeholderData: keepPreviousData,
  })
  // "24 strawberries Sat 2pm" is an order to be made.
  const asked = useQuery({
    queryKey: ['request', typed],
    queryFn: ({ signal }) => ask(api.POST('/api/v1/calculators/request', { body: { text: typed }, signal })),
    enabled: kitchen.owns && open && /\d|\bdozen\b/i.test(typed) && /[a-z]{3}/i.test(typed),
    placeholderData: undefined,
    retry: false,
  })
  const treats = useQuery({ queryKey: ['treats'], queryFn: () => ask(api.GET('/api/v1/treats', {})), enabled: open })
  const logged = useQuery({
    queryKey: ['logbook', 'found', typed],
    queryFn: ({ signal }) => ask(api.GET('/api/v1/logbook', { params: { query: { find: typed, limit: 3 } }, signal })),
    enabled: open && typed.length > 2,
    placeholderData: keepPreviousData,
  })
  const signs = useQuery({
    queryKey: ['fault', 'signs'],
    queryFn: () => ask(api.POST('/api/v1/faults/question', { body: {} })),
    enabled: open,
    staleTime: Infinity,
  })
  const hits = useMemo<Hit[]>(() => {
    const typed = text.toLowerCase().split(/\s+/).filter(Boolean)
    if (typed.length === 0) return []
    const all: Hit[] = [
      ...places.map(([name, to]) => ({ key: to, what: name, beside: 'place', to })),
      { key: '/bench/logbook', what: words.logbook, beside: words.beside.bench, to: '/bench/logbook' },
      ...(logged.data?.batches ?? []).map((b) => ({
        key: b.id,
        what: b.name,
        beside: words.madeOn(dayName(b.day), b.for.map((o) => o.customer).join(', ')),
        to: `/bench/logbook?find=${encodeURIComponent(b.name)}`,
      })),
      { key: '/bench/wrong', what: words.wrong, beside: words.beside.bench, to: '/bench/wrong' },
      ...(signs.data?.signs ?? []).map((s) => ({
        key: s.sign,
        what: s.name,
        beside: words.beside.wrong,
        to: `/bench/wrong?sign=${s.sign}`,
      })),
      { key: '/customers', what: words.customers, beside: 'place', to: '/customers' },
      ...(treats.data?.treats ?? []).map((t) => ({ key: t.id, what: t.name, beside: 'treat', to: `/treats/${t.id}` })),
      ...(orders.data?.orders ?? []).map((o) => ({
        key: o.id,
        what: o.customer,
        beside: words.orderIs(o.number, o.occasion, stateName[o.state]),
        to: `/orders/${o.id}`,
      })),
    ]
    const made: Hit[] = asked.data?.found
      ? [
          {
            key: 'request',
            what: words.newOrder(asked.data.lines.map((l) => `${l.count} ${l.name}`).join(', ')),
            beside: asked.data.dated ? kitchen.moment(asked.data.draft.from) : '',
            to: '/orders/new',
            said: text,
          },
        ]
      : []
    const found = all.filter(
      (h) => kitchen.mayGo(h.to) && typed.every((w) => `${h.what} ${h.beside}`.toLowerCase().includes(w)),
    )
    return [...made, ...found].slice(0, 8)
  }, [text, orders.data, treats.data, asked.data, signs.data, logged.data, kitchen, places])
  // Who types fast and presses Enter goes to the first that is found, as soon as it is.
  const found = typed === text.trim() && !orders.isFetching && !treats.isPending && !asked.isFetching
  const [entered, setEntered] = useState(false)
  const go = (h?: Hit) => {
    setEntered(false)
    if (!h) return
    setText('')
    setOpen(false)
    box.current?.querySelector('input')?.blur()
    void navigate(h.to, h.said ? { state: { said: h.said, key: newKey() } } : undefined)
  }
  useEffect(() => {
    if (!entered || !found) return
    const soon = setTimeout(() => go(hits[at]))
    return () => clearTimeout(soon)
  })
  return (
    <div className="find" ref={box} onBlur={(e) => !box.current?.contains(e.relatedTarget) && setOpen(false)}>
      <Input
        id="find"
        type="search"
        maxLength={100}
        placeholder={words.findAnything}
        role="combobox"
        aria-label={words.findAnything}
        aria-expanded={open && hits.length > 0}
        aria-controls={list}
        aria-autocomplete="list"
        aria-activedescendant={open && hits[at] ? `${list}-${at}` : undefined}
        autoComplete="off"
        value={text}
        onFocus={() => setOpen(true)}
        onChange={(e) => {
          setText(e.target.value)
          setEntered(false)
          setAt(0)
          setOpen(true)
        }}
        onKeyDown={(e) => {
          if (e.key === 'ArrowDown') setAt(Math.min(at + 1, hits.length - 1))
          else if (e.key === 'ArrowUp') setAt(Math.max(at - 1, 0))
          else if (e.key === 'Enter') setEntered(true)
          else if (e.key === 'Escape') e.currentTarget.blur()
          else return
          e.preventDefault()
        }}
      />
      <kbd aria-hidden="true">/</kbd>
      <ul id={list} role="listbox" aria-label={words.found} hidden={!open || hits.length === 0}>
        {hits.map((h, i) => (
          // eslint-disable-next-line jsx-a11y/click-events-have-key-events -- the field of the list has the keys
          <li
            key={h.key}
            id={`${list}-${i}`}
            role="option"
            aria-selected={i === at}
            onPointerDown={(e) => e.preventDefault()}
            onClick={() => go(h)}
          >
            <b>{h.what}</b> {h.beside}
          </li>
        ))}
      </ul>
    </div>
  )
}
