import { Button, Checkbox, Input, InputNumber, Segmented } from 'antd'
import type { Schemas } from '../api/client'
import { Fault, Field } from '../kit/Field'
import { words } from './words'
import './account.css'

type Terms = Schemas['PriceTerms']

const weekdays = [words.sun, words.mon, words.tue, words.wed, words.thu, words.fri, words.sat]

/** The seller's habits of pricing, and when one shops. */
export function TermsFields({
  terms,
  shopping,
  us,
  set,
  fault,
}: {
  us: boolean
  terms: Terms
  shopping: number[]
  set: (change: { terms?: Terms; shopping?: number[] }) => void
  fault: (path: string) => string | undefined
}) {
  const length = us ? 1.609344 : 1 // km in what roads are measured in
  const t = (change: Partial<Terms>) => set({ terms: { ...terms, ...change } })
  const share = (key: 'tax' | 'deposit' | 'cardShare' | 'reclaim', label: string, hint?: string) => (
    <Field label={label} fault={fault(`terms.${key}`)} help={hint}>
      <InputNumber
        value={Number((terms[key] * 100).toFixed(3))}
        min={0}
        max={100}
        controls={false}
        suffix="%"
        style={{ width: 110 }}
        onChange={(n) => t({ [key]: (n ?? 0) / 100 })}
      />
    </Field>
  )
  const money = (key: 'minimum' | 'cardFixed' | 'yearLimit', label: string, hint?: string) => (
    <Field label={label} fault={fault(`terms.${key}`)} help={hint}>
      <Input
        value={terms[key] ?? ''}
        inputMode="decimal"
        style={{ width: 110 }}
        onChange={(e) => t({ [key]: e.target.value })}
      />
    </Field>
  )
  return (
    <>
      <h2 className="terms-head">{words.howYouPrice}</h2>
      <div>
        <Field label={words.roundPricesUpTo} group>
          <Segmented<Terms['ending']>
            value={terms.ending}
            onChange={(ending) => t({ ending })}
            options={[
              { value: 'exact', label: words.asTheyCome },
              { value: '00', label: '.00' },
              { value: '50', label: '.00 or .50' },
              { value: '95', label: '.95' },
            ]}
          />
          <Checkbox checked={terms.perPiece} onChange={(e) => t({ perPiece: e.target.checked })}>
            {words.roundThePricePerPiece}
          </Checkbox>
        </Field>
        {money('minimum', words.minimumOrder)}
        <Field label={words.rushFee} group>
          <Steps
            of="rush"
            steps={terms.rush}
            label={words.surchargeStep}
            next={0.1}
            set={(rush) => t({ rush })}
            fault={fault}
          />
        </Field>
        <Field label={words.cancelFee} help={words.cancelFeeHelp} group>
          <Steps
            of="cancel"
            steps={terms.cancel ?? []}
            label={words.keptStep}
            next={0.5}
            set={(cancel) => t({ cancel })}
            fault={fault}
          />
        </Field>
        {money('yearLimit', words.yearLimit, words.yearLimitHelp)}
        {share('deposit', words.deposit)}
        <Field label={words.quotesAreValidFor} fault={fault('terms.quoteDays')}>
          <InputNumber
            value={terms.quoteDays}
            min={1}
            precision={0}
            controls={false}
            suffix={words.days}
            style={{ width: 110 }}
            onChange={(n) => t({ quoteDays: n ?? 1 })}
          />
        </Field>
      </div>
      <div>
        {share('tax', words.salesTaxWhereYouCharge, words.askYourTaxAdviserWhether)}
        <Checkbox checked={terms.taxIncluded} onChange={(e) => t({ taxIncluded: e.target.checked })}>
          {words.pricesIncludeTax}
        </Checkbox>
        <div className="pair">
          {share('cardShare', words.cardFee)}
          {money('cardFixed', words.plusAFixedFeeOf)}
        </div>
        <Field label={us ? words.deliveryCostPerMile : words.deliveryCostPerKm} fault={fault('terms.drive')}>
          <InputNumber
            value={Number((Number(terms.drive) * length).toFixed(3))}
            min={0}
            controls={false}
            style={{ width: 110 }}
            onChange={(n) => t({ drive: ((n ?? 0) / length).toFixed(4) })}
          />
        </Field>
        {share('reclaim', words.valueOfReclaimedChocolate, words.asAShareOfWhat)}
        <Field label={words.shoppingDays} help={words.noneSelectedAnyDay} group>
          <span className="pills" role="group" aria-label={words.shoppingDays}>
            {weekdays.map((name, d) => (
              <Button
                key={name}
                className="pill"
                aria-pressed={shopping.includes(d)}
                onClick={() =>
                  set({ shopping: shopping.includes(d) ? shopping.filter((x) => x !== d) : [...shopping, d].sort() })
                }
              >
                {name}
              </Button>
            ))}
          </span>
        </Field>
      </div>
    </>
  )
}

interface StepsProps {
  of: 'rush' | 'cancel'
  steps: Terms['rush']
  label: (step: number) => string // of the share
  next: number // share of a step that is added
  set: (steps: Terms['rush']) => void
  fault: (path: string) => string | undefined
}

/** Shares of the price by days of notice. */
function Steps({ of, steps, label, next, set, fault }: StepsProps) {
  const at = (i: number, change: Partial<Terms['rush'][number]>) =>
    set(steps.map((s, j) => (j === i ? { ...s, ...change } : s)))
  return (
    <>
      {steps.map((s, i) => (
        <span className="paid" key={i}>
          <InputNumber
            aria-label={(of === 'rush' ? words.daysOfNoticeStep : words.daysOfCancellingStep)(i + 1)}
            value={s.days}
            min={0}
            precision={0}
            controls={false}
            suffix={words.daysNoticeOrLess}
            style={{ width: 190 }}
            onChange={(days) => at(i, { days: days ?? 0 })}
          />
          <InputNumber
            aria-label={label(i + 1)}
            value={Number((s.share * 100).toFixed(3))}
            min={0}
            controls={false}
            suffix="%"
            style={{ width: 84 }}
            onChange={(n) => at(i, { share: (n ?? 0) / 100 })}
          />
          <Button
            type="text"
            aria-label={(of === 'rush' ? words.leaveOutStep : words.leaveOutKept)(i + 1)}
            onClick={() => set(steps.filter((_, j) => j !== i))}
          >
            ×
          </Button>
          <Fault>{fault(`terms.${of}[${i}].days`)}</Fault>
          <Fault>{fault(`terms.${of}[${i}].share`)}</Fault>
        </span>
      ))}
      <Button
        type="link"
        className="link"
        onClick={() => set([...steps, { days: (steps.at(-1)?.days ?? 1) + 2, share: next }])}
      >
        {of === 'rush' ? words.addAStep : words.addKept}
      </Button>
    </>
  )
}
