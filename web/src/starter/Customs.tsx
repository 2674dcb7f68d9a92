import { Button, Select } from 'antd'
import { useState } from 'react'
import { Field } from '../kit/Field'
import { allCountries, countryOptions, currencyName, currencyOptions, zoneOptions } from '../kit/places'
import type { Answers, Outset } from './Starter'
import { words } from './words'

/** The country, and what it proposes: currency, units, clock, degrees, law. Each can be changed. */
export function Customs(props: {
  a: Answers
  set: (change: Partial<Answers>) => void
  countries: Outset['countries']
  fault: (path: string) => string | undefined
}) {
  const { a, set, countries, fault } = props
  const [open, setOpen] = useState(false)
  const choose = (country: string) => {
    const c = countries.find((x) => x.country === country)
    if (!c) return set({ country }) // nothing is proposed for it
    // What was typed in another currency is no price any more.
    set({ ...c, units: c.units as Answers['units'], paid: c.currency === a.currency ? a.paid : {} } as Partial<Answers>)
  }
  const pick = <K extends 'units' | 'clock' | 'degrees' | 'law'>(key: K, names: Record<string, string>) => (
    <Field label={words[key]}>
      <Select
        aria-label={words[key]}
        value={a[key]}
        options={Object.entries(names).map(([value, label]) => ({
          value: (key === 'clock' ? Number(value) : value) as Answers[K],
          label,
        }))}
        onChange={(value) => set({ [key]: value } as Partial<Answers>)}
      />
    </Field>
  )
  return (
    <section className="customs" aria-label={words.country}>
      <label>
        <span className="soft">{words.country}</span>{' '}
        <Select
          aria-label={words.country}
          showSearch={{ optionFilterProp: 'label' }}
          value={a.country || undefined}
          placeholder={words.chooseCountry}
          popupMatchSelectWidth={false}
          options={countryOptions(allCountries)}
          onChange={choose}
        />
      </label>{' '}
      {!open && (
        <span className="soft customs-sum">
          {[
            currencyName(a.currency),
            words.unitShort[a.units],
            words.clockShort[a.clock],
            words.degreeShort[a.degrees],
            words.lawShort[a.law],
          ].join(' · ')}
        </span>
      )}{' '}
      <Button size="small" type="link" aria-expanded={open} onClick={() => setOpen(!open)}>
        {open ? words.done : words.change}
      </Button>
      {open && (
        <div className="customs-all">
          <Field label={words.currency} fault={fault('currency')}>
            <Select
              aria-label={words.currency}
              showSearch={{ optionFilterProp: 'label' }}
              value={a.currency}
              options={currencyOptions()}
              popupMatchSelectWidth={false}
              onChange={(currency) => {
                const known = countries.find((c) => c.currency === currency)
                set({ currency, paid: {}, hourly: known?.hourly ?? '0', overhead: known?.overhead ?? '0' })
              }}
            />
          </Field>
          <Field label={words.timeZone} fault={fault('timeZone')}>
            <Select
              aria-label={words.timeZone}
              showSearch={{ optionFilterProp: 'label' }}
              value={a.timeZone}
              options={zoneOptions(a.timeZone)}
              popupMatchSelectWidth={false}
              onChange={(timeZone) => set({ timeZone })}
            />
          </Field>
          {pick('units', words.unitNames)}
          {pick('clock', words.clockNames)}
          {pick('degrees', words.degreeNames)}
          {pick('law', words.lawNames)}
        </div>
      )}
    </section>
  )
}
