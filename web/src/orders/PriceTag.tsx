import { Button, Checkbox, Input, InputNumber } from 'antd'
import { type ReactNode, useId, useState } from 'react'
import { Blank } from '../kit/Blank'
import { Hint } from '../kit/Hint'
import { Figure } from '../kit/Figure'
import { useKitchen } from '../shell/kitchen'
import type { Draft } from './draft'
import type { Reckoned } from './Estimate'
import './orders.css'
import './price.css'
import { words } from './words'

type By = NonNullable<Draft['pricing']>['by']

const mile = 1.609344 // km

const percent = (share: number | undefined) => (share === undefined ? '' : (share * 100).toFixed(1).replace(/\.0$/, ''))

/**
 * The price of an order: four figures of which one leads and the others follow. Typing in one makes it lead; emptied,
 * the kitchen's own margin leads again.
 */
export function PriceTag({
  draft,
  set,
  r,
  agreed,
  fault,
}: {
  draft: Draft
  set: (change: Partial<Draft>) => void
  r?: Reckoned
  agreed?: string
  fault: (path: string) => string | undefined
}) {
  const kitchen = useKitchen()
  const m = r?.money
  const us = kitchen.session.units === 'us'
  const length = us ? mile : 1
  const by = draft.pricing?.by
  const lead = (way: By, text: string) => {
    const clean = text.trim()
    set({
      pricing:
        clean === ''
          ? undefined
          : { by: way, value: way === 'price' || way === 'hourly' ? clean.replace(',', '.') : `${clean} %` },
    })
  }
  const stands = agreed !== undefined && m?.asked.amount === agreed
  const wrong = fault('pricing.value')
  const figures: { way: By; label: string; shown: string; unit?: string; hint: string }[] = [
    { way: 'price', label: words.price2, shown: m?.asked.amount ?? '', hint: words.thePriceItself },
    {
      way: 'margin',
      label: words.margin,
      shown: percent(m?.margin),
      unit: '%',
      hint: words.profitAsAShareOf,
    },
    { way: 'markup', label: words.markup, shown: percent(m?.markup), unit: '%', hint: words.profitAsAShareOf2 },
    {
      way: 'hourly',
      label: words.payPerHour,
      shown: m?.perHour?.amount ?? '',
      hint: words.whatEachHandsOnHour,
    },
  ]
  return (
    <section className="price-tag" aria-label={words.price2}>
      <i className="tag-hole" aria-hidden="true" />
      <div className="tag-figures">
        {figures.map((f) => (
          <TagFigure
            key={f.way}
            {...f}
            leads={by === f.way}
            given={by === f.way ? draft.pricing!.value : undefined}
            wrong={by === f.way ? wrong : undefined}
            onType={(text) => lead(f.way, text)}
          />
        ))}
      </div>
      <p className="tag-more">
        {stands ? (
          <span className="soft">{words.quotedPriceItStaysEven}</span>
        ) : (
          !by && <span className="soft">{words.fromYourTargetMarginType}</span>
        )}
        {by && !stands && (
          <Button type="link" className="link" onClick={() => set({ pricing: undefined })}>
            {words.backToYourTargetMargin}
          </Button>
        )}
        {m?.listed && m.listed.amount !== m.asked.amount && (
          <span>
            {words.listPrice(kitchen.money(m.listed))}{' '}
            <Button size="small" onClick={() => lead('price', m.listed!.amount)}>
              {words.useList}
            </Button>
          </span>
        )}
        <label>
          {words.discount}{' '}
          <Blank
            label={words.discount2}
            value={draft.discount ?? ''}
            placeholder="10%"
            onChange={(e) => set({ discount: e.target.value || undefined })}
          />
        </label>
        <label>
          {words.drive}{' '}
          <InputNumber
            aria-label={us ? words.milesToDrive : words.kilometresToDrive}
            variant="underlined"
            controls={false}
            min={0}
            value={draft.distance ? Number((draft.distance / length).toFixed(1)) : null}
            placeholder="0"
            suffix={us ? words.miles : words.km}
            style={{ width: 78 }}
            onChange={(n) => set({ distance: n ? Number((n * length).toFixed(3)) : undefined })}
          />
        </label>
        <Checkbox checked={draft.cash ?? false} onChange={(e) => set({ cash: e.target.checked || undefined })}>
          {words.noCardFee}
        </Checkbox>
      </p>
      {[fault('discount'), fault('distance')].filter(Boolean).map((f) => (
        <p key={f} className="fault" role="alert">
          {f}
        </p>
      ))}
      {m && (m.discount || m.rush || m.rounded || m.tax || m.deposit) && (
        <ul className="tag-lines">
          {(m.discount || m.rush || m.rounded) && <TagLine name={words.subtotal} of={m.base} />}
          <TagLine name={words.discount} of={m.discount} />
          <TagLine name={words.rushFee} of={m.rush} />
          <TagLine name={words.rounded} of={m.rounded} />
          <TagLine name={words.tax} of={m.tax} />
          {m.tax && <TagLine name={words.toPay} of={m.gross} />}
          <TagLine name={words.deposit} of={m.deposit} />
        </ul>
      )}
    </section>
  )
}

function TagLine({ name, of }: { name: string; of?: Reckoned['money']['base'] }): ReactNode {
  const kitchen = useKitchen()
  return of ? (
    <li>
      {name} <Figure why={of.why}>{kitchen.money(of)}</Figure>
    </li>
  ) : null
}

function TagFigure(p: {
  way: By
  label: string
  shown: string
  unit?: string
  hint: string
  leads: boolean
  given?: string
  wrong?: string
  onType: (text: string) => void
}) {
  const id = useId()
  const [typed, setTyped] = useState<string>()
  const given = p.given?.endsWith('%')
    ? p.given.slice(0, -1).trim()
    : p.unit && p.given !== undefined && !Number.isNaN(Number(p.given))
      ? percent(Number(p.given))
      : p.given
  return (
    <div className={p.leads ? 'tag-figure leads' : 'tag-figure'}>
      <span>
        <label htmlFor={id}>
          {p.label}
          {p.leads && <small> {words.leads}</small>}
        </label>{' '}
        <Hint of={p.label}>{p.hint}</Hint>
      </span>
      <Input
        id={id}
        value={typed ?? given ?? p.shown}
        inputMode="decimal"
        suffix={p.unit}
        status={p.wrong ? 'error' : undefined}
        aria-invalid={Boolean(p.wrong)}
        onFocus={(e) => {
          setTyped(e.target.value)
          e.target.select()
        }} // an answer that comes late changes nothing under the caret
        onChange={(e) => {
          setTyped(e.target.value)
          p.onType(e.target.value)
        }}
        onBlur={() => setTyped(undefined)}
      />
      {p.wrong && (
        <span className="fault" role="alert">
          {p.wrong}
        </span>
      )}
    </div>
  )
}
