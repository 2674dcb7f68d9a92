import { useQueryClient } from '@tanstack/react-query'
import { Button, Input, Select } from 'antd'
import { type FormEvent, useState } from 'react'
import { api, ask, Refused } from '../api/client'
import { Fault, Field } from '../kit/Field'
import { allCountries, countryOptions, guessedCountry, guessedZone, zoneOptions } from '../kit/places'
import { words } from './words'
import './account.css'

/** Opens a kitchen of one's own beside those that one works in. */
export function AnotherKitchen({ first = false }: { first?: boolean }) {
  const queries = useQueryClient()
  const [open, setOpen] = useState(false)
  const [f, setF] = useState({ kitchen: '', country: guessedCountry(), timeZone: guessedZone() })
  const [refused, setRefused] = useState<Refused>()
  const [busy, setBusy] = useState(false)
  async function make(e: FormEvent) {
    e.preventDefault()
    setBusy(true)
    try {
      queries.setQueryData(['session'], await ask(api.POST('/api/v1/account/kitchens', { body: f })))
    } catch (error) {
      if (!(error instanceof Refused)) throw error
      setRefused(error)
    } finally {
      setBusy(false)
    }
  }
  if (!open) return <Button onClick={() => setOpen(true)}>{first ? words.openOne : words.openAnother}</Button>
  return (
    <form className="narrow" noValidate onSubmit={(e) => void make(e)}>
      <Field label={words.kitchenName} fault={refused?.at('kitchen')}>
        <Input
          autoFocus
          value={f.kitchen}
          maxLength={100}
          autoComplete="organization"
          onChange={(e) => setF({ ...f, kitchen: e.target.value })}
        />
      </Field>
      <Field label={words.country} fault={refused?.at('country')}>
        <Select
          aria-label={words.country}
          showSearch={{ optionFilterProp: 'label' }}
          value={f.country || undefined}
          placeholder={words.chooseYourCountry}
          options={countryOptions(allCountries)}
          onChange={(country) => setF({ ...f, country })}
        />
      </Field>
      <Field label={words.timeZone} fault={refused?.at('timeZone')}>
        <Select
          aria-label={words.timeZone}
          showSearch={{ optionFilterProp: 'label' }}
          value={f.timeZone}
          options={zoneOptions(f.timeZone)}
          onChange={(timeZone) => setF({ ...f, timeZone })}
        />
      </Field>
      <Fault>
        {refused && !['kitchen', 'country', 'timeZone'].some((k) => refused.at(k)) ? refused.message : undefined}
      </Fault>
      <Button htmlType="submit" loading={busy}>
        {words.createKitchen}
      </Button>{' '}
      <Button onClick={() => setOpen(false)}>{words.leaveIt}</Button>
    </form>
  )
}
