import { Segmented, Select } from 'antd'
import { type ReactNode, useId } from 'react'
import type { Schemas } from '../api/client'
import { allCountries, countryOptions, currencyOptions, zoneOptions } from '../kit/places'
import { words } from './words'

type Numbers = Schemas['AccountSettings']

/** Where the kitchen is, and how it reads clocks, dates and degrees. */
export function Readings(props: {
  k: Numbers
  set: (change: Partial<Numbers>) => void
  fault: (path: string) => ReactNode
}) {
  const { k, set, fault } = props
  const ids = useId()
  const pick = (key: 'country' | 'timeZone' | 'currency', options: { value: string; label: string }[]) => (
    <label className="field">
      <span>{words.readings[key]}</span>
      <Select
        aria-label={words.readings[key]}
        showSearch={{ optionFilterProp: 'label' }}
        value={k[key] || undefined}
        options={options}
        style={{ width: '100%' }}
        onChange={(value) => set({ [key]: value })}
      />
      {fault(key)}
    </label>
  )
  const choose = <K extends 'clock' | 'dates' | 'degrees'>(
    key: K,
    options: { value: Numbers[K] & (string | number); label: string }[],
  ) => (
    <div className="field">
      <span id={`${ids}${key}`}>{words.readings[key]}</span>
      <Segmented
        aria-labelledby={`${ids}${key}`}
        value={k[key] as Numbers[K] & (string | number)}
        options={options}
        onChange={(value) => set({ [key]: value } as Partial<Numbers>)}
      />
      {fault(key)}
    </div>
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
