import { type FormEvent, useCallback, useEffect, useState } from 'react'
import { api, ask, Refused, type Schemas } from '../api/client'
import { lookOf, Patterns } from '../kit/chocolate'
import { Glyph } from '../kit/glyphs'
import { words } from './words'

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
            <h1>{words.quoteNotFound}</h1>
            <p>{refused.message}</p>
          </>
        ) : (
          <p role="status">{words.oneMoment}</p>
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
        {page.logo && <img className="logo" src={`/api/v1/quotes/${token}/logo`} alt="" />}
        <p className="from">{q.kitchen}</p>
        <h1>
          {words.for} {q.customer}
          {q.occasion && `, ${q.occasion}`}
        </h1>
        <State page={page} day={day} clock={clock} />
      </header>
      <ul className="quote-lines" aria-label={words.what}>
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
        <dt>{words.when}</dt>
        <dd>
          {q.way === 'pickup' ? words.pickedUp : words.delivered}
          {q.place && `, ${q.place}`}
          <br />
          <b>
            {day(q.from)}, {clock(q.from)} {words.to} {clock(q.to)}
          </b>
        </dd>
        <dt>{words.price}</dt>
        <dd>
          <b className="price">{money(q.gross)}</b>
          {q.tax && (
            <small>{q.taxIn ? words.withOfTaxInIt(money(q.tax)) : words.andOfTax(money(q.price), money(q.tax))}</small>
          )}
          {q.deposit && (
            <small>
              {money(q.deposit)} {words.deposit}
            </small>
          )}
        </dd>
        <dt>{words.contains}</dt>
        <dd>{q.allergens.length > 0 ? q.allergens.join(', ') : words.accordingToOurRecipesNone}</dd>
        {q.freeFrom.length > 0 && (
          <>
            <dt>{words.madeWithout}</dt>
            <dd>{q.freeFrom.join(', ')}</dd>
          </>
        )}
        <dt>{words.storage}</dt>
        <dd>
          {q.keeping.map((k) => (
            <p key={k}>{k}</p>
          ))}
        </dd>
        {(q.terms ?? []).length > 0 && (
          <>
            <dt>{words.cancelling}</dt>
            <dd>
              {q.terms!.map((k) => (
                <p key={k}>{k}</p>
              ))}
            </dd>
          </>
        )}
        {q.serving.length > 0 && (
          <>
            <dt>{words.serving}</dt>
            <dd>
              {q.serving.map((k) => (
                <p key={k}>{k}</p>
              ))}
            </dd>
          </>
        )}
      </dl>
      {page.statements?.map((s) => (
        <p key={s} className="statement">
          {s}
        </p>
      ))}
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
          {words.print}
        </button>
        <a href={`/api/v1/quotes/${token}/quote.pdf`}>{words.downloadPdf}</a>
      </footer>
    </main>
  )
}

function State({ page, day, clock }: { page: Page; day: (t: string) => string; clock: (t: string) => string }) {
  switch (page.state) {
    case 'accepted':
      return (
        <p className="state yes" role="status">
          {words.youAcceptedThisQuote}
          {page.accepted && words.on(day(page.accepted))}
          {words.thankYou}
        </p>
      )
    case 'expired':
      return (
        <p className="state no" role="status">
          {words.thisQuoteExpiredOn} {day(page.expires)}
          {words.askForANewOne}
        </p>
      )
    case 'changed':
      return (
        <p className="state no" role="status">
          {words.theOrderHasChangedSince}
        </p>
      )
    default:
      return (
        <p className="state" role="status">
          {words.validUntil} {day(page.expires)}, {clock(page.expires)}.
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
    <section className="answer" aria-label={words.yourAnswer}>
      <form onSubmit={(e) => send(e, () => yes(who))} noValidate>
        <label>
          {words.yourName} <input value={who} onChange={(e) => setWho(e.target.value)} autoComplete="name" />
        </label>
        <button type="submit" className="yes" disabled={busy}>
          {words.yesPleaseMakeIt}
        </button>
      </form>
      <details open={Boolean(request)}>
        <summary>{words.requestAChange}</summary>
        {request && (
          <p className="sent" role="status">
            {words.youWrote}
            {request}
            {words.youWillGetANew}
          </p>
        )}
        <form onSubmit={(e) => send(e, () => other(text).then(() => setText('')))} noValidate>
          <label>
            {words.whatWouldYouLikeChanged} <textarea rows={3} value={text} onChange={(e) => setText(e.target.value)} />
          </label>
          <button type="submit" disabled={busy}>
            {words.sendRequest}
          </button>
        </form>
      </details>
    </section>
  )
}
