import { type FormEvent, useCallback, useEffect, useState } from 'react'
import { api, ask, Refused, type Schemas } from '../api/client'
import { lookOf, Patterns } from '../kit/chocolate'
import { Glyph } from '../kit/glyphs'

type Page = Schemas['OrdersQuotePage']

const money = (m: Schemas['PriceMoney']) => {
  const digits = m.amount.split('.')[1]?.length ?? 0
  return new Intl.NumberFormat('en', {
    style: 'currency',
    currency: m.currency,
    minimumFractionDigits: digits,
    maximumFractionDigits: digits,
  }).format(Number(m.amount))
}

/**
 * What a customer sees of their order: to read, to print, to say yes to. It needs no sign-in and shows nothing else.
 */
export function QuotePage({ token }: { token: string }) {
  const [page, setPage] = useState<Page>()
  const [refused, setRefused] = useState<Refused>()
  const path = { params: { path: { token } } }
  const load = useCallback(
    () => ask(api.GET('/api/v1/quotes/{token}', { params: { path: { token } } })).then(setPage, setRefused),
    [token],
  )
  useEffect(() => void load(), [load])
  async function send(answer: Promise<Page>) {
    try {
      setPage(await answer)
      setRefused(undefined)
    } catch (error) {
      if (!(error instanceof Refused)) throw error
      setRefused(error)
      // What it says may have changed meanwhile: look at what it is now.
      await load()
    }
  }
  if (!page) {
    return (
      <main className="quote">
        {refused ? (
          <>
            <h1>Quote not found</h1>
            <p>{refused.message}</p>
          </>
        ) : (
          <p role="status">One moment…</p>
        )}
      </main>
    )
  }
  const q = page.quote
  const at = (t: string, options: Intl.DateTimeFormatOptions) =>
    new Intl.DateTimeFormat('en-GB', { timeZone: q.zone, ...options }).format(new Date(t))
  const day = (t: string) => at(t, { weekday: 'long', day: 'numeric', month: 'long', year: 'numeric' })
  const clock = (t: string) => at(t, { hour: 'numeric', minute: '2-digit', hour12: page.clock === 12 })
  return (
    <main className="quote">
      <Patterns />
      <header>
        <p className="from">{q.kitchen}</p>
        <h1>
          For {q.customer}
          {q.occasion && `, ${q.occasion}`}
        </h1>
        <State page={page} day={day} clock={clock} />
      </header>
      <ul className="quote-lines" aria-label="What">
        {q.lines.map((l, i) => {
          const look = lookOf(l.look)
          return (
            <li key={i}>
              <span
                className={`chip c-${look.word}`}
                style={{ background: look.fill, color: look.ink, borderColor: look.edge }}
              >
                <Glyph family={l.family} size={26} />
              </span>
              <span>{l.name}</span>
              <b>
                {l.count} {l.sold}
              </b>
            </li>
          )
        })}
      </ul>
      <dl>
        <dt>When</dt>
        <dd>
          {q.way === 'pickup' ? 'Picked up' : 'Delivered'}
          {q.place && `, ${q.place}`}
          <br />
          <b>
            {day(q.from)}, {clock(q.from)} to {clock(q.to)}
          </b>
        </dd>
        <dt>Price</dt>
        <dd>
          <b className="price">{money(q.gross)}</b>
          {q.tax && (
            <small>
              {q.taxIn ? `with ${money(q.tax)} of tax in it` : `${money(q.price)} and ${money(q.tax)} of tax`}
            </small>
          )}
          {q.deposit && <small>{money(q.deposit)} deposit</small>}
        </dd>
        <dt>Contains</dt>
        <dd>
          {q.allergens.length > 0
            ? q.allergens.join(', ')
            : 'According to our recipes: none of the allergens that must be declared.'}
        </dd>
        {q.freeFrom.length > 0 && (
          <>
            <dt>Made without</dt>
            <dd>{q.freeFrom.join(', ')}</dd>
          </>
        )}
        <dt>Storage</dt>
        <dd>
          {q.keeping.map((k) => (
            <p key={k}>{k}</p>
          ))}
        </dd>
        {q.serving.length > 0 && (
          <>
            <dt>Serving</dt>
            <dd>
              {q.serving.map((k) => (
                <p key={k}>{k}</p>
              ))}
            </dd>
          </>
        )}
      </dl>
      {refused && (
        <p className="fault" role="alert">
          {refused.problem.errors?.[0]?.message ?? refused.message}
        </p>
      )}
      {page.state === 'open' && (
        <Answer
          request={page.request}
          name={q.customer}
          yes={(name) => send(ask(api.POST('/api/v1/quotes/{token}/acceptance', { ...path, body: { name } })))}
          other={(text) => send(ask(api.POST('/api/v1/quotes/{token}/request', { ...path, body: { text } })))}
        />
      )}
      <footer>
        <button type="button" onClick={() => window.print()}>
          Print
        </button>
        <a href={`/api/v1/quotes/${token}/quote.pdf`}>Download PDF</a>
      </footer>
    </main>
  )
}

function State({ page, day, clock }: { page: Page; day: (t: string) => string; clock: (t: string) => string }) {
  switch (page.state) {
    case 'accepted':
      return (
        <p className="state yes" role="status">
          You accepted this quote{page.accepted && ` on ${day(page.accepted)}`}. Thank you!
        </p>
      )
    case 'expired':
      return (
        <p className="state no" role="status">
          This quote expired on {day(page.expires)}. Ask for a new one.
        </p>
      )
    case 'changed':
      return (
        <p className="state no" role="status">
          The order has changed since. A new quote is on its way.
        </p>
      )
    default:
      return (
        <p className="state" role="status">
          Valid until {day(page.expires)}, {clock(page.expires)}.
        </p>
      )
  }
}

function Answer({
  name,
  request,
  yes,
  other,
}: {
  name: string
  request?: string
  yes: (name: string) => Promise<void>
  other: (text: string) => Promise<void>
}) {
  const [who, setWho] = useState(name)
  const [text, setText] = useState('')
  const [busy, setBusy] = useState(false)
  const send = (e: FormEvent, what: () => Promise<void>) => {
    e.preventDefault()
    setBusy(true)
    void what().finally(() => setBusy(false))
  }
  return (
    <section className="answer" aria-label="Your answer">
      <form onSubmit={(e) => send(e, () => yes(who))} noValidate>
        <label>
          Your name <input value={who} onChange={(e) => setWho(e.target.value)} autoComplete="name" />
        </label>
        <button type="submit" className="yes" disabled={busy}>
          Yes, please make it
        </button>
      </form>
      <details open={Boolean(request)}>
        <summary>Request a change</summary>
        {request && (
          <p className="sent" role="status">
            You wrote: “{request}”. You will get a new quote.
          </p>
        )}
        <form onSubmit={(e) => send(e, () => other(text).then(() => setText('')))} noValidate>
          <label>
            What would you like changed? <textarea rows={3} value={text} onChange={(e) => setText(e.target.value)} />
          </label>
          <button type="submit" disabled={busy}>
            Send request
          </button>
        </form>
      </details>
    </section>
  )
}
