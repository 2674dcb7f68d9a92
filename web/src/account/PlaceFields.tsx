import { Select } from 'antd'
import type { Refused } from '../api/client'
import { Field } from '../kit/Field'
import { allCountries, countryOptions, zoneOptions } from '../kit/places'
import { words } from './words'

interface Place {
  country: string
  timeZone: string
}

/** Where a new kitchen is: it proposes units, clock, dates, law and pay. */
export function PlaceFields({
  at,
  set,
  refused,
  size,
}: {
  at: Place
  set: (change: Partial<Place>) => void
  refused?: Refused
  size?: 'large'
}) {
  return (
    <>
      <Field label={words.country} fault={refused?.at('country')}>
        <Select
          aria-label={words.country}
          size={size}
          showSearch={{ optionFilterProp: 'label' }}
          style={{ width: '100%' }}
          value={at.country || undefined}
          placeholder={words.chooseYourCountry}
          options={countryOptions(allCountries)}
          onChange={(country) => set({ country })}
        />
      </Field>
      <Field label={words.timeZone} fault={refused?.at('timeZone')}>
        <Select
          aria-label={words.timeZone}
          size={size}
          showSearch={{ optionFilterProp: 'label' }}
          style={{ width: '100%' }}
          value={at.timeZone}
          options={zoneOptions(at.timeZone)}
          onChange={(timeZone) => set({ timeZone })}
        />
      </Field>
    </>
  )
}
