import { keepPreviousData, useQuery } from '@tanstack/react-query'
import { Button, Slider } from 'antd'
import { useDeferredValue, useState } from 'react'
import { api, ask, type Schemas } from '../api/client'
import { minutes, useKitchen } from '../shell/kitchen'
import type { Draft } from './draft'
import { words } from './words'

type If = Required<Schemas['OrderWhatIf']>

const nothing: If = { chocolate: 0, loss: 0, moulds: 0, hourly: '' }
const signed = (n: number) => (n > 0 ? `+${Math.round(n * 100)}%` : `${Math.round(n * 100)}%`)

/** Sliders on a copy of the order: what would change, and by how much. */
export function WhatIf({ order, draft }: { order?: string; draft: Draft }) {
  const kitchen = useKitchen()
  const [open, setOpen] = useState(false)
  const [wish, setWish] = useState<If>(nothing)
  const asked = useDeferredValue(wish)
  const rate = useQuery({
    queryKey: ['kitchen', 'rate'],
    queryFn: () => ask(api.GET('/api/v1/kitchen', {})),
    enabled: open,
  })
  const changed = JSON.stringify(asked) !== JSON.stringify(nothing)
  const then = useQuery({
    queryKey: ['what-if', order, draft, asked],
    queryFn: ({ signal }) =>
      ask(
        api.POST('/api/v1/what-ifs', {
          body: { order, draft, if: { ...asked, hourly: asked.hourly || undefined } },
          signal,
        }),
      ),
    enabled: open && changed,
    placeholderData: keepPreviousData,
    retry: false,
  })
  const usual = Number(rate.data?.hourly ?? 0)
  const other = changed ? then.data : undefined
  const c = other?.comparison
  const rows = c
    ? [
        { name: 'cost', of: c.cost },
        { name: 'price', of: c.price },
        { name: words.leftOver, of: c.profit },
        ...(c.perHour ? [{ name: words.payPerHour2, of: c.perHour }] : []),
      ]
    : []
  const span = (n: number) => (n < 0 ? `−${minutes(-n)}` : minutes(n))
  return (
    <details className="what-if" onToggle={(e) => setOpen(e.currentTarget.open)}>
      <summary>{words.whatIf}</summary>
      {open && (
        <>
          <label>
            {words.chocolateCosts}
            <Slider
              ariaLabelForHandle={words.chocolateCosts2}
              min={-30}
              max={60}
              step={5}
              value={Math.round(wish.chocolate * 100)}
              onChange={(n) => setWish({ ...wish, chocolate: n / 100 })}
              tooltip={{ open: false }}
            />
            <b>{signed(wish.chocolate)}</b>
          </label>
          <label>
            {words.losses}
            <Slider
              ariaLabelForHandle={words.losses2}
              min={-100}
              max={100}
              step={10}
              value={Math.round(wish.loss * 100)}
              onChange={(n) => setWish({ ...wish, loss: n / 100 })}
              tooltip={{ open: false }}
            />
            <b>{signed(wish.loss)}</b>
          </label>
          <label>
            {words.moreMoulds}
            <Slider
              ariaLabelForHandle={words.moreMoulds2}
              min={0}
              max={6}
              value={wish.moulds}
              onChange={(moulds) => setWish({ ...wish, moulds })}
              tooltip={{ open: false }}
            />
            <b>+{wish.moulds}</b>
          </label>
          <label>
            {words.hourlyRate}
            <Slider
              ariaLabelForHandle={words.hourlyRate2}
              min={0}
              max={Math.max(60, Math.ceil(usual * 3))}
              value={Number(wish.hourly || usual)}
              onChange={(n) => setWish({ ...wish, hourly: n === usual ? '' : String(n) })}
              tooltip={{ open: false }}
            />
            <b>{wish.hourly || rate.data?.hourly}</b>
          </label>
          {!changed && <p className="soft">{words.moveASliderThisOrder}</p>}
          {then.error && changed && (
            <p className="fault" role="alert">
              {then.error.message}
            </p>
          )}
          {other && (
            <table aria-live="polite">
              <thead>
                <tr>
                  <th />
                  <th>{words.now}</th>
                  <th>{words.then}</th>
                  <th>{words.change}</th>
                </tr>
              </thead>
              <tbody>
                {rows.map((row) => (
                  <tr key={row.name}>
                    <th scope="row">{row.name}</th>
                    <td>{kitchen.money(row.of.now)}</td>
                    <td>{kitchen.money(row.of.then)}</td>
                    <td>
                      <b>{row.of.same ? words.none : plus(kitchen.money(row.of.change))}</b>
                    </td>
                  </tr>
                ))}
                <tr>
                  <th scope="row">{words.handsOnTime}</th>
                  <td>{span(c!.now)}</td>
                  <td>{span(c!.then)}</td>
                  <td>
                    <b>{c!.change === 0 ? words.none : plus(span(c!.change))}</b>
                  </td>
                </tr>
              </tbody>
            </table>
          )}
          {changed && (
            <Button type="link" className="link" onClick={() => setWish(nothing)}>
              {words.reset}
            </Button>
          )}
        </>
      )}
    </details>
  )
}

/** What rises says so by a sign, as what falls does. */
const plus = (said: string) => (/^[-−]/.test(said) ? said : `+${said}`)
