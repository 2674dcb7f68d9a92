import { Segmented, Select } from 'antd'
import type { Schemas } from '../api/client'
import { Field } from '../kit/Field'
import { allCountries, countryOptions, currencyOptions, zoneOptions } from '../kit/places'
import { words } from './words'

type Numbers = Schemas['AccountSettings']

/** Where the kitchen is, and how it reads clocks, dates and degrees. */
export function Readings(props: {
  k: Numbers
  set: (change: Partial<Numbers>) => void
  fault: (path: string) => string | undefined
}) {
  const { k, set, fault } = props
  const pick = (key: 'country' | 'timeZone' | 'currency', options: { value: string; label: string }[]) => (
    <Field label={words.readings[key]} fault={fault(key)}>
      <Select
        aria-label={words.readings[key]}
        showSearch={{ optionFilterProp: 'label' }}
        value={k[key] || undefined}
        options={options}
        style={{ width: '100%' }}
        onChange={(value) => set({ [key]: value })}
      />
    </Field>
  )
  const choose = <K extends 'clock' | 'dates' | 'degrees'>(
    key: K,
    options: { value: Numbers[K] & (string | number); label: string }[],
  ) => (
    <Field label={words.readings[key]} fault={fault(key)}>
      <Segmented
        value={k[key] as Numbers[K] & (string | number)}
        options={options}
        onChange={(value) => set({ [key]: value } as Partial<Numbers>)}
      />
    </Field>
  )
  return (
    <>
      {pick('country', countryOptions(allCountries))}
      {pick('timeZone', zoneOptions(k.timeZone))}
      {pick('currency', currencyOptions())}
      {choose('clock', [
        { value: 12, label: '6:30 pm' },
        { value: 24, label: '18:30' },
      ])}
      {choose('dates', [
        { value: 'mdy', label: 'month/day' },
        { value: 'dmy', label: 'day/month' },
        { value: 'ymd', label: 'year/month/day' },
      ])}
      {choose('degrees', [
        { value: 'F', label: '°F' },
        { value: 'C', label: '°C' },
      ])}
    </>
  )
}
